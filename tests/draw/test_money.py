"""Rewind or replace as drawings: where the lines cross, where the rule turns."""

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.decision.money import Flip
from grimcoil.draw.money import Costs, cost_chart, flip_rule, round_step


def test_lines_cross_where_the_costs_do():
    costs = Costs((100.0, 100.0, 100.0), (150.0, 110.0, 70.0), 2)
    assert costs.crossings() == [(pytest.approx(1.25), pytest.approx(100.0))]
    drawn = cost_chart(costs, 600, 300)
    assert "1.2 years" in drawn
    label = "Present cost by years in use, the energy taken now left out; after 2 years rewind 100, replace 70."
    assert f'aria-label="{label}"' in drawn
    assert Costs((1.0, 1.0), (2.0, 2.0), 1).crossings() == []


@given(st.lists(st.floats(-1e7, 1e7), min_size=2, max_size=41), st.data())
def test_every_cost_lies_within_its_chart(rewind, data):
    new = data.draw(st.lists(st.floats(-1e7, 1e7), min_size=len(rewind), max_size=len(rewind)))
    drawn = cost_chart(Costs(rewind, new, data.draw(st.integers(0, len(rewind) - 1))), 600, 300)
    lines = re.findall(r'class="way \w+" d="M([^"]+)"', drawn)
    assert len(lines) == 2
    for x, y in (point.split() for line in lines for point in line.split("L")):
        assert 0 <= float(x) <= 600
        assert 0 <= float(y) <= 300


def _at(drawn, css):
    return [float(x) for x in re.findall(rf'class="{css}" d="M([\d.]+) ', drawn)]


@pytest.mark.parametrize(("now", "at"), [(100.0, 80.0), (100.0, 130.0), (100.0, 1000.0), (0.0, 5.0)])
def test_the_pointer_and_the_turn_stand_on_their_sides(now, at):
    drawn = flip_rule(Flip("new_price", now, at), 380)
    (pointer,), (turn,) = _at(drawn, "ptr-s"), _at(drawn, "rule-flip")
    assert pointer == pytest.approx(190)
    assert (turn > pointer) == (at > now)
    assert 0 < turn < 380
    assert "rule-other" in drawn
    assert "rule-other" not in flip_rule(Flip("new_price", now, None))


def test_near_turns_look_near():
    near, far = (_at(flip_rule(Flip("new_price", 100.0, at)), "rule-flip")[0] for at in (105.0, 140.0))
    assert abs(near - 190) < abs(far - 190) / 2


@given(st.floats(1e-6, 1e9))
def test_steps_are_round(rough):
    step = round_step(rough)
    assert rough * (1 - 1e-6) <= step <= 10 * rough
