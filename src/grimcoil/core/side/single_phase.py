"""Single-phase motors: which lead is common, start and run; their capacitor by ohms, their switch, their direction."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import combinations

from grimcoil.core.findings import Finding, Result, act, sound, unproven, watch
from grimcoil.core.readings import Reading, Shown, three_digits

SUM_OFF = 0.08  # of the sum of two against the third: meter, contacts, a warm winding; common practice
ALIKE = 0.05  # two windings that near each other are equal: a reversible motor; common practice
LOW_OHM, HIGH_OHM = 50.0, 1e5  # a discharged capacitor begins below, ends above; common practice


@dataclass(frozen=True, slots=True)
class SinglePhaseTest:
    """Ohms between three leads, by pair (`A-B`)."""

    readings: Mapping[str, Reading] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class CapacitorOhmsTest:
    """Ohms of a discharged capacitor: at first touch and after some seconds."""

    start: Reading | None = None
    end: Reading | None = None


@dataclass(frozen=True, slots=True)
class CentrifugalSwitchTest:
    """Ohms through it at rest; whether it opens when its weights are moved by hand."""

    reading: Reading | None = None
    opens: bool | None = None


@dataclass(frozen=True, slots=True)
class RotationTest:
    """The way round that is wanted and the one that was seen (`cw`, `ccw`); coupled: the load hung on it."""

    wanted: str | None = None
    seen: str | None = None
    coupled: bool | None = None


@dataclass(frozen=True, slots=True)
class SinglePhaseResult(Result):
    """Leads by what they are; ohms of the windings. None where the readings don't tell."""

    common: str | None = None
    start: str | None = None
    run: str | None = None
    start_ohm: float | None = None
    run_ohm: float | None = None


@dataclass(frozen=True, slots=True)
class SideResult(Result):
    """A side sheet that has findings and no figures of its own."""


def judge_single_phase(test: SinglePhaseTest) -> SinglePhaseResult:
    """The largest is start to run, the sum of the other two; the smaller of those is common to run.

    Two alike are a reversible motor: either may be the start. (computed; common practice without source)
    """
    ohms: dict[frozenset[str], float] = {}
    for pair, reading in test.readings.items():
        ends = frozenset(part.strip() for part in pair.split("-"))
        if reading.shown is Shown.OVER_RANGE:
            text = f"{pair} is open: a winding, the switch or a protector. Which, by the pair that still reads."
            return SinglePhaseResult(findings=(act("single-phase-open", text),))
        if reading.shown is Shown.VALUE and len(ends) == 2:
            ohms[ends] = reading.amount.value
    leads = sorted({lead for ends in ohms for lead in ends})
    if len(ohms) < 3 or len(leads) != 3:
        text = "Three pairs of three leads are needed to tell common, start and run."
        return SinglePhaseResult(findings=(unproven("reading-missing", text),))
    ranked = sorted((frozenset(pair) for pair in combinations(leads, 2)), key=lambda ends: ohms[ends])
    low, middle, high = (ohms[ends] for ends in ranked)
    if low <= 0 or abs(high - low - middle) > SUM_OFF * high:
        text = (
            f"{three_digits(high)} Ω isn't the sum of {three_digits(low)} and {three_digits(middle)} Ω:"
            " no common lead fits. Read again, with a finer meter where they are small."
        )
        return SinglePhaseResult(findings=(unproven("single-phase-no-sum", text),))
    common = next(iter(ranked[0] & ranked[1]))
    if middle - low <= ALIKE * middle:
        text = f"Common is {common}; both windings read alike: a reversible motor, either of them starts it."
        return SinglePhaseResult(common=common, findings=(sound("single-phase-reversible", text),))
    run, start = (next(iter(ends - {common})) for ends in ranked[:2])
    text = f"Common {common}, start {start} ({three_digits(middle)} Ω), run {run} ({three_digits(low)} Ω)."
    found = sound("single-phase-leads", text)
    return SinglePhaseResult(common=common, start=start, run=run, start_ohm=middle, run_ohm=low, findings=(found,))


def judge_capacitor_ohms(test: CapacitorOhmsTest) -> SideResult:
    """Rising from low to near infinite: alive; steady low: shorted; infinite at once: open. Common practice."""
    if test.start is None or test.end is None:
        return SideResult(findings=(unproven("reading-missing", "The first and the last ohms are needed."),))
    begins_high, ends_high = _high(test.start), _high(test.end)
    if begins_high:
        finding = act("capacitor-open", "Infinite at once: open. Discharged, and the range right? Then replace it.")
    elif ends_high:
        finding = sound("capacitor-alive", "It rises from low to near infinite: alive. Its value by volts and amps.")
    elif test.start.amount.value < LOW_OHM and test.end.amount.value < LOW_OHM:
        finding = act("capacitor-shorted", f"It stays at {three_digits(test.end.amount.value)} Ω: shorted.")
    else:
        text = "Neither rising to near infinite nor steady near 0: wait longer, or it leaks; by volts and amps then."
        finding = unproven("capacitor-unclear", text)
    return SideResult(findings=(finding,))


def _high(reading: Reading) -> bool:
    return reading.shown is Shown.OVER_RANGE or reading.amount.low >= HIGH_OHM


def judge_centrifugal_switch(test: CentrifugalSwitchTest) -> SideResult:
    """Closed near 0 at rest, open when its weights are moved by hand. Common practice."""
    out: list[Finding] = []
    if test.reading is not None:
        closed = test.reading.shown is Shown.BEEP or (
            test.reading.shown is Shown.VALUE and test.reading.amount.high <= 1.0
        )
        if closed:
            out.append(sound("switch-closed", "The switch is closed at rest."))
        else:
            out.append(act("switch-open", "The switch doesn't close at rest: clean or replace its contacts."))
    if test.opens is False:
        out.append(act("switch-stuck", "The switch doesn't open by hand: the start winding would stay on and burn."))
    elif test.opens:
        out.append(sound("switch-opens", "It opens by hand."))
    if test.opens is None or test.reading is None:
        out.append(unproven("reading-missing", "Ohms at rest and whether it opens by hand are both needed."))
    return SideResult(findings=tuple(out))


def judge_rotation(test: RotationTest) -> SideResult:
    """The way round that was seen against the one that is wanted; seen uncoupled first. Common practice."""
    if test.wanted is None or test.seen is None:
        return SideResult(findings=(unproven("reading-missing", "The way wanted and the way seen are both needed."),))
    if test.wanted == test.seen:
        return SideResult(findings=(sound("rotation-right", "It turns the way that is wanted."),))
    text = "It turns the other way: exchange two lines, three-phase; the start winding's ends, single-phase."
    out = [act("rotation-wrong", text)]
    if test.coupled:
        out.append(watch("rotation-coupled", "It was tried coupled: look what turning backwards may have loosened."))
    return SideResult(findings=tuple(out))
