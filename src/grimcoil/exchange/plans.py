"""`grimcoil-plan/1` as it is stored with a job: the plan out as a document, and a stored one back in."""

from __future__ import annotations

import json
from collections.abc import Mapping
from functools import lru_cache
from typing import Any

from grimcoil.core.decision.needs import LeftOut
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.plan.steps import Act, Circuit, Input, Plan, Slot, Step
from grimcoil.core.wishes import AtHand, FirstTest, InsulationBy, TestVolts, Wishes

FORMAT = "grimcoil-plan/1"


def to_document(plan: Plan) -> dict[str, Any]:
    """The plan, every word of it: a job signed today is shown and judged by it in ten years."""
    return {
        "format": FORMAT,
        "plan_version": plan.version,
        "occasion": plan.recipe,
        "school": plan.school,
        "bring": list(plan.bring),
        "left_out": [{"step": one.step, "why": one.why, "stays_unproven": one.stays_unproven} for one in plan.left_out],
        "steps": [_step_document(step) for step in plan.steps],
    } | wishes_document(plan.wishes)


def wishes_document(wishes: Wishes) -> dict[str, Any]:
    """What was chosen, by the formats' names; nothing where all is as usual."""
    every = {
        "first_test": wishes.first_test,
        "insulation_by": wishes.insulation_by,
        "at_hand": list(wishes.at_hand),
        "test_volts": wishes.test_volts,
    }
    return {name: chosen for name, chosen in every.items() if chosen}


def wishes_of(document: Mapping[str, Any]) -> Wishes:
    """The same back. Raises ValueError for a word that is none."""
    first, by, volts = (document.get(name) for name in ("first_test", "insulation_by", "test_volts"))
    return Wishes(
        FirstTest(first) if first else None,
        InsulationBy(by) if by else None,
        tuple(AtHand(one) for one in document.get("at_hand", ())),
        TestVolts(volts) if volts else None,
    )


def _step_document(step: Step) -> dict[str, Any]:
    return {
        "step": step.name,
        "key": step.key,
        "suffix": step.suffix,
        "winding": step.winding or None,
        "because": step.because or None,
        "rule": step.rule,
        "number": step.number,
        "title": step.title,
        "where": step.where,
        "circuit": step.circuit.value,
        "gate": "hard" if step.hard else "stop",
        "caution": step.caution,
        "tool": step.tool,
        "hold": step.hold,
        "kind": step.kind,
        "readings": [_slot_document(step, slot) for slot in step.slots],
    }


def _slot_document(step: Step, slot: Slot) -> dict[str, Any]:
    return {
        "place": step.place(slot),
        "label": slot.label,
        "ask": slot.ask,
        "input": slot.input.value,
        "field": slot.field,
        "ends": list(slot.ends),
        "act": slot.act.value,
        "part": slot.part,
        "t_s": slot.mark_s,
        "optional": slot.optional,
        "functions": list(slot.functions),
        "choices": list(slot.choices),
        "suggest": slot.suggest,
        "waited": slot.waited,
    }


def read_plan(document: dict[str, Any]) -> Plan:
    """A stored plan. Raises RecordRefusal for a document that is none."""
    try:
        return Plan(
            document["occasion"],
            document["plan_version"],
            tuple(_step(one) for one in document["steps"]),
            tuple(LeftOut(one["step"], one["why"], one["stays_unproven"]) for one in document["left_out"]),
            document.get("school", ""),
            tuple(document.get("bring", ())),
            wishes_of(document),
        )
    except (KeyError, TypeError, ValueError) as error:
        raise RecordRefusal("plan", str(error), f"a stored {FORMAT}") from None


def _step(given: dict[str, Any]) -> Step:
    key, suffix = given.get("key", given["step"]), given.get("suffix", "")
    begins = f"{key.removesuffix(suffix)}."
    return Step(
        key, given["number"], given["title"], given["where"], Circuit(given["circuit"]),
        tuple(_slot(one, begins, suffix) for one in given["readings"]), given["caution"], given["gate"] == "hard",
        given["tool"], given["hold"], given["kind"], suffix, given.get("winding") or "", given.get("because") or "",
        given.get("rule", ""),
    )  # fmt: skip


def _slot(given: dict[str, Any], begins: str, suffix: str) -> Slot:
    return Slot(
        given["place"].removeprefix(begins).removesuffix(suffix), given["label"], given["ask"],
        Input(given["input"]), given["field"], tuple(given["ends"]), Act(given["act"]), given["part"], given["t_s"],
        given["optional"], tuple(given["functions"]), tuple(given["choices"]), given["suggest"],
        given.get("waited", False),
    )  # fmt: skip


@lru_cache(maxsize=256)
def plan_text(plan: Plan) -> str:
    """The document as JSON text."""
    return json.dumps(to_document(plan), ensure_ascii=False)


@lru_cache(maxsize=256)
def read_plan_text(text: str) -> Plan:
    """The same from its JSON text: most jobs are walked by one of a few plans, read once."""
    return read_plan(json.loads(text))
