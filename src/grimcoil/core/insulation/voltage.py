"""Which test voltage: the schools side by side, and what the one used means."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from grimcoil.core.catalogue import Standing
from grimcoil.core.findings import Finding, Verdict, sound, unproven, watch
from grimcoil.core.insulation.hold import usual_test_voltage_v
from grimcoil.core.limits import reaches, within

# Settings that testers have, V; common practice.
SETTINGS_V = (50, 100, 250, 500, 1000, 2500, 5000, 10000)


# What fails below this on a winding rated above it has failed, what passes has passed nothing; common practice.
LEAST_TO_PASS_V = 250.0
PASSED = frozenset({"insulation-sound", "field-rule-passes"})


@dataclass(frozen=True, slots=True)
class Advice:
    """Least and most direct volts by one school, with its source."""

    school: str
    low_v: float
    high_v: float
    source: str
    standing: Standing

    @property
    def words(self) -> str:
        """`500 V` or `500 to 1000 V`."""
        return f"{self.low_v:g} V" if self.low_v == self.high_v else f"{self.low_v:g} to {self.high_v:g} V"


@lru_cache(maxsize=256)
def advice(rated_voltage_v: float) -> tuple[Advice, ...]:
    """What each school would set for a rated line voltage above 0 V. Each names its source.

    >>> [(a.school, a.high_v) for a in advice(460)]
    [('ieee-43', 500), ('nearest-rated', 500), ('twice-rated', 1000), ('under-water', 1000)]
    """
    low, high = usual_test_voltage_v(rated_voltage_v)
    nearest = min(SETTINGS_V, key=lambda setting: abs(setting - rated_voltage_v))
    twice = min(SETTINGS_V, key=lambda setting: abs(setting - 2 * rated_voltage_v))
    return (
        Advice("ieee-43", low, high, "IEEE 43-2013 Table 1", Standing.STANDARD),
        Advice("nearest-rated", nearest, nearest, "the setting nearest to the rated voltage", Standing.TRADE),
        Advice("twice-rated", twice, twice, "about twice the rated voltage", Standing.TRADE),
        Advice("under-water", 1000, 1000, "1000 V for motors that must live under water", Standing.TRADE),
    )


def advised(rated_voltage_v: float, school: str) -> Advice:
    """The advice of one school. rated_voltage_v in V; volts DC. It names its source."""
    return next(one for one in advice(rated_voltage_v) if one.school == school)


def voltage_findings(volts: float | None, rated_voltage_v: float | None, school: str) -> list[Finding]:
    """The test voltage against the governing school; above IEEE 43's table it is an over-voltage test anyway.

    Both in V. Each finding names its source.
    """
    if volts is None or not rated_voltage_v:
        return []
    table, own = advised(rated_voltage_v, "ieee-43"), advised(rated_voltage_v, school)
    if volts > table.high_v * 1.05:
        text = (
            f"{volts:g} V is an over-voltage test for a {rated_voltage_v:g} V winding; {table.words} is usual. A wet"
            " or unknown winding starts low."
        )
        if own.low_v * 0.95 <= volts <= own.high_v * 1.05:
            return [sound("test-voltage-high", f"{text} {own.words} is what these criteria set: {own.source}.")]
        return [watch("test-voltage-high", text)]
    if volts < own.low_v * 0.95:
        text = f"{volts:g} V stresses a {rated_voltage_v:g} V winding little; {own.words} is set: {own.source}."
        return [watch("test-voltage-low", text)]
    return []


def passes_nothing(volts: float | None, rated_voltage_v: float | None) -> bool:
    """Whether so few volts prove nothing sound: below 250 V on a winding rated above it, or of unknown rating.

    Both in V (common practice without source).

    >>> passes_nothing(100, 460), passes_nothing(250, 460), passes_nothing(100, 230)
    (True, False, False)
    """
    if volts is None or reaches(volts, LEAST_TO_PASS_V):
        return False
    return rated_voltage_v is None or not within(rated_voltage_v, LEAST_TO_PASS_V)


def nothing_passed(findings: list[Finding], volts: float) -> list[Finding]:
    """The same findings without those that say it passed, volts in V; what failed has failed (common practice)."""
    text = f"{volts:g} V shows less than it must: it passes nothing. Test at {LEAST_TO_PASS_V:g} V or more."
    kept = [f for f in findings if not (f.code in PASSED and f.severity is Verdict.SOUND)]
    return [*kept, unproven("test-voltage-too-low", text)]
