"""What was kept: readings by place, exact figures only where they are exact."""

import pytest

from grimcoil.core.fields import INSULATION
from grimcoil.core.plan.entries import Entry, EntryKind, Kept
from grimcoil.core.readings import parse_reading
from tests.support import NOW


@pytest.mark.parametrize(("text", "figure"), [("520", 520e6), (">550", None), ("OL", None)])
def test_a_bound_is_no_figure(text, figure):
    reading = parse_reading(text, INSULATION)
    entry = Entry(1, "insulation.1-2-3.60", EntryKind.READING, text, NOW, "A", reading)
    kept = Kept((entry,), {entry.place: entry}, {})
    assert kept.reading(entry.place) is reading
    assert kept.figure(entry.place) == (None if figure is None else pytest.approx(figure))
    assert kept.reading("elsewhere.x") is kept.figure("elsewhere.x") is None
