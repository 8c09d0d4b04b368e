"""The Job page's context: gate, spine, drawing, reading line."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any
from uuid import uuid4

from grimcoil.core.errors import GateClosed, Refusal, UnclearReading
from grimcoil.core.fields import FIELDS, Field
from grimcoil.core.findings import Result, Verdict
from grimcoil.core.procedure.entries import NOT_READ, Entry
from grimcoil.core.procedure.judging import Said
from grimcoil.core.procedure.progress import StepState
from grimcoil.core.procedure.steps import ROUTINE, SLOTS, STEPS, Kind, Slot, Step
from grimcoil.core.readings import say
from grimcoil.service.bench import Bench
from grimcoil.web.views.drawing import Drawing, draw_bench, line_scales


@dataclass(frozen=True, slots=True)
class KeptRow:
    """One slot of the step shown, with what was kept."""

    place: str
    label: str
    text: str
    verdict: str | None
    seq: int | None
    live: bool


@dataclass(frozen=True, slots=True)
class SpineRow:
    """One step of the spine."""

    key: str
    number: int
    title: str
    state: str
    note: str
    verdict: str


@dataclass(frozen=True, slots=True)
class Echo:
    """What was understood and what it does; `next_` says what comes after."""

    verdict: str | None
    text: str
    next_: str = ""
    detail: str = ""
    choices: Sequence[str] = ()
    refused: bool = False


@dataclass(frozen=True)
class BenchView:
    """Everything `jobs/_bench.html` prints."""

    bench: Bench
    step: Step
    slot: Slot | None
    place: str
    token: str
    typed: str
    echo: Echo
    spine: Sequence[SpineRow]
    kept: Sequence[KeptRow]
    gate: tuple[str, str, str]
    drawing: Drawing
    scales: Sequence[str]
    changed: tuple[Entry, Said] | None
    refusal: Refusal | None = None
    stop_place: str = ""
    flags: dict[str, bool] = field(default_factory=dict)

    @property
    def field(self) -> Field | None:
        """The reading's field."""
        return FIELDS[self.slot.field] if self.slot and self.slot.field else None


def bench_view(
    bench: Bench, at: str = "", typed: str = "", refusal: Refusal | None = None, echo: Echo | None = None
) -> BenchView:
    """Build the view for the next place, or for the place or step asked for."""
    step, slot = _shown(bench, at)
    place = f"{step.key}.{slot.key}" if slot else step.key
    typed = typed or _suggested(bench, place, slot)
    scales = line_scales(bench, place, slot, typed)
    return BenchView(
        bench=bench,
        step=step,
        slot=slot,
        place=place,
        token=str(uuid4()),
        typed=typed,
        echo=echo or (_refused_echo(refusal) if refusal else resting_echo(bench, slot)),
        spine=spine(bench, step),
        kept=_kept(bench, step, slot),
        gate=gate_words(bench),
        drawing=draw_bench(bench, step, slot),
        scales=scales,
        changed=_changed(bench),
        refusal=refusal,
        stop_place=_stop_place(refusal, place, step, bench),
        flags=_flags(bench, step, slot),
    )


def _shown(bench: Bench, at: str) -> tuple[Step, Slot | None]:
    if at in SLOTS:
        step, slot = SLOTS[at]
        return step, None if at in bench.state.kept.standing else slot
    if at in STEPS and at != bench.state.step.key:
        return STEPS[at], _open_slot(bench, STEPS[at])
    return bench.state.step, bench.state.slot


def _open_slot(bench: Bench, step: Step) -> Slot | None:
    """The first slot of a step without an entry; none once the hold is over."""
    if step.key == "insulation" and bench.state.gates.short_from is not None:
        return None
    kept = bench.state.kept.standing
    return next((s for s in step.slots if f"{step.key}.{s.key}" not in kept), None)


def _suggested(bench: Bench, place: str, slot: Slot | None) -> str:
    if place == "insulation.volts":
        meter = next((m for m in bench.meters if m.function == "insulation"), None)
        return f"{meter.test_voltage_v:g}" if meter and meter.test_voltage_v else "500"
    return slot.suggest if slot else ""


def _flags(bench: Bench, step: Step, slot: Slot | None) -> dict[str, bool]:
    over = bool(slot and slot.field and FIELDS[slot.field].over_range and step.key != "instrument_check")
    return {
        "over_range": over or bool(slot and slot.key == "leads-apart"),
        "optional": bool(slot and slot.optional and slot.mark_s is None),
        "confirm": bool(slot and slot.kind is Kind.CONFIRM),
        "wordy": bool(slot and slot.kind in (Kind.WORDS, Kind.TAG)),
        "hold": bench.state.gates.voltage_is_on,
        "shorted": bench.state.discharge_left_s is not None,
        "can_skip": bool(step.slots) and not step.hard and not bench.state.gates.voltage_is_on,
        "here": step.key == bench.state.step.key,
    }


def _stop_place(refusal: Refusal | None, place: str, step: Step, bench: Bench) -> str:
    """What a typed reason would pass: the stop at this place, or the step that isn't finished."""
    if not isinstance(refusal, GateClosed) or not refusal.can_overrule:
        return ""
    return place if step.key == bench.state.step.key else bench.state.step.key


