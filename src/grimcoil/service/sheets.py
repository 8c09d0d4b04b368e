"""The printed sheet of a job, and the lists its forms need."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from grimcoil.core.plan.entries import BEGIN_AGAIN, NOT_RECONNECTED
from grimcoil.core.plan.progress import WORDS
from grimcoil.service.bench import Bench, load
from grimcoil.service.motor_states import trend_with
from grimcoil.service.motors import MotorView
from grimcoil.store import instruments as instrument_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store.engine import Store
from grimcoil.store.jobs import EntryLine
from grimcoil.store.tables import InstrumentRangeRow


@dataclass(frozen=True, slots=True)
class Sheet:
    """A job as it is printed: by step, every entry with its time, taken-back ones struck through."""

    bench: Bench
    steps: Sequence[tuple[str, Sequence[tuple[str, EntryLine]]]]


def sheet(store: Store, job_id: int, now: datetime) -> Sheet:
    """The sheet of a job. Raises Unknown."""
    with store() as session:
        bench = trend_with(session, load(session, job_id, now))
    out = []
    words = [(place, r) for place in (BEGIN_AGAIN, NOT_RECONNECTED) for r in bench.rows if r.place == place]
    for step in bench.plan.steps:
        labels = {f"{step.key}.{slot.key}": slot.label for slot in step.slots}
        rows = [
            (labels.get(r.place, "Reason given"), r)
            for r in bench.rows
            if r.place.split(".")[0].split("!")[0] == step.key
        ]
        if rows:
            out.append((step.title, rows))
    out += [("Kept beside the path", [(WORDS[place], row) for place, row in words])] if words else []
    return Sheet(bench, out)


def motor_of(store: Store, bench: Bench) -> MotorView:
    """The motor of a job with its life; an unsigned job's own figures aren't in it yet."""
    motor = bench.job.motor
    with store() as session:
        history = motor_rows.history(session, motor.id)
    return MotorView(motor, None, bench.job.id, history, bench.earlier, ())


def instruments(store: Store) -> Sequence[InstrumentRangeRow]:
    """Every range of every instrument."""
    with store() as session:
        return instrument_rows.ranges(session)
