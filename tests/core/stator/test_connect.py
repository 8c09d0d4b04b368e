"""Every right connection is right, and wrong ones say what the supply will do."""

import math
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.errors import Refusal
from grimcoil.core.findings import Verdict
from grimcoil.core.stator.connect import Supply, Wiring, judge_connection, right_connections
from grimcoil.core.stator.rating import parse_rated
from grimcoil.core.stator.schemes import SCHEMES
from tests.core.stator.given import RATED, codes, judged


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


@pytest.mark.parametrize(
    ("scheme", "rated", "lines", "joined", "more", "closed", "times"),
    [
        ("two-speed-two-winding", "460", "1 2 3", "11-12-13", {"speed": "low"}, "11 12 13", 6.0),
        ("two-speed-two-winding", "460", "1 2 3", "11-12", {"speed": "low"}, "11 12", 3 * math.sqrt(3)),
        ("two-speed-two-winding", "460", "11 12 13", "1-3", {"speed": "high"}, "1 3", 3 * math.sqrt(3)),
        ("part-winding", "460Y", "1 2 3", "7-8-9", {"mode": "start"}, "7-10 8-11 9-12", 6.0),
        ("part-winding", "460Y", "1 2 3", "8-9", {"mode": "start"}, "8-11 9-12", 3 * math.sqrt(3)),
        ("twelve-lead", "400Y", "1 2 3", "4-5-6 7-10 8-11 9-12", {}, "7-10 8-11 9-12", 12.0),
        ("twelve-lead", "400Y", "1 2 3", "4-5-6 7-10", {}, "7-10", 12.0),
    ],
)
def test_a_winding_closed_on_itself_in_the_field_burns(scheme, rated, lines, joined, more, closed, times):
    """By hand: star points joined short each coil by its own volts, two coils by half of the line's; short-circuit
    current six times rated at the design's volts; a half winding fed in high star where low star is meant, twice that.
    """
    result = judged(scheme, rated, float(re.match(r"\d+", rated)[0]), lines, joined, **more)
    assert codes(result)[-1] == "closed-idle-winding" or "closed-idle-winding" in codes(result)
    assert result.verdict is Verdict.ACT
    assert "open-coil" not in codes(result) or scheme == "twelve-lead"
    found = {c.coil: c.times_rated for c in result.coils if c.times_rated is not None}
    assert list(found) == closed.split()
    assert max(found.values()) == pytest.approx(times, rel=1e-6)
    assert not any(c.fed for c in result.coils if c.coil in found)


def test_a_single_closed_coil_is_not_called_left_without_current():
    result = judged("twelve-lead", "400Y", 400, "1 2 3", "4-5-6 7-10 8-11 9-12")
    (finding,) = [f for f in result.findings if f.code == "closed-idle-winding"]
    assert "7-10, 8-11, 9-12" in finding.text
    assert "open-coil" not in codes(result)


def test_a_low_supply_on_a_higher_joining_says_what_it_does():
    result = judged("nine-lead-wye", "230Y/460Y", 208, "1-7 2-8 3-9", "4-5-6")
    assert (codes(result), result.verdict) == (["right", "under-voltage"], Verdict.WATCH)
    assert "208 V on the joining for 230 V: torque about 82 %, current about 11 % more" in result.findings[1].text
    assert codes(judged("nine-lead-wye", "230Y/460Y", 437, "1 2 3", "4-7 5-8 6-9")) == ["right"]


def test_a_direct_start_in_delta_is_a_start():
    result = judged("six-lead", "400D", 400, "1-6 2-4 3-5", mode="start")
    assert (codes(result), result.verdict) == (["right"], Verdict.SOUND)
    assert "Direct start" in result.findings[0].text
    assert "over-voltage" in codes(judged("six-lead", "230D/400Y", 400, "1-6 2-4 3-5", mode="start"))


def test_a_plate_that_does_not_fit_is_open_not_right():
    result = judged("six-lead", "230D/460Y", 460, "1 2 3", "4-5-6")
    assert (codes(result), result.verdict) == (["ratio-misfit"], Verdict.UNPROVEN)
    assert "115 %" in result.findings[0].text


def test_volts_per_hertz_decide_at_another_frequency():
    same = judged("six-lead", "400D/690Y", 480, "1-6 2-4 3-5", frequency_hz=60, rated_frequency_hz=50)
    assert codes(same) == ["right"]
    high = judged("six-lead", "400D/690Y", 480, "1-6 2-4 3-5", frequency_hz=50, rated_frequency_hz=50)
    assert "over-voltage" in codes(high)


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
