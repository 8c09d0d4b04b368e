"""The register as it is listed; what is due, what is falling, what is open."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta

from grimcoil.core.choices import Occasion
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.people import Action, Actor
from grimcoil.core.plan import kit
from grimcoil.core.plan.brief import brief_of
from grimcoil.service.subjects import subject_of
from grimcoil.store import jobs as job_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import searching
from grimcoil.store import tasks as task_rows
from grimcoil.store.engine import Store
from grimcoil.store.jobs import Follow
from grimcoil.store.lines import ListedJob, SiteLine
from grimcoil.store.list_tables import FILTERS, SORTS
from grimcoil.store.motors import RegisterRow
from grimcoil.store.searching import Wanted
from grimcoil.store.tasks import TaskToDo

AHEAD = timedelta(days=30)
MOST_AT_ONCE = 200
FIRST = 20  # of each group on Today; the rest is on the list


@dataclass(frozen=True, slots=True)
class Asked:
    """What is wanted of the register: words, filters by name, an order, and the key a page goes on behind."""

    q: str = ""
    filters: Mapping[str, str] = field(default_factory=dict)
    overdue: bool = False
    sort: str = "by_area"
    after: str = ""
    most: int = searching.PAGE


@dataclass(frozen=True, slots=True)
class Register:
    """A page of the register, with the site and the discharges that run; neither site nor tallies (by filter and value)
    beside a search. after: where the next page goes on; narrow: more match than are shown and there is no next page.
    """

    site: SiteLine | None
    rows: Sequence[RegisterRow]
    follow: Follow
    tallies: Mapping[str, Mapping[str, int]]
    after: str | None
    narrow: bool

    @property
    def total(self) -> int:
        """Motors on the register."""
        return sum(self.tallies.get("verdict", {}).values())


@dataclass(frozen=True, slots=True)
class Today:
    """The Today page; `more` says of a group that it has more than it shows."""

    due: Sequence[RegisterRow]
    weighty: Sequence[RegisterRow]
    open_jobs: Sequence[ListedJob]
    tasks: Sequence[TaskToDo]
    follow: Follow
    more: frozenset[str]


@dataclass(frozen=True, slots=True)
class Jobs:
    """The Job list."""

    open_jobs: Sequence[ListedJob]
    signed: Sequence[ListedJob]
    follow: Follow


def register(store: Store, asked: Asked, day: date) -> Register:
    """Five queries, whatever the number of motors. Raises RecordRefusal for an order or filter that isn't there."""
    if asked.sort not in SORTS:
        raise RecordRefusal("sort", asked.sort, "one of " + ", ".join(SORTS))
    unknown = [name for name in asked.filters if name not in FILTERS]
    if unknown:
        raise RecordRefusal("filter", unknown[0], "one of " + ", ".join(FILTERS))
    wanted = Wanted(asked.sort, asked.filters, day if asked.overdue else None, asked.after, asked.most)
    with store() as session:
        counted: Mapping[str, Mapping[str, int]] = {}
        if asked.q.strip():
            found = searching.search(session, asked.q, wanted)
        else:
            counted = searching.tallies(session)
            found = searching.page(session, wanted, counted)
        rows = motor_rows.register(session, found.motor_ids)
        follow = job_rows.discharging(session)
        site = None if asked.q.strip() else motor_rows.site(session)
        return Register(site, rows, follow, counted, found.after, found.narrow)


@dataclass(frozen=True, slots=True)
class Near:
    """The motors nearest to some words; more: others are near them too."""

    rows: Sequence[RegisterRow]
    more: bool


OFFERED = 8  # while it is typed; the list has the rest


def near(store: Store, q: str) -> Near:
    """What is found while it is typed. Four queries."""
    with store() as session:
        found = searching.search(session, q, Wanted(most=OFFERED))
        return Near(motor_rows.register(session, found.motor_ids), found.narrow)


def every_motor(store: Store, day: date) -> Iterator[RegisterRow]:
    """The whole register in walking order, some at a time."""
    after = ""
    while True:
        found = register(store, Asked(after=after, most=MOST_AT_ONCE), day)
        yield from found.rows
        if found.after is None:
            return
        after = found.after


