"""Roll the leads: supply or motor, and how surely."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.fields import CURRENT
from grimcoil.core.findings import Verdict
from grimcoil.core.lead_roll import fit_rolls, judge_lead_roll
from grimcoil.core.measured import LeadRollTest, Roll
from grimcoil.core.readings import parse_reading

LINES = ("L1", "L2", "L3")
SHIFTS = [dict(zip(LINES, order, strict=True)) for order in (("1", "2", "3"), ("2", "3", "1"), ("3", "1", "2"))]


def made(line=(0, 0, 0), lead=(0, 0, 0), drift=(0, 0, 0), mean=20.0, noise=None):
    return [
        {
            name: mean + line[i] + lead[int(shift[name]) - 1] + drift[k] + (noise[k][i] if noise is not None else 0)
            for i, name in enumerate(LINES)
        }
        for k, shift in enumerate(SHIFTS)
    ]


def judged(amps, shifts=SHIFTS, at="motor-box"):
    rolls = tuple(
        Roll(shift, {name: parse_reading(f"{value:.2f}", CURRENT) for name, value in one.items()})
        for shift, one in zip(shifts, amps, strict=False)
    )
    return judge_lead_roll(LeadRollTest(rolls, at))


effects = st.tuples(*[st.floats(-3, 3)] * 3).map(lambda e: [x - sum(e) / 3 for x in e])


@given(effects, effects, effects)
def test_effects_come_back_whatever_the_load_does(line, lead, drift):
    fit = fit_rolls(made(line, lead, drift), SHIFTS)
    assert list(fit.line_effect_a.values()) == pytest.approx(line, abs=1e-9)
    assert list(fit.lead_effect_a.values()) == pytest.approx(lead, abs=1e-9)
    assert fit.mean_a == pytest.approx(20)


@given(effects, effects)
def test_two_rolls_suffice_when_the_load_holds(line, lead):
    fit = fit_rolls(made(line, lead)[:2], SHIFTS[:2])
    assert list(fit.lead_effect_a.values()) == pytest.approx(lead, abs=1e-9)


@pytest.mark.parametrize(
    ("line", "lead", "code", "verdict"),
    [
        ((2, -1, -1), (0, 0, 0), "roll-supply", "act"),
        ((0, 0, 0), (-1, -1, 2), "roll-motor", "act"),
        ((2, -1, -1), (-1, -1, 2), "roll-both", "watch"),
        ((0.02, -0.01, -0.01), (0, 0, 0), "roll-neither", "sound"),
    ],
)
def test_what_stays_is_the_supply_and_what_travels_the_motor(line, lead, code, verdict):
    result = judged(made(line, lead))
    assert result.findings[0].code == code
    assert result.verdict.value == verdict


def test_noise_leaves_it_unproven():
    noise = [[2.0, -2.1, 0.1], [-1.5, 2.4, -1.0], [1.9, 0.3, -2.3]]
    result = judged(made(noise=noise))
    assert result.verdict is Verdict.UNPROVEN


def test_certainty_is_what_chance_leaves():
    """With scatter alone, an effect is called 90 % sure about one time in ten."""
    dice = np.random.default_rng(5)
    fits = [fit_rolls(made(noise=dice.normal(0, 1, (3, 3))), SHIFTS) for _ in range(600)]
    cried = sum(fit.lead_certainty >= 0.9 for fit in fits) / len(fits)
    assert 0.06 <= cried <= 0.14


def test_the_best_roll_is_named():
    amps = made((2, -1, -1), (-1, 2, -1))
    result = judged(amps)
    assert result.best_roll == 1 + min(range(3), key=lambda i: max(amps[i].values()) - min(amps[i].values()))
    assert str(result.best_roll) in result.findings[-1].text


def test_rolled_at_the_starter_the_cable_travels_too():
    assert "motor box" in judged(made(lead=(-1, -1, 2)), at="starter").findings[0].text
    assert "motor box" not in judged(made(lead=(-1, -1, 2))).findings[0].text


def test_a_swap_turns_the_motor():
    swapped = [SHIFTS[0], {"L1": "2", "L2": "1", "L3": "3"}]
    assert judged(made(lead=(2, -1, -1))[:2], swapped).findings[0].code == "roll-turns"


@pytest.mark.parametrize("shifts", [SHIFTS[:1], [SHIFTS[0]] * 3, [{"L1": "1"}] * 3])
def test_rolls_that_show_nothing_are_unproven(shifts):
    result = judged(made()[: len(shifts)], shifts)
    assert [f.code for f in result.findings] == ["roll-missing"]


def test_nothing_is_ever_quite_sure():
    even = {"L1": "17.0", "L2": "17.2", "L3": "23.0"}
    maps = ({"L1": "1", "L2": "2", "L3": "3"}, {"L1": "3", "L2": "1", "L3": "2"}, {"L1": "2", "L2": "3", "L3": "1"})
    rolls = tuple(Roll(m, {line: parse_reading(text, CURRENT) for line, text in even.items()}) for m in maps)
    result = judge_lead_roll(LeadRollTest(rolls, "motor-box"))
    assert result.line_certainty > 0.999
    assert "over 99 % sure" in result.findings[0].text
    assert "100 %" not in result.findings[0].text
