"""Every right connection is right, and wrong ones say what the supply will do."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.errors import Refusal
from grimcoil.core.findings import Verdict
from grimcoil.core.stator.connect import Duty, Supply, Wiring, judge_connection, right_connections
from grimcoil.core.stator.connections import CONNECTIONS, groups
from grimcoil.core.stator.rating import parse_rated
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.core.stator.volts import coil_volts, line_potentials


def judged(scheme, rated, supply, lines, joined="", **more):
    duty = Duty(more.pop("speed", None), more.pop("mode", "run"), more.pop("duty", None))
    volts = supply if isinstance(supply, tuple) else (supply,) * 3
    return judge_connection(
        scheme, parse_rated(rated), Supply(volts, **more), Wiring(groups(lines), groups(joined)), duty
    )


def codes(result):
    return [finding.code for finding in result.findings]


RATED = {
    "three-lead-wye": "400Y",
    "three-lead-delta": "400D",
    "six-lead": "400D/690Y",
    "nine-lead-wye": "230Y/460Y",
    "nine-lead-delta": "240D/480D",
    "twelve-lead": "230D/400Y/460D/796Y",
    "part-winding": "400Y",
    "two-speed-two-winding": "400Y",
    "two-speed-one-winding-delta": "400",
    "two-speed-one-winding-wye": "400Y",
}
VOLTS = {
    ("twelve-lead", "Y", "high"): 796, ("twelve-lead", "D", "high"): 460, ("twelve-lead", "Y", "low"): 400,
    ("twelve-lead", "D", "low"): 230, ("nine-lead-wye", "Y", "high"): 460, ("nine-lead-wye", "Y", "low"): 230,
    ("nine-lead-delta", "D", "high"): 480, ("nine-lead-delta", "D", "low"): 240, ("six-lead", "Y", "high"): 690,
}  # fmt: skip


@pytest.mark.parametrize("right", CONNECTIONS, ids=lambda c: f"{c.scheme}-{c.purpose}")
def test_every_connection_of_the_table_is_right_and_so_is_its_reverse(right):
    volts = VOLTS.get((right.scheme, right.letter, right.level), 400)
    for lines, sequence in ((right.lines, "forward"), (right.lines[1::-1] + right.lines[2:], "reverse")):
        result = judge_connection(
            right.scheme,
            parse_rated(RATED[right.scheme]),
            Supply((volts,) * 3),
            Wiring(lines, right.joined),
            Duty(right.speed, right.mode, right.duty),
        )
        assert codes(result) == ["right"]
        assert result.sequence == sequence
        assert right in result.right


@pytest.mark.parametrize(
    ("duty", "speed", "share"),
    [
        ("constant-torque", "low", 1 / 2),
        ("constant-torque", "high", 1 / math.sqrt(3)),
        ("constant-power", "low", 1 / math.sqrt(3)),
        ("constant-power", "high", 1 / 2),
        ("variable-torque", "low", 1 / (2 * math.sqrt(3))),
        ("variable-torque", "high", 1 / math.sqrt(3)),
    ],
)
def test_design_volts_of_consequent_poles(duty, speed, share):
    """Volts of a half-coil per line volt, by hand: delta side halved, or a star's leg (computed)."""
    scheme = "two-speed-one-winding-wye" if duty == "variable-torque" else "two-speed-one-winding-delta"
    (right,) = [c for c in CONNECTIONS if (c.scheme, c.speed, c.duty) == (scheme, speed, duty)]
    solved = coil_volts(SCHEMES[scheme], right.lines, right.joined, line_potentials((1, 1, 1)))
    assert [abs(v) for v in solved.volts] == pytest.approx([share] * 6)


@pytest.mark.parametrize(
    ("supply", "lines", "joined", "percent", "code"),
    [
        (460, "1-7 2-8 3-9", "4-5-6", 200, "over-voltage"),
        (230, "1 2 3", "4-7 5-8 6-9", 50, "under-voltage"),
        (460, "1 2 6", "4-7 5-8 3-9", 100, "reversed-coil"),
        (460, "1 2 3", "4-7 5-8", 87, "open-coil"),
    ],
)
def test_wrong_joinings_of_nine_leads(supply, lines, joined, percent, code):
    """132.8 V a half-coil by design; low on 460 gives 265.6 V, high on 230 gives 66.4 V (computed)."""
    result = judged("nine-lead-wye", "230Y/460Y", supply, lines, joined)
    assert code in codes(result)
    assert result.verdict is Verdict.ACT
    assert max(c.percent_of_design for c in result.coils) == pytest.approx(percent, abs=0.5)
    assert result.design_v == pytest.approx(132.79, abs=0.01)


