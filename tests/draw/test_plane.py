"""The fleet drawn: marks where their figures say, by properties; many motors as cells; nothing outside the picture."""

import re
import xml.etree.ElementTree as ET
from datetime import timedelta
from itertools import pairwise

import pytest

from grimcoil.draw.plane import MOST_MARKS, PHONE, WIDE, WORST, Plane, plane, said, spot, spots, strokes
from tests.core.test_fleet import TODAY, falling, motor

SVG = "{http://www.w3.org/2000/svg}"


def tree(margins, small=False, **more):
    drawn = plane(Plane(tuple(margins), TODAY, **more), "/fleet?at=", small)
    return ET.fromstring(drawn.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1))


@pytest.mark.parametrize("f", [WIDE, PHONE], ids=["wide", "phone"])
def test_more_years_stand_further_right_and_more_insulation_higher(f):
    some = [
        falling(1, 2, tag="N"),
        falling(5, 6, tag="F"),
        motor("M", 5000.0, 5000.0, fitted=True),
        motor("B", 2.0, 2.0),
    ]
    at = {one.tag: spot(f, one, Plane(tuple(some), TODAY)) for one in some}
    assert at["N"][0] < at["F"][0] < f.edge
    assert at["M"][1] < at["N"][1] < f.line < at["B"][1] < f.foot
    assert at["M"][0] > f.beside
    assert f.y(1) == f.line
    assert f.y(1e9) == pytest.approx(f.top)


@pytest.mark.parametrize("f", [WIDE, PHONE], ids=["wide", "phone"])
def test_marks_beside_the_years_stand_apart(f):
    some = [motor(f"L-{i}", 500.0, 500.0, fitted=True) for i in range(3)]
    at = sorted(spots(f, Plane(tuple(some), TODAY)).values())
    assert all(b[0] - a[0] >= 36 for a, b in pairwise(at))
    assert all(f.beside < x < f.width - 8 for x, _ in at)


@pytest.mark.parametrize("small", [False, True])
def test_every_mark_is_a_link_with_its_sentence_and_one_is_in_the_tab_order(small):
    some = [
        motor("B/1", 2.0, 2.0, verdict="act"),
        falling(1, 3, tag="F", critical=True),
        motor("U", None, verdict="unproven"),
    ]
    links = tree(some, small).findall(f".//{SVG}a")
    assert [link.get("href") for link in links] == ["/fleet?at=B%2F1", "/fleet?at=F", "/fleet?at=U"]
    assert [link.get("tabindex") for link in links] == ["0", "-1", "-1"]
    assert links[0].get("aria-label") == "B/1: below the minimum, 0.4 of it"
    assert links[1].get("aria-label").startswith("F: 10 times its minimum, used up in 1.0 to 3.0 years")


def test_an_over_range_value_is_an_arrow_and_an_open_band_goes_on():
    drawn = plane(Plane((falling(2, tag="O", high=None),), TODAY), "/")
    assert 'class="up"' in drawn
    assert "l-7-5m7 5l-7 5" in drawn
    assert "l-7-5m7 5l-7 5" not in plane(Plane((falling(2, 4),), TODAY), "/")


def test_the_next_stop_is_a_line_and_one_past_is_none():
    drawn = plane(Plane((falling(2, 4),), TODAY, TODAY + timedelta(days=366)), "/")
    assert "next stop, 25 Nov 2027" in drawn
    assert 'class="stop"' not in plane(Plane((falling(2, 4),), TODAY, TODAY - timedelta(days=1)), "/")


def test_more_than_a_picture_holds_are_cells_with_their_count_and_the_worst_stay_marks():
    many = [falling(1 + 0.02 * i, 12, tag=f"M-{i}", low=30.0 + i, high=30.0 + i) for i in range(MOST_MARKS + 140)]
    found = tree(many)
    assert len(found.findall(f".//{SVG}a")) == WORST
    counted = [int(re.match(r"\d+", one.text)[0]) for one in found.iter(f"{SVG}title")]
    assert sum(counted) == len(many) - WORST
    assert len(tree(many[:MOST_MARKS]).findall(f".//{SVG}a")) == MOST_MARKS


def test_names_never_stand_on_one_another():
    some = [falling(2 + 0.05 * i, 4, tag=f"TAG-{i}", low=50.0 + i, high=50.0 + i) for i in range(20)]
    names = [
        (float(one.get("x")), float(one.get("y")))
        for one in tree(some).iter(f"{SVG}text")
        if one.get("class") == "name"
    ]
    assert 1 < len(names) < 20
    assert len(set(names)) == len(names)


def test_a_tag_is_written_harmlessly():
    assert "<script>" not in plane(Plane((motor("<script>", 2.0, 2.0),), TODAY), "/fleet?at=")


@pytest.mark.parametrize(
    ("one", "words"),
    [
        (motor("A", None), "A: no insulation value over a minimum is on record"),
        (motor("A", high=None), "A: at least 10 times, too few tests for a line"),
        (motor("A", fitted=True, position="Kiln"), "A, Kiln: 10 times its minimum, not used up in ten years"),
        (falling(3), "A: 10 times its minimum, used up in 3.0 or more years"),
    ],
)
def test_a_motor_in_a_sentence(one, words):
    assert said(one, TODAY) == words


def test_an_area_is_a_stroke_a_motor_or_a_bar_of_shares():
    assert strokes(["act", "sound"]).count("<path") == 2
    assert strokes(["sound"] * 41).count("<rect") == 1
