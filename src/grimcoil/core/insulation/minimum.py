"""The least insulation resistance at 40 °C, and what an uncorrected value can still prove."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.amount import Amount
from grimcoil.core.criteria import FIELD_GENERAL, Criteria
from grimcoil.core.findings import Verdict
from grimcoil.core.insulation.correction import HIGHEST_C, LOWEST_C, correction_factor

OLD_BEFORE = 1970
WARMEST_LEFT_TO_COOL_C = 40.0


@dataclass(frozen=True, slots=True)
class Machine:
    """What the minimum depends on. winding: `random` or `form`; insulation_system: `thermosetting`/`thermoplastic`.

    own_mohm: the maker's own limit for this motor, MΩ, and where it stands; it goes before every table.
    """

    rated_voltage_v: float | None
    winding: str = "random"
    insulation_system: str = "thermosetting"
    built_year: int | None = None
    own_mohm: float | None = None
    own_source: str = ""


def minimum_mohm(machine: Machine, criteria: Criteria) -> tuple[float, str]:
    """Least R at 40 °C after 1 minute, in MΩ, and the rule that gave it (IEEE 43-2013 Table 3)."""
    if machine.own_mohm is not None:
        return machine.own_mohm, "the maker's own limit" + (f": {machine.own_source}" if machine.own_source else "")
    old = machine.insulation_system == "thermoplastic" or (machine.built_year or OLD_BEFORE) < OLD_BEFORE
    if stands_as_read(machine, criteria):
        return criteria.insulation_random_mohm.value, criteria.insulation_random_mohm.source
    if old and machine.rated_voltage_v:
        return (
            machine.rated_voltage_v / 1000 + 1,
            "kV + 1, winding from before about 1970",
        )
    if machine.winding == "form" and (machine.rated_voltage_v or 0) >= 1000:
        return criteria.insulation_form_mohm.value, criteria.insulation_form_mohm.source
    return criteria.insulation_random_mohm.value, criteria.insulation_random_mohm.source


def minimum_at_40_mohm(machine: Machine, criteria: Criteria) -> float:
    """The minimum that values at 40 °C are held against over the years, MΩ; where the criteria's own stands as read,
    the standard's (IEEE 43-2013 Table 3).
    """
    if stands_as_read(machine, criteria):
        criteria = FIELD_GENERAL
    return minimum_mohm(machine, criteria)[0]


def stands_as_read(machine: Machine, criteria: Criteria) -> bool:
    """Whether the minimum is one of a value as it was read, not corrected to 40 °C: a school's own, for windings that
    aren't form-wound for 1 kV or more. (common practice without source)
    """
    form = machine.winding == "form" and (machine.rated_voltage_v or 0) >= 1000
    return criteria.insulation_measure == "as-read" and not form


def judge(r40_mohm: Amount, least_mohm: float) -> Verdict:
    """A corrected value against the minimum; a bound that doesn't decide is unproven.

    Both in MΩ at 40 °C (computed).
    """
    if r40_mohm.surely_at_least(least_mohm):
        return Verdict.SOUND
    return Verdict.ACT if r40_mohm.surely_below(least_mohm) else Verdict.UNPROVEN


def coldest_c(winding_c: float | None, ambient_c: float | None) -> float | None:
    """The coldest the winding can believably be, °C: the air's, else 10; None where the law doesn't hold down there.

    A winding's own temperature that is on record here stands outside 10 to 85 °C.

    Common practice without source.
    """
    known = winding_c if winding_c is not None else ambient_c
    if known is None:
        return LOWEST_C
    return known if LOWEST_C <= known <= HIGHEST_C else None


def times_needed(coldest: float, insulation_system: str | None) -> float:
    """How many times the minimum an uncorrected value must reach at this temperature; the larger of both systems where
    it isn't known. (computed from IEEE 43-2013's correction)

    >>> round(times_needed(20, "thermosetting"), 3), times_needed(10, None)
    (1.312, 8.0)
    """
    systems = (insulation_system,) if insulation_system else ("thermosetting", "thermoplastic")
    return max(1 / correction_factor(coldest, system) for system in systems)


def judge_uncorrected(
    r_mohm: Amount, least_mohm: float, insulation_system: str | None, winding_c: float | None, ambient_c: float | None
) -> Verdict:
    """A value that can't be corrected: proven only where no believable temperature changes the answer.

    r_mohm, least_mohm: MΩ, the minimum at 40 °C. winding_c: given where it stands outside 10 to 85 °C. Passes at the
    coldest the winding can be; fails below the minimum at the kindest, 40 °C in a motor left to cool (the air's where
    that is hotter). Below 10 °C nothing passes, above 85 °C nothing is said. (computed; the temperatures: common
    practice without source)
    """
    known = winding_c if winding_c is not None else ambient_c
    if known is not None and known > HIGHEST_C:
        return Verdict.UNPROVEN
    kindest = max(WARMEST_LEFT_TO_COOL_C, ambient_c or 0.0)
    if kindest <= HIGHEST_C:
        best = max(correction_factor(kindest, system) for system in ("thermosetting", "thermoplastic"))
        if r_mohm.scaled(best).surely_below(least_mohm):
            return Verdict.ACT
    coldest = coldest_c(winding_c, ambient_c)
    if coldest is not None and r_mohm.surely_at_least(times_needed(coldest, insulation_system) * least_mohm):
        return Verdict.SOUND
    return Verdict.UNPROVEN
