"""A starter's diagram: each contact once, all inside the frame, one drawing a kind."""

import re

import pytest

from grimcoil.core.choices import Starter
from grimcoil.draw.starter import BRANCHES, HEIGHT, WIDTH, starter_diagram


@pytest.mark.parametrize("starter", Starter)
@pytest.mark.parametrize("fused", [True, False])
def test_contacts_and_frame(starter, fused):
    body = starter_diagram(starter, fused, "")
    for branch in BRANCHES[starter]:
        assert body.count(f">{branch.contact}<") == 1 or not branch.contact
    for x, y in re.findall(r'[xM](?:=")?([\d.]+)"? (?:y=")?([\d.]+)', body):
        assert 0 <= float(x) <= WIDTH
        assert 0 <= float(y) <= HEIGHT
    assert ("fuses" in body) is fused


def test_star_and_far_ends_only_where_there_are_some():
    assert "4 5 6" in starter_diagram(Starter.STAR_DELTA, True, "")
    assert "7 8 9" in starter_diagram(Starter.PART_WINDING, True, "")
    assert "star point" not in starter_diagram(Starter.DIRECT, True, "")


def test_words_of_the_overload_are_escaped():
    assert "<b>" not in starter_diagram(Starter.DIRECT, True, "<b>")
