"""What several tests show together that none shows alone: repeats, where it fails, speeds, cable, temperature."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from grimcoil.core.circuit.cable import starter_against_box
from grimcoil.core.findings import Finding, Verdict, act, sound, unproven, watch
from grimcoil.core.heat import CLASS_C, life_share
from grimcoil.core.instruments import half_width
from grimcoil.core.insulation.judge import InsulationResult
from grimcoil.core.measured import InsulationTest, ResistanceTest
from grimcoil.core.readings import Reading, Shown, three_digits
from grimcoil.core.resistance.judge import ResistanceResult
from grimcoil.core.resistance.naming import LINE_PAIRS, pair_of
from grimcoil.core.resistance.temperature import temperature_by_resistance
from grimcoil.core.subject import Subject

Ohms = tuple[ResistanceTest, ResistanceResult]
Holds = tuple[InsulationTest, InsulationResult]
SPEEDS_APART = 1.03
ALIKE = 2.0


def resistance_together(done: Sequence[Ohms], subject: Subject) -> list[Finding]:
    """Repeats, starter against motor box, the two speeds, hot against cold."""
    cold = [pair for pair in done if not pair[0].hot]
    return [
        *_repeats(cold, subject),
        *_starter_fails_box_passes(cold),
        *_cable(cold, subject),
        *_speeds(cold, subject),
        *_heat(done, subject),
    ]


def through_cable(test: Any) -> bool:
    """Read from the starter, or of the cable: what is wrong there may be a core, a lug or a splice."""
    if isinstance(test, ResistanceTest):
        return test.hookup.at in ("starter", "cable") or test.hookup.scope in ("motor+cable", "cable")
    return isinstance(test, InsulationTest) and test.scope in ("motor+cable", "cable")


def _starter_fails_box_passes(done: Sequence[Ohms]) -> list[Finding]:
    """The same pairs bad at the starter and sound at the box."""
    sound_at_box = {
        one.pairs
        for test, result in done
        if not through_cable(test)
        for one in result.sets or (result,)
        if one.verdict is Verdict.SOUND
    }
    bad = [
        one.pairs[0]
        for test, result in done
        if through_cable(test)
        for one in result.sets or (result,)
        if one.verdict is Verdict.ACT and one.pairs in sound_at_box
    ]
    if not bad:
        return []
    text = f"{', '.join(bad)} and its like: bad at the starter, sound at the motor box: a core, lug or splice."
    return [act("located-cable", text)]


def turns_unsettled(done: Mapping[str, Sequence[tuple[Any, Any]]]) -> list[Finding]:
    """A proven pattern of shorted turns asks for settled currents, or a surge test, before the motor goes back."""
    turns = any(
        finding.code == "shorted-turns" and finding.severity is not Verdict.SOUND
        for test, result in done.get("winding_resistance", ())
        if not through_cable(test)
        for finding in result.findings
    )
    amps = any(result.mean_a is not None and not result.is_open for _, result in done.get("line_current", ()))
    if not turns or amps:
        return []
    text = "The ohms look like shorted turns. Take settled currents, or import a surge test, before it goes back."
    return [watch("turns-unsettled", text)]


def _repeats(done: Sequence[Ohms], subject: Subject) -> list[Finding]:
    """The same pairs read twice the same way: they must agree within both meters' digits and their contacts."""
    if len(done) < 2:
        return []
    out = []
    scheme = subject.winding.lead_scheme
    firsts: dict[Any, tuple[Reading, ResistanceTest]] = {}
    for test, _ in done:
        for name, reading in test.readings.items():
            if reading.shown is not Shown.VALUE:
                continue
            first, before = firsts.setdefault((test.hookup, test.conditions, pair_of(name, scheme)), (reading, test))
            a = first.amount.value - before.lead_resistance_ohm
            b = reading.amount.value - test.lead_resistance_ohm
            room = half_width(first, before.meter) + half_width(reading, test.meter) + 0.02 * max(abs(a), abs(b))
            if before is not test and abs(a - b) > room:
                text = f"{name} reads {first.text} and again {reading.text}: poor contact. Take two agreeing readings."
                out.append(unproven("repeat-differs", text))
    return out


def _cable(done: Sequence[Ohms], subject: Subject) -> list[Finding]:
    by_place = {test.hookup.at: (test, result) for test, result in done}
    if "starter" not in by_place or "motor-box" not in by_place:
        return []
    ends = [_line_ends(*by_place[place]) for place in ("starter", "motor-box")]
    finding = starter_against_box(ends[0], ends[1], subject.position.cable)
    return [] if finding is None else [finding]


def _line_ends(test: ResistanceTest, result: ResistanceResult) -> dict[str, tuple[float, float]]:
    widths = {pair_of(name, "three-lead"): half_width(reading, test.meter) for name, reading in test.readings.items()}
    return {
        pair: (ohm - widths.get(pair, 0.0), ohm + widths.get(pair, 0.0))
        for pair, ohm in result.ohms.items()
        if ohm is not None and pair in LINE_PAIRS
    }


def _speeds(done: Sequence[Ohms], subject: Subject) -> list[Finding]:
    """Two separate windings, or a tapped star: the low speed has the higher ohms."""
    scheme = subject.winding.lead_scheme
    if scheme not in ("two-speed-two-winding", "two-speed-one-winding-wye"):
        return []
    low, high = _mean_of(done, "low"), _mean_of(done, "high")
    if low is None or high is None or min(low, high) <= 0:
        return []
    shown = f"Low speed {three_digits(low)} Ω, high speed {three_digits(high)} Ω"
    if low >= SPEEDS_APART * high:
        return [sound("speeds-fit", f"{shown}: the low speed has the higher ohms, as it should.")]
    return [watch("speeds-swapped", f"{shown}: the low speed should have the higher. Leads of the two speeds swapped?")]