def today(store: Store, day: date) -> Today:
    """Five queries: what must be acted on, what is due within 30 days, what is open, what is to be done."""
    with store() as session:
        act, due = searching.foremost(session, day + AHEAD, FIRST)
        rows = motor_rows.register(session, [*act.motor_ids, *due.motor_ids])
        at = len(act.motor_ids)
        open_jobs = job_rows.open_jobs(session, FIRST + 1)
        tasks = task_rows.open_tasks(session, day + AHEAD, most=FIRST + 1)
        over = {"act": act.narrow, "due": due.narrow, "open": len(open_jobs) > FIRST, "tasks": len(tasks) > FIRST}
        more = frozenset(name for name, is_over in over.items() if is_over)
        follow = job_rows.discharging(session)
        return Today(rows[at:], rows[:at], open_jobs[:FIRST], tasks[:FIRST], follow, more)


@dataclass(frozen=True, slots=True)
class Due:
    """What falls due, by day, of the works or one area of it; followed by the works."""

    site: SiteLine | None
    rows: Sequence[RegisterRow]


YEAR = timedelta(days=366)
MOST_DUE = 500


def due(
    store: Store, actor: Actor, day: date, area: str = "", ahead: timedelta = YEAR, most: int = MOST_DUE,
    untested: bool = False,
) -> Due:  # fmt: skip
    """The next tests of a year, overdue ones too, some at most. Three queries. Raises Forbidden."""
    actor.need(Action.READ_DUE)
    with store() as session:
        found = searching.coming(session, day + ahead, area, most, untested)
        return Due(motor_rows.site(session), motor_rows.register(session, found))


HOURS_A_JOB = 1.5  # a routine job from lock to signature; our own estimate, common practice gives one to two


@dataclass(frozen=True, slots=True)
class Week:
    """A week's tests by the Monday it begins with; the first holds what is overdue too."""

    monday: date
    count: int
    overdue: int

    @property
    def hours(self) -> float:
        """About how long they take one electrician."""
        return self.count * HOURS_A_JOB


def by_week(rows: Sequence[RegisterRow], day: date) -> list[Week]:
    """From this week on; weeks without a test are left out."""
    tally: dict[date, list[int]] = {}
    for row in rows:
        if row.next_on is None:
            continue
        on = max(row.next_on, day)
        counted = tally.setdefault(on - timedelta(days=on.weekday()), [0, 0])
        counted[0] += 1
        counted[1] += row.next_on < day
    return [Week(monday, *counted) for monday, counted in sorted(tally.items())]


@dataclass(frozen=True, slots=True)
class Carried:
    """What a stop's motors ask to be carried there: instruments, and locks by tag."""

    bring: tuple[str, ...]
    locks: Mapping[str, int]


def carried(store: Store, tags: Sequence[str]) -> Carried:
    """What routine jobs of these motors take. One query."""
    with store() as session:
        briefs = {}
        for tag, (motor, winding) in motor_rows.with_windings(session, tags).items():
            subject = subject_of(motor, winding, motor.position, FIELD_GENERAL)
            briefs[tag] = brief_of(subject, Occasion.ROUTINE)
    return Carried(kit.bring_for(briefs.values()), {tag: kit.locks(brief) for tag, brief in briefs.items()})


def labelled(store: Store, asked: Asked, tags: Sequence[str], day: date, most: int) -> Register:
    """Motors to make labels for: these tags in their order, or without any the list as it is narrowed."""
    return of_tags(store, tags, most) if tags else register(store, replace(asked, most=most), day)


def of_tags(store: Store, tags: Sequence[str], most: int) -> Register:
    """The motors of these tags in their order, some at most; those that aren't on the register are left out."""
    with store() as session:
        rows = motor_rows.register(session, motor_rows.ids_of(session, tags[:most]))
        return Register(motor_rows.site(session), rows, (), {}, None, False)


Shorted = Follow


def discharging(store: Store) -> Shorted:
    """Windings that stand shorted to frame. One query."""
    with store() as session:
        return job_rows.discharging(session)


def jobs(store: Store) -> Jobs:
    """Three queries: open jobs and the last signed ones."""
    with store() as session:
        return Jobs(job_rows.open_jobs(session), job_rows.last_signed(session), job_rows.discharging(session))
