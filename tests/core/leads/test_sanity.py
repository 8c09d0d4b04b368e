"""What readings contradict by themselves, before any scheme."""

import pytest

from grimcoil.core.leads.identify import Puzzle, identify
from tests.core.leads.given import opened, value


@pytest.mark.parametrize(
    ("leads", "readings", "code"),
    [
        (tuple("ABCDEFGHIJK"), (opened(0, 1),), "no-scheme"),
        (("A", "B", "C"), (opened(0, 1), opened(1, 2), opened(0, 2)), "all-open"),
        (("A", "B", "C"), (value(0, 1, 0.0), value(1, 2, 0.0), value(0, 2, 0.01)), "all-zero"),
        (("A", "B", "C"), (value(0, 1, 1.0), value(1, 2, 1.0), opened(0, 2)), "path-broken"),
        (("A", "B", "C"), (value(0, 1, 1.0), value(1, 2, 1.0), value(0, 2, 2.6)), "triangle"),
    ],
)
def test_what_no_motor_gives_is_said_with_the_next_step(leads, readings, code):
    found = identify(Puzzle(leads, readings))
    (told,) = [c for c in found.contradictions if c.code == code]
    assert len(told.text) > 40
