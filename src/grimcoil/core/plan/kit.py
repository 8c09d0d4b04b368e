"""What is carried to the motor, or to all motors of a stop: instruments, and locks. (common practice without source)"""

from __future__ import annotations

from collections.abc import Iterable

from grimcoil.core.decision.needs import NeedKind
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.parts import aside

OHMMETER, TESTER = "low-ohm meter", "insulation tester"


def bring(brief: Brief) -> tuple[str, ...]:
    """Instruments, with what they have to show on this motor."""
    return bring_for([brief])


def bring_for(briefs: Iterable[Brief]) -> tuple[str, ...]:
    """Instruments for several motors: one of a kind, that has to show the finest last digit (ohm) and to give every
    test voltage (V DC) that one of them asks.

    >>> bring_for([Brief("six-lead", test_voltage_v=500.0), Brief("six-lead", test_voltage_v=1000.0)])[2]
    'insulation tester, 500 and 1000 V'
    """
    all_of = list(briefs)
    ohms = [brief.resolution_ohm for brief in all_of if brief.needed(NeedKind.OHMS)]
    held = [brief for brief in all_of if brief.needed(NeedKind.FRAME) and not brief.ohmmeter_only]
    out = ["voltage tester and a known live source"]
    if ohms:
        out.append(_ohmmeter(min((one for one in ohms if one is not None), default=None)))
    if held:
        volts = sorted({brief.test_voltage_v for brief in held if brief.test_voltage_v})
        out.append(f"{TESTER}, {_joined([f'{one:g}' for one in volts])} V" if volts else TESTER)
        out.append("strap to short the winding to the frame")
    if any(aside.surge(brief) for brief in all_of):
        out.append("surge tester")
    out.append("thermometer")
    if any(brief.needed(NeedKind.VOLTS) for brief in all_of):
        out.append("voltmeter")
        if any(brief.needed(NeedKind.AMPS) or brief.needed(NeedKind.NO_LOAD) for brief in all_of):
            out.append("clamp meter")
    return tuple(out)


def _joined(words: list[str]) -> str:
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)


def _ohmmeter(resolution_ohm: float | None) -> str:
    if resolution_ohm is None:
        return OHMMETER
    milli = resolution_ohm * 1000
    return f"{OHMMETER} reading to {milli:.2g} mΩ" if milli < 1000 else "ohmmeter"


def locks(brief: Brief) -> int:
    """How many locks it takes: one for each source of energy, a held load secured among them."""
    return len(brief.sources)
