"""The printed sheet of a job, and the lists its forms need."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass
from datetime import datetime

from grimcoil.core.decision.rules import ACTIONS
from grimcoil.core.plan.entries import BEGIN_AGAIN, NOT_RECONNECTED, EntryKind
from grimcoil.core.plan.progress import WORDS, StepState
from grimcoil.core.plan.safety import found_live
from grimcoil.core.plan.steps import Step
from grimcoil.core.stator.schemes import scheme_words
from grimcoil.core.version import VERSION
from grimcoil.service.bench import Bench, load
from grimcoil.service.motors import MotorView
from grimcoil.service.trends import beside_earlier, trend_with
from grimcoil.store import imports as import_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store.engine import Store
from grimcoil.store.imports import Origin
from grimcoil.store.jobs import EntryLine


@dataclass(frozen=True, slots=True)
class FoundLive:
    """Volts, or a shaft that moved, while it was being proved dead; when it was begun again, None where it wasn't."""

    words: str
    row: EntryLine
    again_at: datetime | None


@dataclass(frozen=True, slots=True)
class Sheet:
    """A job as it is printed: every step of its plan by its number, every entry with its time, taken-back ones struck
    through; a step nothing was read in says why. found_live: each find of volts, never folded with a later 0.
    """

    bench: Bench
    steps: Sequence[tuple[str, Sequence[tuple[str, EntryLine]]]]
    today: tuple[str, str] | None = None
    origin: Origin | None = None
    found_live: Sequence[FoundLive] = ()

    @property
    def title(self) -> str:
        """Which job."""
        return f"{self.bench.plan.recipe.replace('-', ' ').capitalize()} job {self.bench.job.id}"

    def columns(self, count: int) -> list[list[tuple[str, Sequence[tuple[str, EntryLine]]]]]:
        """The steps in their order in so many columns of about the same height, none torn apart."""
        whole = sum(1 + len(rows) for _, rows in self.steps)
        out: list[list[tuple[str, Sequence[tuple[str, EntryLine]]]]] = [[] for _ in range(count)]
        done = 0
        for title, rows in self.steps:
            middle = done + (1 + len(rows)) / 2
            out[min(count - 1, int(middle * count / whole))].append((title, rows))
            done += 1 + len(rows)
        return out

    @property
    def plate(self) -> str:
        """The plate in one line, as the job judged it."""
        plate, winding, named = self.bench.subject.plate, self.bench.subject.winding, self.bench.on.named
        volts, amps = (
            "/".join(f"{v:g}" for v in figures) for figures in (plate.rated_voltage_v, plate.full_load_current_a)
        )
        first = [named.power_text, f"{volts} V" if volts else "", f"{amps} A" if amps else ""]
        if plate.speed_rpm:
            first.append(f"{plate.speed_rpm:g} r/min")
        rest = [scheme_words(winding.lead_scheme), f"{winding.winding}-wound"]
        rest += [f"class {plate.insulation_class}"] if plate.insulation_class else []
        rest += [f"serial {named.serial}"] if named.serial else []
        return ", ".join(part for part in (" ".join(part for part in first if part), *rest) if part)

    @property
    def as_filed(self) -> list[tuple[str, str, str]]:
        """Of a test that came with a sheet: what each value is, its text and its cell."""
        if self.origin is None:
            return []
        return [
            (_value_words(field, points, t_s), text, cell) for field, points, t_s, text, _, cell in self.origin.values
        ]

    @property
    def judged_by(self) -> str:
        """Which limits and rules."""
        limits = self.bench.criteria
        rules = self.bench.told.core_version
        return f"Judged by {limits.title}, version {limits.version}; rules {rules}"

    @property
    def decided(self) -> str:
        """What was decided, and what was recommended where that differs."""
        action, told = self.bench.job.decided_action, self.bench.told
        if not action:
            return "not decided yet"
        words = ACTIONS.get(action, action)
        return words if action == told.action else f"{words} (recommended: {told.words.lower()})"

    def words(self, row: EntryLine) -> str:
        """An entry as typed, with its unit where a bare figure was typed."""
        if row.text == "confirmed":
            return "done"
        return f"{row.text} {row.unit}" if row.shown and row.unit and row.text[-1:].isdigit() else row.text


