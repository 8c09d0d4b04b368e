"""Panels over one axis of time: what is joined, what is only a bound, and a test to point at."""

import math
import re
from dataclasses import replace
from datetime import date
from itertools import pairwise

import pytest

from grimcoil.draw.panels import Mark, Panel, Picture, Series, Visit, panels
from tests.drawn import count, words

TODAY = date(2026, 11, 26)
DAYS = [date(year, 3, 1) for year in (2019, 2021, 2023, 2025)]


def marks(*values, runs=(1, 1, 1, 1)):
    return tuple(
        Mark(day, *(v if isinstance(v, tuple) else (v, v)), run)
        for day, v, run in zip(DAYS, values, runs, strict=False)
    )


def picture(*panels_of, **more):
    visits = tuple(Visit(day, f"#test-{i}", f"Test of {day}", ("first", "second")) for i, day in enumerate(DAYS))
    return Picture("LK-301", DAYS[0], TODAY, TODAY, panels_of, visits, (), **more)


def r40(series):
    return Panel("Insulation at 40 °C, MΩ", (Series("LK-301", series),), ((5.0, "minimum"),), log=True, tall=True)


def traces(drawn):
    return len(re.findall(r'class="trace', drawn))


@pytest.mark.parametrize(
    "series",
    [
        pytest.param(marks(900, 800, 400, 300, runs=(1, 1, 2, 2)), id="a rewind between"),
        pytest.param(marks(900, 800, (550, math.inf), 300), id="a bound between"),
    ],
)
def test_unlike_figures_are_not_joined(series):
    assert traces(panels(picture(r40(marks(900, 800, 400, 300))))) == 3
    assert traces(panels(picture(r40(series)))) < 3


def test_a_bound_is_an_arrow_and_conditions_that_differ_an_open_dot():
    drawn = panels(picture(r40((*marks(900, (550, math.inf)), Mark(DAYS[2], 400, 400, 1, odd=True)))))
    assert (count(drawn, "up"), len(re.findall(r'class="dot[^"]* odd"', drawn))) == (1, 1)


def test_each_test_is_a_link_to_its_line_and_tiles_the_picture():
    drawn = panels(picture(r40(marks(900, 800, 400, 300))))
    assert re.findall(r'href="#test-(\d)"', drawn) == ["0", "1", "2", "3"]
    assert re.findall(r'tabindex="(-?\d)"', drawn) == ["-1", "-1", "-1", "0"]
    edges = [
        (float(x), float(x) + float(w)) for x, w in re.findall(r'class="hit" x="([\d.]+)"[^>]*?width="([\d.]+)"', drawn)
    ]
    assert all(abs(a[1] - b[0]) < 0.02 for a, b in pairwise(edges))
    assert 'role="img"' not in drawn


def test_what_hardly_changes_does_not_look_like_a_fall():
    still = Panel("Change, %", (Series("1-2", marks(0, 0.1, -0.1, 0.05)),), least=(-3, 3))
    free = replace(still, least=())
    heights = [
        [float(y) for y in re.findall(r'class="dot[^"]*" cx="[\d.]+" cy="([\d.]+)"', panels(picture(one)))]
        for one in (still, free)
    ]
    spread = [max(at) - min(at) for at in heights]
    assert spread[0] < 5
    assert spread[1] > 30


def test_names_in_the_margin_never_stand_on_each_other():
    same = tuple(Series(name, marks(1, 1, 1, 1)) for name in ("1-2", "2-3", "3-1", "4-5"))
    drawn = panels(picture(Panel("Change, %", same)))
    at = sorted(float(y) for y in re.findall(r'<text x="876" y="([\d.]+)"', drawn))
    assert len(at) == 4
    assert all(b - a >= 18.9 for a, b in pairwise(at))


def test_a_cut_life_says_since_when_and_a_span_of_the_past_ends_there():
    cut = panels(picture(r40(marks(900, 800, 400, 300)), began="Built 2009"))
    assert "Built 2009" in words(cut)
    past = panels(replace(picture(r40(marks(900, 800, 400, 300))), until=date(2025, 12, 31)))
    assert 'class="nowl"' in cut
    assert 'class="nowl"' not in past


@pytest.mark.parametrize("small", [False, True])
def test_one_test_alone_and_none(small):
    alone = replace(picture(r40(marks(900))), since=DAYS[0], until=DAYS[0], visits=picture().visits[:1])
    assert panels(alone, small).count("<a ") == 1
    assert "<a " not in panels(replace(alone, visits=(), panels=()), small)