def _refused_echo(refusal: Refusal) -> Echo:
    choices = refusal.choices if isinstance(refusal, UnclearReading) else ()
    return Echo(Verdict.ACT.value, refusal.sentence(), "Nothing was kept.", choices=choices, refused=True)


def resting_echo(bench: Bench, slot: Slot | None) -> Echo:
    """What stands in the reading line before anything is typed."""
    if slot is None:
        return Echo(None, "", "")
    if bench.state.gates.voltage_is_on and slot.mark_s:
        return Echo(None, slot.ask, "Type what the tester shows at the mark, then Keep.")
    return Echo(None, slot.ask, "")


def typed_echo(bench: Bench, entry: Entry) -> Echo:
    """What an entry would do; `bench` has it included, nothing is stored."""
    said = bench.said_of(entry)
    words = entry.text
    if entry.reading is not None:
        words = say(entry.reading, FIELDS[SLOTS[entry.place][1].field]) + "."
    following = bench.state.slot
    after = f"Keep it, then: {following.label}." if following else f"Keep it, then: {bench.state.step.title}."
    if said is None:
        return Echo(None, words, after)
    first, stop, rest = said.text.partition(". ")
    return Echo(said.verdict.value, f"{words} {first}{stop.strip()}", after, rest)


def spine(bench: Bench, shown: Step) -> list[SpineRow]:
    """All steps with their state."""
    rows = []
    for step in ROUTINE:
        state = bench.state.standings[step.key]
        css = "now" if step.key == shown.key else "done" if state in (StepState.DONE, StepState.SKIPPED) else "todo"
        rows.append(
            SpineRow(step.key, step.number, step.title, css, _note(bench, step, state), _mark(bench, step, state))
        )
    return rows


def _mark(bench: Bench, step: Step, state: StepState) -> str:
    whole = bench.whole
    results: dict[str, Sequence[Result]] = {
        "winding_resistance": whole.winding_resistance,
        "insulation": whole.insulation,
        "supply_voltage": whole.supply_voltage,
        "line_current": whole.line_current,
    }
    judged = results.get(step.key, ())
    if state is StepState.SKIPPED:
        return "unproven"
    if state is not StepState.DONE:
        return ""
    if judged:
        return judged[0].verdict.value
    return "unproven" if step.key == "insulation" else "sound"


def _note(bench: Bench, step: Step, state: StepState) -> str:
    """A word at the right of the spine."""
    if state is StepState.SKIPPED:
        return "skipped" if step.key in bench.state.kept.overruled else "not needed"
    if step.key == "temperature" and (warm := bench.state.kept.standing.get("temperature.winding")):
        return f"{warm.text} °C" if "°" not in warm.text and "F" not in warm.text else warm.text
    if step.key == "prove_dead" and bench.state.gates.proved_dead_at:
        return f"{bench.state.gates.proved_dead_at:%H:%M}"
    if step.key == "insulation" and state is StepState.TO_DO:
        return "1 min"
    if step.key in ("winding_resistance", "supply_voltage", "line_current") and state is StepState.TO_DO:
        return "3 readings"
    return ""


def _kept(bench: Bench, step: Step, slot: Slot | None) -> list[KeptRow]:
    rows = []
    for each in step.slots:
        place = f"{step.key}.{each.key}"
        entry = bench.state.kept.standing.get(place)
        said = bench.said_of(entry) if entry else None
        verdict = said.verdict.value if said else "sound" if entry and entry.text != NOT_READ else None
        live = slot is not None and each.key == slot.key
        text = "done" if entry and each.kind is Kind.CONFIRM else entry.text if entry else ""
        rows.append(KeptRow(place, each.label, text, verdict, entry.seq if entry else None, live))
    return rows


def gate_words(bench: Bench) -> tuple[str, str, str]:
    """The gate in view: symbol, class, words."""
    at = bench.state.gates
    kept = bench.state.kept.standing
    if bench.state.signed:
        return "sound", "", f"Signed by {bench.job.signed_by}"
    if at.voltage_is_on:
        volts = kept["insulation.volts"].text if "insulation.volts" in kept else "Test"
        return "live", "hot", f"{volts.removesuffix('V').strip()} V DC on the winding. Stand clear."
    if at.charged:
        return "live", "hot", "Winding shorted to frame. Don't touch the leads."
    if at.energised:
        return "live", "hot", "Power is on. Live work."
    if at.proved_dead_at is not None:
        locks = ", leads floating" if "as_found.lead-3" in kept else ""
        return "locked", "sound", f"Proved dead {at.proved_dead_at:%H:%M} UTC{locks}"
    if at.dead_fault:
        return "live", "hot", "Not dead. Keep away."
    return "live", "hot", "Live until proved dead."


def _changed(bench: Bench) -> tuple[Entry, Said] | None:
    """The last entry that did something to a verdict."""
    for entry in reversed(bench.state.kept.entries):
        if not entry.taken_back and (said := bench.said_of(entry)) is not None:
            return entry, said
    return None


def base_context(bench: Bench) -> dict[str, Any]:
    """What the page round the bench needs."""
    return {"place": "job", "follow": [f for f in bench.follow if f[0] != bench.job.id], "now": bench.state.now}
