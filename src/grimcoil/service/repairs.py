"""A decision carried through: ordered, away at the repairer, back, and the promise held against the acceptance."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from grimcoil.core.choices import LifeKind
from grimcoil.core.days import day_told
from grimcoil.core.decision.promise import Held, Promise, held_against
from grimcoil.core.errors import FormRefused, RecordRefusal
from grimcoil.core.people import Action, Actor
from grimcoil.core.stays import check_day
from grimcoil.service.bench import Bench
from grimcoil.service.fields import Fields, amount, day_of, one_of, short
from grimcoil.service.lives import moved_away, put_event
from grimcoil.service.registered import motor_named
from grimcoil.store import lives as life_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import repairs as rows
from grimcoil.store.engine import Store
from grimcoil.store.repairs import RepairLine, StageLine
from grimcoil.store.tables import NOTE, LifeEvent

SHOWN = 20
WHAT = ("repair", "rewind", "replacement")
NEXT = {"": LifeKind.ORDERED, "ordered": LifeKind.AWAY, "away": LifeKind.BACK, "back": LifeKind.ORDERED}


@dataclass(frozen=True, slots=True)
class RepairView:
    """Where a motor's repair stands. state: empty, `ordered`, `away`, `back`; order: what was promised."""

    tag: str
    state: str
    since: date | None
    order: StageLine | None

    @property
    def due(self) -> date | None:
        """When it was promised back."""
        return rows.due_of(self.order)

    @property
    def promise(self) -> Promise:
        """What was promised in figures."""
        return promise_of(self.order)


def promise_of(order: StageLine | None) -> Promise:
    """The figures of an order; none where it has none."""
    said = (order.promised or {}) if order else {}
    return Promise(said.get("ohm"), said.get("mohm"))


def repair(store: Store, tag: str) -> RepairView:
    """Two queries. Raises Unknown."""
    with store() as session:
        motor = motor_named(session, tag)
        return _view(motor.tag, rows.stages(session, motor.id))


def _view(tag: str, stages: Sequence[StageLine]) -> RepairView:
    """The newest stage tells where it stands; the order is the last one before it."""
    last = stages[0] if stages else None
    return RepairView(tag, last.kind if last else "", last.on_day if last else None, rows.order_of(stages))


def under_way(store: Store) -> list[RepairLine]:
    """What is ordered or away, the first promised back first. One query."""
    with store() as session:
        return rows.under_way(session, SHOWN)


def go_on(store: Store, actor: Actor, tag: str, texts: Mapping[str, str], token: str, now: datetime) -> bool:
    """The next stage, on a day: ordered (what, whom, back, ohm, mohm), away (it leaves its position), back.

    texts: stage, on, note, and those of an order. Once by token. Raises Forbidden, Unknown, FormRefused.
    """
    actor.need(Action.REGISTER_MOTOR)
    fields = Fields(texts)
    stage = fields.take("stage", one_of(*rows.STAGES), required=True)
    on = fields.take("on", day_of, required=True)
    note = fields.take("note", short(NOTE)) or ""
    promised = _promised(fields) if stage == LifeKind.ORDERED else None
    if fields.refused:
        raise FormRefused(fields.refused)
    with store.begin() as session:
        motor = motor_named(session, tag)
        motor_rows.lock(session, motor.id)
        if life_rows.event_by_token(session, token) is not None:
            return False
        stages = rows.stages(session, motor.id)
        at = _view(motor.tag, stages)
        if NEXT[at.state] != stage:
            raise FormRefused({"stage": f"It is {at.state or 'not ordered'} now: next it is {NEXT[at.state].value}."})
        if at.since is not None and on < at.since:
            raise FormRefused({"on": f"Not before it was {at.state}, {day_told(at.since)}."})
        told = f"{str(promised['what']).capitalize()} with {promised['whom']}" if promised else ""
        told = "; ".join(part for part in (told, note) if part)
        if len(told) > NOTE:
            raise FormRefused({"note": f"Say it in {len(told) - NOTE} letters less: the order stands before it."})
        try:
            check_day(on, now.date(), motor.built_year)
            undo = moved_away(session, actor, motor, on, now) if stage == LifeKind.AWAY else {}
        except RecordRefusal as refusal:
            raise FormRefused({"on": refusal.sentence()}) from None
        event = LifeEvent(kind=stage, on_day=on, note=told, token=token, undo=undo, promised=promised)
        put_event(session, actor, motor, event, now)
        rows.relist_repair(session, motor.id)
        return True


def _promised(fields: Fields) -> dict[str, str | float | None]:
    what = fields.take("what", one_of(*WHAT), required=True)
    whom = fields.take("whom", short(80), required=True)
    back = fields.take("back", day_of)
    ohm = fields.take("ohm", amount(1e-6, 1e4, "Ω"))
    mohm = fields.take("mohm", amount(0.01, 1e6, "MΩ"))
    return {
        "what": what, "whom": whom, "back": back.isoformat() if back else None,
        "ohm": None if ohm is None else float(ohm), "mohm": None if mohm is None else float(mohm),
    }  # fmt: skip


def promises_of(store: Store, bench: Bench) -> list[Held]:
    """What was promised of the motor's last repair that is back, against what this job measured; none for other jobs
    than an acceptance.
    """
    if bench.job.kind != "acceptance":
        return []
    with store() as session:
        at = _view("", rows.stages(session, bench.motor.id, bench.job.tested_on or bench.state.now.date()))
    if at.state != "back":
        return []
    whole = bench.whole
    ohms = whole.winding_resistance[0].mean_at_reference_ohm if whole.winding_resistance else None
    r40 = whole.insulation[0].r_1min_40c_mohm if whole.insulation else None
    return held_against(at.promise, ohms, r40, bench.criteria.resistance_drift.value)
