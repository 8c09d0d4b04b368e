"""What several tests show together: repeats, cable, speeds, heat, and where insulation fails."""

import pytest

from grimcoil.core.assessment import assess
from grimcoil.core.fields import WINDING
from grimcoil.core.measured import Hookup, InsulationTest, JobRecord, ResistanceTest, WindingToWindingTest
from grimcoil.core.plate import Plate
from grimcoil.core.readings import parse_reading
from grimcoil.core.subject import Cable, Conditions, Position, Subject, Winding
from tests.support import ohms, series

AT_20 = Conditions(winding_temperature_c=20)
PLATE = Plate((460,), insulation_class="F")


def found(*tests, scheme="three-lead", cable=None):
    subject = Subject(PLATE, Winding(lead_scheme=scheme), position=Position(cable or Cable()))
    whole = assess(JobRecord(subject, AT_20, tests))
    return {f.code: f.text for f in whole.together}, whole


def read(*texts, **more):
    return ResistanceTest(ohms(*texts), AT_20, **more)


def held(text, ends=("1", "2", "3"), to=("frame",), scope=None, kind=InsulationTest):
    return kind(series((60, text)), 500, AT_20, None, Hookup(scope=scope), ends, to)


def test_a_repeat_that_differs_asks_for_two_that_agree():
    codes, whole = found(read("0.840", "0.841", "0.842"), read("0.840", "0.920", "0.842"))
    assert "2-3" in codes["repeat-differs"]
    assert whole.decision.action == "test-more"
    assert found(read("0.840", "0.841", "0.842"), read("0.841", "0.840", "0.842"))[0] == {}


CABLE = Cable(size_mm2=6, length_m=40)  # 2 x 0.1232 ohm


@pytest.mark.parametrize(
    ("starter", "code", "words"),
    [
        (("1.086", "1.087", "1.086"), "cable-fits", "246 mΩ"),
        (("1.086", "1.386", "1.386"), "cable-joint-high", "conductor 3"),
        (("0.900", "0.900", "0.900"), "cable-odd", "less"),
    ],
)
def test_starter_against_motor_box(starter, code, words):
    box = read("0.840", "0.840", "0.840", hookup=Hookup(at="motor-box"))
    codes, _ = found(read(*starter, hookup=Hookup(at="starter")), box, cable=CABLE)
    assert [c for c in codes if c.startswith("cable")] == [code]
    assert words in codes[code]
    assert ("located-cable" in codes) == (code == "cable-joint-high")


@pytest.mark.parametrize(("low", "high", "code"), [("4.80", "1.20", "speeds-fit"), ("1.20", "4.80", "speeds-swapped")])
def test_the_low_speed_has_the_higher_ohms(low, high, code):
    tests = [read(*[text] * 3, hookup=Hookup(part=part)) for part, text in (("low", low), ("high", high))]
    assert code in found(*tests, scheme="two-speed-two-winding")[0]


def test_speeds_are_found_by_their_pairs_too():
    pairs = {p: parse_reading("1.20", WINDING) for p in ("11-12", "12-13", "13-11")}
    both = ResistanceTest({**ohms("4.80", "4.80", "4.80"), **pairs}, AT_20)
    assert "speeds-fit" in found(both, scheme="two-speed-two-winding")[0]


@pytest.mark.parametrize(
    ("hot", "code", "words"), [("1.489", "winding-rise", "103.8"), ("1.900", "winding-hot", "life")]
)
def test_hot_against_cold_gives_the_windings_temperature(hot, code, words):
    """1.489/1.120 x (234.5 + 20) - 234.5 = 103.8 °C (computed)."""
    codes, _ = found(read("1.120", "1.120", "1.120"), read(hot, hot, hot, hot=True))
    assert words in codes[code]


def test_low_with_the_cable_on_is_split():
    low, good = held("0.5", scope="motor+cable"), held("500", scope="motor")
    assert "lift" in found(low)[0]["cable-or-motor"]
    assert found(low)[1].decision.action == "test-more"
    codes, whole = found(low, good)
    assert "located-cable" in codes
    assert whole.decision.action == "repair-on-site"
    assert "cable too" in found(low, held("0.6", scope="motor"), held("0.9", scope="cable"))[0]["located-motor"]


def test_one_phase_that_fails_is_named_and_all_alike_are_damp():
    def phases(*texts):
        others = {"1": ("2", "3"), "2": ("1", "3"), "3": ("1", "2")}
        return [held(t, (i,), ("frame", *others[i])) for i, t in zip("123", texts, strict=True)]

    assert "phase 2" in found(*phases("800", "0.9", "790"), scheme="six-lead")[0]["located-phase"]
    codes, whole = found(*phases("1.9", "2.0", "2.2"), scheme="six-lead")
    assert list(codes) == ["located-all-low"]
    assert whole.decision.action == "clean-dry"


def test_good_to_frame_and_bad_between_phases():
    codes, whole = found(held("800"), held("0.4", ("1",), ("2",)), scheme="six-lead")
    assert "end-turn" in codes["phase-to-phase-low"]
    assert whole.decision.action == "clean-dry"


def test_a_path_between_two_windings_condemns():
    between = held("0.02", ("1", "2", "3"), ("11", "12", "13"), kind=WindingToWindingTest)
    _, whole = found(held("800"), between, scheme="two-speed-two-winding")
    assert whole.decision.action == "replace"
    damp = held("2", ("1", "2", "3"), ("11", "12", "13"), kind=WindingToWindingTest)
    assert found(held("800"), damp, scheme="two-speed-two-winding")[1].decision.action == "clean-dry"
    read_through = ResistanceTest({"1-11": parse_reading("4.1", WINDING)}, AT_20)
    assert found(read_through, scheme="two-speed-two-winding")[1].decision.action == "replace"
    apart = held("900", ("1", "2", "3"), ("11", "12", "13"), kind=WindingToWindingTest)
    result = found(apart, scheme="two-speed-two-winding")[1].by_kind["winding_to_winding"][0]
    assert result.findings[0].code == "windings-apart"
