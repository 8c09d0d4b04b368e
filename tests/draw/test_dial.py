"""A meter's knob and jacks: the hand points at the function that the words name, one word comes forward."""

import re
from math import atan2, degrees

import pytest

from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.dial import Dial, dial_of
from grimcoil.core.plan.recipes import build
from grimcoil.draw.dial import FUNCTIONS, HEIGHT, WIDTH, dial
from tests.drawn import count, named, words


@pytest.mark.parametrize("function", FUNCTIONS)
def test_the_hand_points_at_the_word_that_comes_forward(function):
    drawn = dial(Dial(function, "", "COM and V"))
    assert count(drawn, "on") == 1
    x0, y0, x1, y1 = map(float, re.search(r'class="hand" d="M(\S+) (\S+)L(\S+) (\S+)"', drawn).groups())
    x, y = map(float, re.search(r'<text x="(\S+)" y="(\S+)" class="fn on"', drawn).groups())
    assert degrees(atan2(y1 - y0, x1 - x0)) == pytest.approx(degrees(atan2(y - 5 - y0, x - x0)), abs=0.5)
    assert words(drawn)[-2:] == ["COM", "V"]


def test_every_dial_of_a_plan_is_drawn_within_its_field_and_says_its_words():
    seen = set()
    for step in build(Brief("six-lead", brake=True, taking=frozenset({"contact_drop", "as_running"}))).steps:
        for slot in step.slots:
            if (one := dial_of(step, slot)) is not None:
                drawn = dial(one)
                seen.add(one.function)
                assert named(drawn) == [f"The meter: {one.words}."]
                for x, y in re.findall(r'<text x="(\S+)" y="(\S+)"', drawn):
                    assert 0 <= float(x) <= WIDTH
                    assert 0 <= float(y) <= HEIGHT
    assert {"V~", "Ω", "MΩ", "A~"} <= seen


def test_what_no_knob_has_takes_a_place_of_its_own():
    drawn = dial(Dial("µA<", "", ""))
    assert count(drawn, "on") == 1
    assert "µA&lt;" in drawn
    assert count(drawn, "jack") == 0
