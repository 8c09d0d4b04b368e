"""Leads joined in the box, and the coils drawn to the volts they get."""

import cmath
import math

import pytest

from grimcoil.draw.joints import Leg, coil_diagram, one_colour, placed, splice_bundle, stud_block
from tests.drawn import count, named, words

LINES = tuple(277 * cmath.exp(-2j * math.pi * i / 3) for i in range(3))
STAR = tuple(Leg(f"{i + 1}-{i + 4}", LINES[i], 0, "ok", "277 V") for i in range(3))


def test_a_star_is_drawn_as_one_with_the_volts_of_each_coil():
    drawn = coil_diagram(STAR, LINES, 277.0, ("brown", "black", "grey"), "Star, 277 V a coil")
    assert named(drawn) == ["Star, 277 V a coil"]
    assert words(drawn).count("277 V") == 3
    assert {"1-4", "2-5", "3-6", "L1", "L2", "L3"} <= set(words(drawn))
    assert count(drawn, "leg-ok") == 6  # wire and coil of each


def test_a_coil_without_volts_is_a_point():
    shorted = (*STAR[:2], Leg("3-6", LINES[2], LINES[2], "act", "0 V"))
    drawn = coil_diagram(shorted, LINES, 277.0, (), "one shorted")
    assert count(drawn, "leg-act") == 0
    assert count(drawn, "jt") == 1


def test_studs_in_two_rows_and_bars_where_they_are_joined():
    rows = (("1 U1", "2 V1", "3 W1"), ("6 W2", "4 U2", "5 V2"))
    star = (("1", "L1"), ("2", "L2"), ("3", "L3"), ("4", "a"), ("5", "a"), ("6", "a"))
    drawn = stud_block(rows, star, ("brown", "black", "grey"), "star")
    assert count(drawn, "bar-link") == 2
    open_ = stud_block(rows, tuple((str(i), "") for i in range(1, 7)), (), "open")
    assert count(open_, "bar-link") == 0
    assert "L1" not in words(open_)


def test_splices_and_the_print_in_one_colour():
    drawn = splice_bundle((("L1", ("1", "7")), ("a", ("4", "5", "6"))), (), "spliced")
    assert {"1", "7", "4", "5", "6"} <= set(words(drawn))
    assert "<style>" in one_colour(drawn)
    assert 'x="10"' in placed(drawn, 10, 20, 300, 200)


@pytest.mark.parametrize("typed", ["<script>", '"onload="x'])
def test_names_are_words(typed):
    drawn = coil_diagram((Leg(typed, LINES[0], 0, "ok", typed),), LINES, 277.0, (typed,), typed)
    assert named(drawn) == [typed]
    assert "<script>" not in drawn
