"""Walks a job through the services as its plan asks, with readings that a sound motor gives."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import count
from typing import Any

from grimcoil.core.people import Actor
from grimcoil.core.plan.steps import Act, Input, Slot
from grimcoil.core.wishes import AS_USUAL, Wishes
from grimcoil.service.bench import Bench
from grimcoil.service.jobs import Start, keep, open_bench, overrule, start_job
from grimcoil.service.motors import check_registration, register_motor
from grimcoil.store.engine import Store
from tests.support import Clock

PLATE = {"rated_voltage_v": "460", "full_load_current_a": "21", "power": "15 hp", "speed_rpm": "1755",
         "frequency_hz": "60", "insulation_class": "F", "position": "Beet wash", "supply_system": "wye-earthed",
         "system_voltage_v": "480"}  # fmt: skip
HELD = {10.0: "250M", 15.0: "300M", 30.0: "400M", 45.0: "520M", 60.0: "620M", 600.0: "1600M"}
BY_FIELD = {
    "drop": "0.11",
    "winding": "0.2611",
    "temperature": "22",
    "humidity": "50",
    "voltage": "478",
    "current": "18.0",
    "speed": "1795",
    "length": "8",
    "dead_voltage": "0.2",
}


def sound(slot: Slot, tag: str) -> str:
    """What is typed in a slot where all is well."""
    if slot.input is Input.TAG:
        return tag
    if slot.input is Input.CHOICE:
        return slot.choices[0]
    if slot.input is not Input.READING:
        return "confirmed" if slot.input is Input.CONFIRM else "as it should be"
    if slot.act in (Act.POINT_DEAD, Act.RESIDUAL):
        return "0.1"
    if slot.part == "volts":
        return "500"
    if slot.field == "voltage" and "E" in slot.ends:
        return "277"
    if slot.field == "insulation":
        return HELD.get(slot.mark_s or 0.0, "900M")
    if slot.field == "low_ohm":
        return "OL" if "apart" in slot.key or slot.key.endswith("frame") else "0.000"
    return BY_FIELD[slot.field]


class Walker:
    """One job. changed: other texts than a sound motor's, by place; None skips the step with a reason."""

    def __init__(
        self,
        store: Store,
        actor: Actor,
        clock: Clock,
        tag: str,
        scheme: str,
        changed: Mapping[str, str] | None = None,
        plate: Mapping[str, str] | None = None,
    ) -> None:
        self.store, self.actor, self.clock, self.tag = store, actor, clock, tag
        self.changed, self.tokens = dict(changed or {}), count()
        given = PLATE | {"tag": tag, "lead_scheme": scheme} | dict(plate or {})
        register_motor(store, actor, check_registration(given, clock()))
        self.job = 0

    def start(
        self,
        occasion: str = "routine",
        school: str = "",
        also: tuple[str, ...] = (),
        wishes: Wishes = AS_USUAL,
        **more: Any,
    ) -> Walker:
        """The job is on the bench."""
        start = Start(self.tag, f"start-{self.tag}", occasion=occasion, school=school, also=also, wishes=wishes, **more)
        self.job = start_job(self.store, self.actor, start, self.clock())
        return self

    @property
    def bench(self) -> Bench:
        """As it stands."""
        return open_bench(self.store, self.job, self.clock())

    def put(self, place: str, text: str) -> Bench:
        """Keep one entry."""
        return keep(self.store, self.job, place, text, self.actor, f"walk-{next(self.tokens):06}", self.clock())

    def skip(self, key: str) -> Bench:
        """Pass a step or a stop with a reason."""
        token = f"walk-{next(self.tokens):06}"
        return overrule(self.store, self.job, key, "as the test wants it", self.actor, token, self.clock())

    def to(self, until: str = "") -> Bench:
        """Take what comes next until a place, or the decision, is reached."""
        bench = self.bench
        while not bench.state.closing and bench.state.place != until:
            place = bench.state.place
            assert place is not None, bench.state.step
            slot = bench.plan.at(place)[1]
            if slot.act is Act.MARK and (slot.mark_s or 0.0) > 60 and place not in self.changed:
                hold = bench.plan.at(place)[0].hold
                place = next(p for p, step, _ in bench.plan.doing(Act.REMOVE) if step.hold == hold)
                slot = bench.plan.at(place)[1]
            left = self.bench.state.discharge_left_s if slot.act is Act.RESIDUAL else None
            mark = (slot.mark_s or 0.0) - (self.bench.state.hold_s or 0.0)
            self.clock.pass_(left + 1 if left is not None else max(1.0, mark) if slot.act is Act.MARK else 6)
            before = len(bench.rows)
            bench = self.put(place, self.changed.get(place) or sound(slot, self.tag))
            assert len(bench.rows) > before, f"nothing goes on at {place}"
        return bench
