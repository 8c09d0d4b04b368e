"""`grimcoil-plan/1` as it is printed: what is to do on a motor, from what its job document knows so far."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Any

from grimcoil.core.assessment import Assessment, assess, kind_of
from grimcoil.core.choices import School
from grimcoil.core.findings import Verdict
from grimcoil.core.measured import JobRecord
from grimcoil.core.plan.brief import Brief, brief_of
from grimcoil.core.plan.growth import AGAIN, Known, grow
from grimcoil.core.plan.parts.dead import speed_of
from grimcoil.core.plan.progress import stops_of
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.record import BUILDERS
from grimcoil.core.plan.steps import Circuit, Input, Plan, Slot, Step
from grimcoil.core.points import groups_of
from grimcoil.core.resistance.naming import pair_of
from grimcoil.exchange.jobs import to_record, validated
from grimcoil.exchange.plans import FORMAT
from grimcoil.exchange.strict import load_json

QUANTITY = {
    "winding": "ohms", "low_ohm": "ohms", "insulation": "insulation", "voltage": "volts-ac",
    "dead_voltage": "volts-ac", "current": "amps",
    "drop": "volts-ac", "temperature": "celsius", "humidity": "percent", "length": "millimetres",
    "frequency": "hertz", "capacitance": "microfarads", "share": "percent",
    "duration": "seconds", "an_hour": "per-hour", "speed": "r/min",
}  # fmt: skip
# Steps without a key test of their own: what a document knows of them it doesn't say.
ENDS = ("decision", "sign")
DIRECT = "volt-dc"


def planned(text: str | bytes) -> dict[str, Any]:
    """The plan of one `grimcoil-job/1`, with what is done and what is next. Raises RecordRefusal."""
    job = validated(load_json(text))
    return plan_of(to_record(job, {}), job.school)


def plan_of(record: JobRecord, school: School | None) -> dict[str, Any]:
    """The same of a record. Two thirds of it is judging the tests on record."""
    whole = assess(record)
    brief = brief_of(record.subject, record.occasion, school, wishes=record.wishes)
    plan = grow(build(brief), Known(brief, whole, record))
    stops = stops_of(plan, whole.stands)
    states = _states(plan, record, whole, stops)
    return {
        "format": FORMAT,
        "plan_version": plan.version,
        "occasion": str(plan.recipe),
        "school": str(plan.school),
        "bring": list(plan.bring),
        "left_out": [{"step": one.step, "why": one.why, "stays_unproven": one.stays_unproven} for one in plan.left_out],
        "steps": [
            _step(step, state, stops.get(step.key, "") if state == "stopped" else step.because, whole, brief)
            for step, state in zip(plan.steps, states, strict=True)
        ],
    }


def _states(plan: Plan, record: JobRecord, whole: Assessment, stops: Mapping[str, str]) -> list[str]:
    missing = {whole.stands.place(need) for need in whole.stands.missing}
    out: list[str] = []
    for step in plan.steps:
        done = _done(step, missing, record, whole)
        if step.key in stops and not (done and _read(step, record)):
            out.append("stopped")
        elif done:
            out.append("done")
        else:
            out.append("todo" if "now" in out else "now")
    return out


def _read(step: Step, record: JobRecord) -> bool:
    """Whether any test of its kind is on record: what was done stays done."""
    return any(kind_of(test) == step.kind for test in record.tests)


def _done(step: Step, missing: Collection[str], record: JobRecord, whole: Assessment) -> bool:
    """Whether its tests are on record. What proves nothing by a test is never done by silence."""
    wanted = [step.place(slot) for slot in readings_of(step) if not slot.optional]
    if step.suffix == AGAIN:
        return _read_twice(step, record)
    if step.name == "prove_dead":
        return _proved(whole)
    if not wanted:
        return step.kind == "accessory" and bool(whole.by_kind.get("accessory"))
    return not any(place in missing for place in wanted)


def _read_twice(step: Step, record: JobRecord) -> bool:
    """Whether what this repeat reads stands on record twice: the same pairs, or the same leads held."""
    wanted = {slot.ends for slot in readings_of(step)}
    leads = {lead for ends in wanted for lead in ends[0].split("+")}
    alike = [test for test in record.tests if kind_of(test) == step.kind]
    if step.kind == "winding_resistance":
        pairs = [{pair_of(name, record.subject.winding.lead_scheme) for name in test.readings} for test in alike]  # type: ignore[union-attr]
        return sum({slot.part for slot in readings_of(step)} <= read for read in pairs) > 1
    single = len(groups_of(record.subject.winding.lead_scheme)) == 1
    return sum(leads == set(test.ends) or (single and not test.ends) for test in alike) > 1  # type: ignore[union-attr]


def _proved(whole: Assessment) -> bool:
    return any(result.verdict is Verdict.SOUND for result in whole.by_kind.get("dead_proof", ()))


def readings_of(step: Step) -> list[Slot]:
    """The slots whose readings go into the record of tests."""
    if step.kind not in BUILDERS:
        return []
    return [slot for slot in step.slots if slot.input is Input.READING and slot.part and slot.part != "volts"]


def _step(step: Step, state: str, because: str, whole: Assessment, brief: Brief) -> dict[str, Any]:
    readings = readings_of(step)
    instruments = [function for slot in step.slots for function in slot.functions]
    return {
        "step": step.name,
        "number": step.number,
        "title": step.title,
        "where": str(step.where) or None,
        "circuit": step.circuit.value,
        "state": state,
        "because": because or None,
        "readings": [_reading(step, slot, brief) for slot in readings],
        "gate": _gate(step, state, whole),
        "caution": step.caution or None,
        "instrument": instruments[0] if instruments else None,
    }


def _gate(step: Step, state: str, whole: Assessment) -> str:
    if step.circuit is Circuit.LIVE:
        return "stop" if state == "stopped" else "none"
    if step.hard or not _proved(whole):
        return "hard"
    return "stop" if state == "stopped" else "none"


def _reading(step: Step, slot: Slot, brief: Brief) -> dict[str, Any]:
    amps = slot.field == "current"
    return {
        "place": step.place(slot),
        "between": None if amps or not slot.ends else [end.replace("+", "-") for end in slot.ends],
        "quantity": "ohms"
        if step.kind == "ohmmeter"
        else "volts-dc"
        if DIRECT in slot.functions
        else QUANTITY[slot.field],
        "winding": step.winding or (speed_of(brief, slot.ends[0]) if slot.ends else "") or None,
        "optional": slot.optional or step.suffix == AGAIN,
        "t_s": slot.mark_s,
    }