def sheet(store: Store, job_id: int, now: datetime) -> Sheet:
    """The sheet of a job. Raises Unknown."""
    with store() as session:
        bench = load(session, job_id, now)
        bench = beside_earlier(session, bench) if bench.state.signed else trend_with(session, bench)
        origin = import_rows.origin(session, job_id) if bench.filed else None
    out: list[tuple[str, Sequence[tuple[str, EntryLine]]]] = []
    finds = _found_live(bench)
    words = [(place, r) for place in (BEGIN_AGAIN, NOT_RECONNECTED) for r in bench.rows if r.place == place]
    for step in bench.plan.steps:
        labels = {step.place(slot): slot.label for slot in step.slots}
        rows = [(_label(labels, r), r) for r in bench.rows if bench.plan.step_of(r.place) is step]
        title = f"{step.number} {step.title}"
        if rows:
            out.append((title, _alike(rows, {one.row.seq for one in finds})))
        elif step.slots and bench.rows:
            out.append((f"{title}: {_why_not(bench, step)}", []))
    out += [("Saved beside the path", [(WORDS[place], row) for place, row in words])] if words else []
    return Sheet(bench, out, _today(bench), origin, finds)


def _label(labels: Mapping[str, str], row: EntryLine) -> str:
    """What an entry is called: its slot, the second taken for it, a hold wanted once more, or a reason."""
    if row.kind == EntryKind.STAMP:
        return f"{labels[row.place]}, Now"
    return "Wanted" if row.kind == EntryKind.AGAIN else labels.get(row.place, "Reason given")


def _found_live(bench: Bench) -> list[FoundLive]:
    """Each find of volts in its order, with when it was begun again after it and before the next."""
    by_seq = {row.seq: row for row in bench.rows}
    finds = found_live(bench.plan, bench.state.kept.entries, bench.criteria)
    out = []
    for number, find in enumerate(finds):
        ends = finds[number + 1].seq if number + 1 < len(finds) else math.inf
        again = (row.at for row in bench.rows if row.place == BEGIN_AGAIN and find.seq < row.seq < ends)
        out.append(FoundLive(bench.plan.words(find.place), by_seq[find.seq], next(again, None)))
    return out


def _why_not(bench: Bench, step: Step) -> str:
    """Why nothing was read in a step."""
    state = bench.state.standings[step.key]
    if state is StepState.STOPPED:
        return bench.state.situation.stops.get(step.key, "stopped")
    if state is StepState.SKIPPED:
        return "not reconnected" if NOT_RECONNECTED in bench.state.kept.standing else "not needed"
    return "not made"


def _value_words(field: str, points: str, t_s: float | None) -> str:
    """A value of a sheet for people.

    >>> _value_words("insulation", "1-2-3~frame", 60.0), _value_words("winding_resistance", "1-2", None)
    ('insulation 1-2-3 to frame, 60 s', 'winding resistance 1-2')
    """
    words = field.removesuffix("_c").removesuffix("_v").replace("_", " ")
    words = f"{words} {points.replace('~', ' to ')}".rstrip()
    return words if t_s is None else f"{words}, {t_s:g} s"


def _alike(rows: Sequence[tuple[str, EntryLine]], alone: Set[int]) -> list[tuple[str, EntryLine]]:
    """Neighbours that say the same thing as one line, at the time of the last: six points proved dead are one. alone:
    entries that stand by themselves.
    """
    out: list[tuple[str, EntryLine]] = []
    for label, row in rows:
        before = out[-1] if out else None
        folds = before is not None and alone.isdisjoint({before[1].seq, row.seq})
        if before is not None and folds and row.shown is not None and _same(before[1], row):
            out[-1] = (f"{before[0]}, {label}", row)
        else:
            out.append((label, row))
    return out


def _same(a: EntryLine, b: EntryLine) -> bool:
    return (a.text, a.unit, a.taken_back_at) == (b.text, b.unit, None)


def _today(bench: Bench) -> tuple[str, str] | None:
    """What today's rules would say of a signed job, where they are others than those that judged it."""
    if not bench.state.signed or bench.told.core_version == VERSION:
        return None
    return VERSION, bench.whole.decision.words.lower()


def motor_of(store: Store, bench: Bench) -> MotorView:
    """The motor of a job with its life; an unsigned job's own figures aren't in it yet."""
    motor, history = bench.motor, bench.life
    if history is None:
        with store() as session:
            history = motor_rows.history(session, motor.id, bench.job.id)
    return MotorView(motor, None, bench.job.id, history, bench.earlier, (), firsts=bench.firsts, limits=bench.criteria)
