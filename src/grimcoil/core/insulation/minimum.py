"""The least insulation resistance at 40 °C, and what an uncorrected value can still prove."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.amount import Amount
from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Verdict
from grimcoil.core.insulation.correction import HIGHEST_C, correction_factor


@dataclass(frozen=True, slots=True)
class Machine:
    """What the minimum depends on. winding: `random` or `form`; insulation_system: `thermosetting`/`thermoplastic`."""

    rated_voltage_v: float | None
    winding: str = "random"
    insulation_system: str = "thermosetting"
    built_year: int | None = None


def minimum_mohm(machine: Machine, criteria: Criteria) -> tuple[float, str]:
    """Least R at 40 °C after 1 minute, in MΩ, and the rule that gave it (IEEE 43-2013 Table 3)."""
    old = machine.insulation_system == "thermoplastic" or (machine.built_year or 9999) < 1970
    if old and machine.rated_voltage_v:
        return (
            machine.rated_voltage_v / 1000 + 1,
            "kV + 1, winding from before about 1970",
        )
    if machine.winding == "form" and (machine.rated_voltage_v or 0) >= 1000:
        return criteria.insulation_form_mohm.value, criteria.insulation_form_mohm.source
    return criteria.insulation_random_mohm.value, criteria.insulation_random_mohm.source


def judge(r40_mohm: Amount, least_mohm: float) -> Verdict:
    """A corrected value against the minimum; a bound that doesn't decide is unproven."""
    if r40_mohm.surely_at_least(least_mohm):
        return Verdict.SOUND
    return Verdict.ACT if r40_mohm.surely_below(least_mohm) else Verdict.UNPROVEN


def judge_uncorrected(r_mohm: Amount, least_mohm: float, insulation_system: str, ambient_c: float | None) -> Verdict:
    """A value without usable winding temperature: proven only when far to one side.

    At 20 °C or above 4 x the minimum passes; colder thermosetting 1.6 x, thermoplastic 8 x (both hold from
    10 °C up); below the minimum even at the kindest factor (85 °C) fails.
    """
    cold = 8.0 if insulation_system == "thermoplastic" else 1.6
    times = 4.0 if ambient_c is not None and ambient_c >= 20 else cold
    if r_mohm.surely_at_least(times * least_mohm):
        return Verdict.SOUND
    kindest = correction_factor(HIGHEST_C, insulation_system)
    return Verdict.ACT if r_mohm.scaled(kindest).surely_below(least_mohm) else Verdict.UNPROVEN
