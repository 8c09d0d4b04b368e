"""Closed poles: drop under load, and ohms dead."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Result, act, sound, unproven, watch
from grimcoil.core.limits import reaches, within
from grimcoil.core.measured import ContactTest, OverloadPoleTest
from grimcoil.core.readings import Shown, three_digits

OPEN_POLE_V = 50.0
POLES = 3


@dataclass(frozen=True, slots=True)
class ContactResult(Result):
    """The worst pole and what it turns into heat; drops_v: of each pole that was read, V."""

    worst: str | None = None
    watts: float | None = None
    drops_v: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class PoleResult(Result):
    """The pole with most ohms."""

    worst: str | None = None
    ohm: float | None = None


def judge_contacts(test: ContactTest, criteria: Criteria) -> ContactResult:
    """Compare the poles: more than 50 % above the lowest is worth a look (NETA practice, standard, from memory)."""
    drops = {line: r.amount.value for line, r in test.readings.items() if r.amount.is_exact}
    if len(drops) < 2:
        return ContactResult(drops_v=drops, findings=(unproven("reading-missing", "Drops of two poles are needed."),))
    worst = max(drops, key=lambda line: drops[line])
    lowest = min(drops.values())
    watts = drops[worst] * test.current_a if test.current_a is not None else None
    heat = f", {watts:.1f} W of heat" if watts is not None else ""
    if drops[worst] >= OPEN_POLE_V:
        finding = act("pole-open", f"{worst} stands at {drops[worst]:g} V across its closed pole: the pole is open.")
    elif reaches(drops[worst], criteria.contact_burnt_v.value):
        finding = act("contact-drop-burnt", f"{worst} drops {drops[worst]:g} V{heat}: a burnt pole.")
    elif not within(drops[worst], lowest * (1 + criteria.contact_drop_high.value / 100)):
        text = f"{worst} drops {drops[worst]:g} V, the lowest pole {lowest:g} V{heat}: look at that contact."
        finding = watch("contact-drop-high", text)
    elif watts is not None and not within(watts, criteria.contact_watts.value):
        text = (
            f"Poles alike, but {worst} turns {watts:.0f} W into heat, above {criteria.contact_watts.value:g} W: look."
        )
        finding = watch("contact-hot", text)
    elif len(drops) < POLES:
        text = f"{len(drops)} of three poles read: the third is missing."
        finding = unproven("reading-missing", text)
    else:
        finding = sound("contact-drop-sound", f"Poles drop alike, at most {drops[worst]:g} V{heat}.")
    return ContactResult(worst=worst, watts=watts, drops_v=drops, findings=(finding,))


def judge_poles(test: OverloadPoleTest, criteria: Criteria) -> PoleResult:
    """Dead, each pole near 0 ohm and alike."""
    limit = criteria.near_zero_ohm.value
    opened = [
        line
        for line, r in test.readings.items()
        if r.shown is Shown.OVER_RANGE or r.amount.low >= criteria.open_above_ohm.value
    ]
    if opened:
        text = f"{', '.join(opened)} open: tripped, burnt off, or a loose joint."
        return PoleResult(worst=opened[0], findings=(act("pole-open", text),))
    ohms = {line: r.amount.value for line, r in test.readings.items() if r.shown is Shown.VALUE}
    if len(ohms) < max(POLES, len(test.readings)):
        return PoleResult(
            findings=(unproven("reading-missing", "Ohms of all three poles are needed; a beep is no value."),)
        )
    worst = max(ohms, key=lambda line: ohms[line])
    low, high = min(ohms.values()), ohms[worst]
    width = max(r.count or 0.0 for r in test.readings.values())
    if not within(high, limit):
        finding = act("pole-high-ohms", f"{worst} has {three_digits(high)} Ω; a closed pole is near 0.")
    elif high - low > width + low * criteria.contact_drop_high.value / 100:
        text = f"{worst} has {three_digits(high)} Ω, the lowest pole {three_digits(low)} Ω: look at its joint."
        finding = watch("poles-differ", text)
    else:
        finding = sound("poles-alike", f"Poles near 0 and alike, at most {three_digits(high)} Ω.")
    return PoleResult(worst=worst, ohm=high, findings=(finding,))
