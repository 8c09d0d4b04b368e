"""Parts put in or set: each limit from both sides, what is missing, what can't be."""

import pytest

from grimcoil.core.side.parts import (
    CLEANED_WITH,
    OPENED,
    BrakeGapTest,
    BrushHoldersTest,
    CapacitorReplacedTest,
    OverhaulTest,
    judge_brake_gap,
    judge_brush_holders,
    judge_capacitor_replaced,
    judge_overhaul,
)

WHOLE = dict.fromkeys(OPENED, "ok")


@pytest.mark.parametrize(
    ("given", "verdict", "codes"),
    [
        ((35, 35, 370, 370), "sound", {"capacitor-same"}),
        ((50, 53, 370, 440), "sound", {"capacitor-same"}),  # exactly 6 %
        ((50, 53.01, 370, 440), "act", {"capacitor-not-same"}),
        ((50, 46.99, 370, 440), "act", {"capacitor-not-same"}),
        ((35, 35, 370, 369), "act", {"capacitor-volts-low"}),
        ((35, 70, 370, 250), "act", {"capacitor-not-same", "capacitor-volts-low"}),
        ((35, 35, 370, None), "unproven", {"reading-missing"}),
        ((35, 35e6, 370, 370), "unproven", {"size-absurd"}),
    ],
)
def test_a_capacitor_replaced(given, verdict, codes):
    result = judge_capacitor_replaced(CapacitorReplacedTest(*given))
    assert (result.verdict, {one.code for one in result.findings}) == (verdict, codes)


@pytest.mark.parametrize(
    ("given", "verdict", "codes"),
    [
        ((0.6, 1.0, None, None), "sound", {"brake-gap-fits"}),
        ((0.9, 1.0, None, None), "sound", {"brake-gap-fits"}),
        ((1.0, 1.0, None, None), "watch", {"brake-gap-near"}),
        ((1.01, 1.0, None, None), "act", {"brake-gap-wide"}),
        ((None, None, 85, 100), "sound", {"brake-lifts"}),
        ((None, None, 85.1, 100), "act", {"brake-lifts-late"}),
        ((0.3, 1.0, 195, 205), "act", {"brake-gap-fits", "brake-lifts-late"}),
        ((0.3, None, 195, None), "unproven", {"reading-missing"}),
        ((30, 1.0, None, None), "unproven", {"size-absurd"}),
        ((None, None, 4, 24), "unproven", {"size-absurd"}),
    ],
)
def test_a_brakes_gap_and_lift(given, verdict, codes):
    result = judge_brake_gap(BrakeGapTest(*given))
    assert (result.verdict, {one.code for one in result.findings}) == (verdict, codes)


@pytest.mark.parametrize(
    ("parts", "by", "verdict"),
    [
        (WHOLE, None, "sound"),
        (WHOLE, "vacuum", "sound"),
        (WHOLE, "compressed air", "watch"),
        (WHOLE, "solvent", "act"),
        (WHOLE, "petrol", "act"),
        (WHOLE | {"seals": "bad"}, "vacuum", "act"),
        ({}, None, "unproven"),
        ({name: "ok" for name in OPENED if name != "reassembled"}, "vacuum", "unproven"),
    ],
)
def test_an_opened_motor(parts, by, verdict):
    assert judge_overhaul(OverhaulTest(parts, by)).verdict == verdict


def test_each_cleaner_that_harms_says_what_then():
    assert all(does for severity, does in CLEANED_WITH.values() if severity != "sound")


@pytest.mark.parametrize(("mm", "verdict"), [(1.5, "sound"), (3.0, "sound"), (1.49, "watch"), (3.01, "watch")])
def test_a_holders_distance(mm, verdict):
    assert judge_brush_holders(BrushHoldersTest(True, True, True, True, mm)).verdict == verdict


def test_a_holder_that_sits_wrong_says_its_cure_and_what_is_not_said_stays_open():
    result = judge_brush_holders(BrushHoldersTest(True, True, False, True, 2.0))
    assert (result.verdict, len(result.findings)) == ("watch", 1)
    assert "spring" in result.findings[0].text
    result = judge_brush_holders(BrushHoldersTest(square=True))
    assert result.verdict == "unproven"
    assert "firm, free, bevel, distance" in result.findings[0].text
