"""A hold of less than a minute: what it is worth by each school, and what the minute would likely show."""

import pytest

from grimcoil.core.amount import Bound
from grimcoil.core.criteria import CRITERIA
from grimcoil.core.findings import Verdict
from grimcoil.core.insulation.curve import curve_of
from grimcoil.core.insulation.judge import judge_insulation
from grimcoil.core.insulation.spot import likely_mohm, spot_value
from grimcoil.core.measured import Hookup, InsulationTest
from grimcoil.core.subject import Cable, Position, Subject
from tests.core.insulation.given import AT_20, PLATE, RANDOM, codes, mohm
from tests.support import series


def by(criteria, *points, cable_m=None, at=None):
    position = Position(Cable(length_m=cable_m))
    subject = Subject(PLATE, RANDOM, CRITERIA[criteria], position=position)
    return judge_insulation(InsulationTest(series(*points), 500, AT_20, hookup=Hookup(at)), subject)


@pytest.mark.parametrize(
    ("points", "verdict", "at_least"),
    [
        ([(10, "50M")], Verdict.SOUND, 50),
        ([(9.9, "50M")], Verdict.UNPROVEN, None),
        ([(10, "50M"), (30, "80M")], Verdict.SOUND, 80),
        ([(10, "50M"), (30, "50M")], Verdict.SOUND, 50),
        ([(10, "50M"), (30, "40M")], Verdict.UNPROVEN, None),  # it falls
        ([(15, "50M"), (30, "40M")], Verdict.ACT, None),  # settled, and it falls
        ([(10, "6.5M")], Verdict.UNPROVEN, 6.5),  # 4.95 MΩ at 40 °C at least: doesn't decide against 5
        ([(10, ">550M")], Verdict.SOUND, 550),
        ([(10, "<4M")], Verdict.UNPROVEN, 0),  # at least of an upper bound is nothing
        ([(10, "0.05M")], Verdict.ACT, 0.05),  # near zero stands, however short
        ([(80, "50M")], Verdict.UNPROVEN, None),  # a later value may stand above that of the minute
    ],
)
def test_ten_seconds_count_as_at_least_by_their_own_school(points, verdict, at_least):
    result = by("ten-second", *points)
    assert result.verdict is verdict
    assert (None if result.r_1min_mohm is None else result.r_1min_mohm.low) == at_least
    if at_least:
        assert result.r_1min_mohm.bound is Bound.ABOVE
        counted = next(f for f in result.findings if f.code == "spot-counted")
        assert "A late breakdown isn't excluded" in counted.text
    assert result.pi is None
    assert result.dar is None


@pytest.mark.parametrize("criteria", [name for name in CRITERIA if name != "ten-second"])
def test_by_every_other_school_they_stay_unproven_and_the_minute_is_guessed(criteria):
    result = by(criteria, (10, "50M"))
    assert codes(result) == ["spot-only"] or "spot-only" in codes(result)
    assert result.verdict is Verdict.UNPROVEN
    assert "Likely then: 50 to 170 MΩ" in result.findings[-1].text
    assert result.r_1min_mohm is None


@pytest.mark.parametrize(
    ("cable_m", "at", "second", "counts"),
    [
        (99, "starter", 10, True), (100, "starter", 10, False), (100, "starter", 30, True), (250, None, 29, False),
        (250, "motor-box", 10, True),
    ],
)  # fmt: skip
def test_a_long_cable_takes_longer(cable_m, at, second, counts):
    result = by("ten-second", (second, "50M"), cable_m=cable_m, at=at)
    assert ("spot-counted" in codes(result)) == counts
    said = by("field-general", (second, "50M"), cable_m=cable_m, at=at).findings[-1].text
    assert ("hold longer" in said) == (cable_m >= 100 and at != "motor-box")


def test_the_guess_holds_the_handbooks_check_curve():
    """R_leak 2097 MΩ, n 0.684: 437.6 MΩ at 1 min (handbook, computed)."""
    at_10 = mohm([10], 2097, 0.02974, 0.684)[0]
    likely = likely_mohm(curve_of(series((10, f"{at_10}M"))))
    assert likely.low < 437.6 < likely.high
    times = [15, 20, 25, 30, 40, 50]
    five = [(t, f"{r}M") for t, r in zip(times, mohm(times, 2097, 0.02974, 0.684), strict=True)]
    assert likely_mohm(curve_of(series(*five))).value == pytest.approx(437.6, rel=0.01)
    assert likely_mohm(curve_of(series((10, ">550M")))) is None
    assert spot_value(curve_of(series((60, "5M")))) is None
