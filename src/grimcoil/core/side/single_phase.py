"""Single-phase motors: which lead is common, start and run; their capacitor by ohms, their switch, their direction."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import combinations

from grimcoil.core.findings import Finding, Result, act, sound, unproven, watch
from grimcoil.core.instruments import half_width
from grimcoil.core.limits import within
from grimcoil.core.readings import Reading, Shown, three_digits

SUM_OFF = 0.08  # of the sum of two against the third: meter, contacts, a warm winding; common practice
ALIKE = 0.05  # two windings that near each other are equal: a reversible motor; common practice
LOW_OHM, HIGH_OHM = 50.0, 1e5  # a discharged capacitor begins below, ends above; common practice
OPEN_ABOVE_OHM = 1000.0  # a kilo-ohm across a winding is as good as open; common practice
BEEPS = frozenset({Shown.BEEP, Shown.NO_BEEP})
AGAIN = " (again)"  # how a pair that a document gives twice is told from the first
# Words for the two ways round: seen at the shaft's end, or by the arrow. Common practice without source.
WAYS: Mapping[str, tuple[str, int]] = {
    word: (how, way)
    for how, way, words in (
        ("shaft end", 1, "cw, clockwise, right hand, right handed, clock wise"),
        ("shaft end", -1, "ccw, acw, counterclockwise, counter clockwise, anticlockwise, anti clockwise, left hand"),
        ("arrow", 1, "right way, right, forward, forwards, with the arrow"),
        ("arrow", -1, "wrong way, wrong, backward, backwards, reverse, reversed, against the arrow"),
    )
    for word in words.split(", ")
}


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

    Two alike are a reversible motor: either may be the start. What the meter's digits leave is carried along. Ω
    (computed; common practice without source)
    """
    ohms: dict[frozenset[str], Reading] = {}
    for name, reading in test.readings.items():
        pair = name.removesuffix(AGAIN).strip()
        ends = frozenset(part.strip() for part in pair.split("-"))
        if reading.shown is Shown.OVER_RANGE:
            text = f"{pair} is open: a winding, the switch or a protector. Which, by the pair that still reads."
            return SinglePhaseResult(findings=(act("single-phase-open", text),))
        if reading.shown is not Shown.VALUE or len(ends) != 2:
            continue
        first = ohms.setdefault(ends, reading)
        if first is not reading and first.amount != reading.amount:
            text = f"{pair} is given twice, {first.text} and {reading.text}: read it again and keep one."
            return SinglePhaseResult(findings=(unproven("reading-twice", text),))
    if unclear := [reading.text for reading in ohms.values() if not _is_winding(reading)]:
        text = f"{', '.join(unclear)}: no figure of a winding. Read a value in ohms; above 1 kΩ it is as good as open."
        return SinglePhaseResult(findings=(unproven("single-phase-unclear", text),))
    leads = sorted({lead for ends in ohms for lead in ends})
    if len(ohms) < 3 or len(leads) != 3:
        text = "Three pairs of three leads are needed to tell common, start and run."
        return SinglePhaseResult(findings=(unproven("reading-missing", text),))
    ranked = sorted((frozenset(pair) for pair in combinations(leads, 2)), key=lambda ends: ohms[ends].amount.value)
    return _by_sum([ohms[ends] for ends in ranked], ranked)


def _is_winding(reading: Reading) -> bool:
    return reading.amount.is_exact and reading.amount.value < OPEN_ABOVE_OHM


def _by_sum(read: Sequence[Reading], ranked: Sequence[frozenset[str]]) -> SinglePhaseResult:
    low, middle, high = (reading.amount.value for reading in read)
    widths = [half_width(reading, None) for reading in read]
    gap, room = abs(high - low - middle), sum(widths)
    shown = f"{three_digits(high)} Ω and the sum of {three_digits(low)} and {three_digits(middle)} Ω"
    if low <= 0 or not within(gap - room, SUM_OFF * high):
        text = f"{shown} differ: no common lead fits. Read again, with a finer meter where they are small."
        return SinglePhaseResult(findings=(unproven("single-phase-no-sum", text),))
    if not within(gap + room, SUM_OFF * high):
        text = f"{shown} agree only as far as so few digits tell. Read to a finer digit."
        return SinglePhaseResult(findings=(unproven("single-phase-no-sum", text),))
    common = next(iter(ranked[0] & ranked[1]))
    apart, digits = middle - low, widths[0] + widths[1]
    if within(apart + digits, ALIKE * middle):
        text = f"Common is {common}; both windings read alike: a reversible motor, either of them starts it."
        return SinglePhaseResult(common=common, findings=(sound("single-phase-reversible", text),))
    if within(apart - digits, ALIKE * middle):
        text = f"Common is {common}; the two windings are too near each other for so few digits. Read to a finer digit."
        return SinglePhaseResult(common=common, findings=(unproven("single-phase-unclear", text),))
    run, start = (next(iter(ends - {common})) for ends in ranked[:2])
    text = f"Common {common}, start {start} ({three_digits(middle)} Ω), run {run} ({three_digits(low)} Ω)."
    found = sound("single-phase-leads", text)
    return SinglePhaseResult(common=common, start=start, run=run, start_ohm=middle, run_ohm=low, findings=(found,))