def test_two_lines_joined_are_a_dead_short():
    assert codes(judged("nine-lead-wye", "230Y/460Y", 460, "1 2 3", "1-2 4-7 5-8 6-9")) == ["line-short"]
    assert codes(judged("six-lead", "400D/690Y", 400, "1-6 2-4 3-5", "4-5-6")) == ["line-short"]


def test_both_ways_round_a_delta_are_right():
    for lines in ("1-6 2-4 3-5", "1-5 2-6 3-4"):
        assert codes(judged("six-lead", "400D/690Y", 400, lines)) == ["right"]


def test_a_delta_with_one_side_turned():
    assert "reversed-coil" in codes(judged("six-lead", "400D/690Y", 400, "1-3 2-4 6-5"))


def test_two_to_one_does_not_go_with_six_leads():
    result = judged("six-lead", "230D/460Y", 460, "1 2 3", "4-5-6")
    assert "ratio-misfit" in codes(result)
    assert "115 %" in result.findings[0].text
    assert judged("six-lead", "230D/400Y", 400, "1 2 3", "4-5-6").verdict is Verdict.SOUND


def test_one_voltage_with_six_leads_is_ambiguous_until_it_says():
    assert judged("six-lead", "400", 400, "1 2 3", "4-5-6").verdict is Verdict.UNPROVEN
    assert codes(judged("six-lead", "400Y", 400, "1 2 3", "4-5-6")) == ["right"]
    assert "under-voltage" in codes(judged("six-lead", "400D", 400, "1 2 3", "4-5-6"))


def test_a_start_is_judged_as_a_start():
    assert codes(judged("six-lead", "400D", 400, "1 2 3", "4-5-6", mode="start")) == ["right"]
    assert codes(judged("part-winding", "400", 400, "1 2 3", mode="start")) == ["right"]
    assert "open-coil" in codes(judged("part-winding", "400", 400, "1 2 3"))


def test_the_idle_winding_of_two_speeds_may_be_idle_but_not_joined():
    assert codes(judged("two-speed-two-winding", "460", 460, "1 2 3", speed="low")) == ["right"]
    assert "over-voltage" in codes(judged("two-speed-two-winding", "460", 460, "1-11 2-12 3-13", speed="low"))


def test_volts_per_hertz_decide_at_another_frequency():
    same = judged("six-lead", "400D/690Y", 480, "1-6 2-4 3-5", frequency_hz=60, rated_frequency_hz=50)
    assert codes(same) == ["right"]
    high = judged("six-lead", "400D/690Y", 480, "1-6 2-4 3-5", frequency_hz=50, rated_frequency_hz=50)
    assert "over-voltage" in codes(high)


def test_an_uneven_supply_is_solved_as_it_is():
    result = judged("nine-lead-wye", "230Y/460Y", (478, 471, 482), "1 2 3", "4-7 5-8 6-9")
    assert codes(result) == ["right"]
    assert len({round(c.volts, 2) for c in result.coils}) == 3


@pytest.mark.parametrize(
    ("call", "says"),
    [
        (lambda: judged("six-lead", "400D", 400, "1 2 13", "4-5-6"), "13"),
        (lambda: judged("six-lead", "400X", 400, "1 2 3"), "400X"),
        (lambda: judged("six-lead", "400D", (480, 200, 200), "1 2 3"), "triangle"),
    ],
)
def test_refusals(call, says):
    with pytest.raises(Refusal, match=says):
        call()


def test_the_right_connection_for_a_supply():
    right = right_connections("nine-lead-wye", parse_rated("230Y/460Y"), Supply((230, 230, 230)))
    assert [(c.lines_text, c.joined_text) for c in right] == [("1-7 2-8 3-9", "4-5-6")]
    assert len(right_connections("twelve-lead", (), Supply((1, 1, 1)))) == 4


names = st.sampled_from(list(SCHEMES))


@given(names, st.data(), st.floats(50, 900))
def test_no_joining_makes_it_raise_and_no_coil_gets_more_than_the_lines_have(scheme, data, volts):
    leads = list(SCHEMES[scheme].labels)
    order = data.draw(st.permutations(leads))
    cuts = data.draw(st.lists(st.integers(0, 5), min_size=len(order), max_size=len(order)))
    boxes = [[lead for lead, cut in zip(order, cuts, strict=True) if cut == k] for k in range(5)]
    wiring = Wiring(tuple(tuple(b) for b in boxes[:3]), tuple(tuple(b) for b in boxes[3:] if b))
    result = judge_connection(scheme, parse_rated(RATED[scheme]), Supply((volts,) * 3), wiring)
    assert result.findings
    assert all(coil.volts <= volts * (1 + 1e-9) for coil in result.coils)