def _mean_of(done: Sequence[Ohms], part: str) -> float | None:
    """Mean line ohms of one speed, from a test that names it or from the pairs that belong to it."""
    triples = {"low": [LINE_PAIRS], "high": [("11-12", "12-13", "13-11"), ("4-5", "5-6", "6-4")]}[part]
    for test, result in done:
        named = test.hookup.part
        for triple in [LINE_PAIRS, *triples] if named == part else triples if named is None else []:
            values = [ohm for pair in triple if (ohm := result.ohms.get(pair)) is not None]
            if len(values) == 3:
                return sum(values) / 3
    return None


def _heat(done: Sequence[Ohms], subject: Subject) -> list[Finding]:
    """The winding's own temperature by its resistance, hot against cold, the same way read."""
    out = []
    for hot, result in done:
        cold = next(
            (pair for pair in done if hot.hot and not pair[0].hot and pair[0].hookup.part == hot.hookup.part), None
        )
        if cold is None or cold[0].conditions.winding_temperature_c is None:
            continue
        shared = [p for p, ohm in result.ohms.items() if ohm and cold[1].ohms.get(p)]
        if not shared:
            continue
        warm = sum(result.ohms[p] or 0.0 for p in shared)
        cool = sum(cold[1].ohms[p] or 0.0 for p in shared)
        cold_c = cold[0].conditions.winding_temperature_c
        out.append(_heat_finding(temperature_by_resistance(warm, cool, cold_c, subject.winding.conductor), subject))
    return out


def _heat_finding(celsius: float, subject: Subject) -> Finding:
    name = subject.plate.insulation_class
    shown = f"By its resistance the winding is at {celsius:.1f} °C on average (the hot spot is hotter)"
    if name is None:
        return unproven("winding-rise", f"{shown}; the insulation class isn't on record.")
    top = CLASS_C[name]
    if celsius > top:
        share = 100 * life_share(celsius, name)
        return act("winding-hot", f"{shown}, above class {name}'s {top:g} °C: at most {share:.0f} % of the usual life.")
    return sound("winding-rise", f"{shown}; class {name} is {top:g} °C.")


def insulation_together(holds: Sequence[Holds], between: Sequence[Holds] = ()) -> list[Finding]:
    """Where it fails: cable or motor, which phase, or everywhere alike; and phase to phase."""
    return [*_cable_or_motor(holds), *_phases(holds), *_between_phases([*holds, *between])]


def _fails(result: InsulationResult) -> bool:
    return result.verdict is Verdict.ACT


def _passes(result: InsulationResult) -> bool:
    codes = {finding.code for finding in result.findings}
    return "insulation-sound" in codes and not _fails(result)


def _cable_or_motor(done: Sequence[Holds]) -> list[Finding]:
    by_scope: dict[str, list[InsulationResult]] = {}
    for test, result in done:
        if test.to_frame and test.scope is not None:
            by_scope.setdefault(test.scope, []).append(result)
    whole, motor, cable = (by_scope.get(scope, []) for scope in ("motor+cable", "motor", "cable"))
    cable_fails = any(_fails(result) for result in cable)
    if not any(_fails(result) for result in whole):
        return [act("located-cable", "The cable alone is low: the cable or its ends.")] if cable_fails else []
    if any(_fails(result) for result in motor):
        also = " and the cable too" if cable_fails else ""
        return [act("located-motor", f"Low with the cable on and low at the motor alone: the motor{also}.")]
    if motor and all(_passes(result) for result in motor):
        return [act("located-cable", "Low with the cable on, good at the motor alone: the cable or its ends.")]
    return [unproven("cable-or-motor", "Low with the cable on: lift the motor's leads and test motor and cable apart.")]


def _phases(done: Sequence[Holds]) -> list[Finding]:
    single = {
        test.ends[0]: result
        for test, result in done
        if test.to_frame and len(test.ends) == 1 and not through_cable(test)
    }
    if len(single) < 3:
        return []
    bad = [phase for phase, result in single.items() if _fails(result)]
    if len(bad) == 1 and all(_passes(result) for phase, result in single.items() if phase != bad[0]):
        return [act("located-phase", f"Only phase {bad[0]} fails to frame: the fault is in that phase.")]
    values = [r.r_1min_mohm or r.r_spot_mohm for r in single.values()]
    exact = [v.value for v in values if v is not None and v.is_exact and v.value > 0]
    if len(bad) == len(single) and len(exact) == len(single) and max(exact) <= ALIKE * min(exact):
        return [watch("located-all-low", "All phases low alike: moisture or dirt first. Clean and dry, then test.")]
    return []


def _between_phases(done: Sequence[Holds]) -> list[Finding]:
    between = [(test, result) for test, result in done if not test.to_frame and not through_cable(test)]
    bad = [result.what for _, result in between if _fails(result)]
    if not bad:
        return []
    good_to_frame = any(test.to_frame and _passes(result) for test, result in done)
    tail = ", though good to frame: end-turn or slot insulation between phases" if good_to_frame else ""
    return [
        act("phase-to-phase-low", f"Low {'; '.join(bad)}{tail}. Moisture or dirt first: clean and dry, then judge.")
    ]