def judge_capacitor_ohms(test: CapacitorOhmsTest) -> SideResult:
    """Rising from low to near infinite: alive; steady low: shorted; infinite at once: open. Common practice."""
    if test.start is None or test.end is None:
        return SideResult(findings=(unproven("reading-missing", "The first and the last ohms are needed."),))
    if BEEPS & {test.start.shown, test.end.shown}:
        text = "A beep, or none, is no value of a capacitor: read its ohms."
        return SideResult(findings=(unproven("beep-only", text),))
    if test.start.shown is Shown.OVER_RANGE and test.end.shown is Shown.OVER_RANGE:
        finding = act("capacitor-open", "Infinite at once: open. Discharged, and the range right? Then replace it.")
    elif _low(test.start) and _low(test.end):
        finding = act("capacitor-shorted", f"It stays at {three_digits(test.end.amount.value)} Ω: shorted.")
    elif not _high(test.start) and _high(test.end):
        finding = sound("capacitor-alive", "It rises from low to near infinite: alive. Its value by volts and amps.")
    else:
        text = "Not from low to near infinite, nor steady: discharge it, read from the first touch, wait longer."
        finding = unproven("capacitor-unclear", text)
    return SideResult(findings=(finding,))


def _high(reading: Reading) -> bool:
    return reading.shown is Shown.OVER_RANGE or reading.amount.low >= HIGH_OHM


def _low(reading: Reading) -> bool:
    return reading.shown is Shown.VALUE and reading.amount.high < LOW_OHM


def judge_centrifugal_switch(test: CentrifugalSwitchTest) -> SideResult:
    """Closed near 0 at rest, open when its weights are moved by hand. Common practice."""
    out: list[Finding] = []
    if test.reading is not None and test.reading.shown is Shown.NO_BEEP:
        out.append(unproven("beep-only", "No beep doesn't show it open: read its ohms."))
    elif test.reading is not None:
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


def way_of(word: str | None) -> tuple[str, int] | None:
    """What a word for a way round is measured by, and which of the two it is; None for a word that isn't in the list.

    >>> way_of("clockwise") == way_of("CW"), way_of("?")
    (True, None)
    """
    return WAYS.get(" ".join((word or "").casefold().replace("-", " ").split()))


def judge_rotation(test: RotationTest) -> SideResult:
    """The way round that was seen against the one that is wanted; seen uncoupled first. Common practice."""
    wanted, seen = way_of(test.wanted), way_of(test.seen)
    if wanted is None or seen is None:
        typed = ", ".join(f"“{word}”" for word, way in ((test.wanted, wanted), (test.seen, seen)) if word and not way)
        said = f" Told: {typed}." if typed else ""
        text = f"The way wanted and the way seen are both needed: cw or ccw, forward or backward.{said}"
        return SideResult(findings=(unproven("reading-missing", text),))
    if wanted[0] != seen[0]:
        text = (
            f"“{test.wanted}” and “{test.seen}” can't be compared: say both as cw or ccw, looking at the shaft's end."
        )
        return SideResult(findings=(unproven("reading-missing", text),))
    if wanted == seen:
        return SideResult(findings=(sound("rotation-right", "It turns the way that is wanted."),))
    text = "It turns the other way: exchange two lines, three-phase; the start winding's ends, single-phase."
    out = [act("rotation-wrong", text)]
    if test.coupled:
        out.append(watch("rotation-coupled", "It was tried coupled: look what turning backwards may have loosened."))
    return SideResult(findings=tuple(out))
