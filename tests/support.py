"""Shared by the tests: readings by text, the routine job by script, a clock that the test moves."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from itertools import count
from typing import Any

from argon2 import PasswordHasher
from sqlalchemy import Connection, Engine, text

from grimcoil.core.fields import FIELDS, INSULATION, WINDING
from grimcoil.core.measured import Timed
from grimcoil.core.people import Actor, Role
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.entries import BEGIN_AGAIN, NOT_RECONNECTED, Entry, EntryKind
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.steps import Input, Plan
from grimcoil.core.readings import Reading, parse_reading
from grimcoil.service.register import note_changes
from grimcoil.service.secrets import digest, new_token
from grimcoil.store.engine import Store
from grimcoil.store.people_tables import Person, SignIn

NOW = datetime(2026, 11, 24, 8, 0, tzinfo=UTC)


# The cheapest argon2id there is: what is tested is what it guards.
HASHER = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)
SECRET, PIN_SECRET = "kingfisher under the weir", "314159"
_HASHES = (HASHER.hash(SECRET), HASHER.hash(PIN_SECRET))


@contextmanager
def unguarded(engine: Engine, table: str) -> Iterator[Connection]:
    """A connection that may change an append-only table, as somebody with the database's own rights might."""
    with engine.begin() as connection:
        names = [f"{table}_no_{verb}" for verb in ("update", "delete")]
        made = [connection.execute(text(f"SHOW CREATE TRIGGER {name}")).one()[2] for name in names]
        for name in names:
            connection.execute(text(f"DROP TRIGGER {name}"))
        try:
            yield connection
        finally:
            for words in made:
                connection.execute(text(words))


def add_person(store: Store, role: Role, name: str = "A. Tester", under: Actor | None = None) -> Actor:
    """Someone with the tests' password and PIN, added behind the services' back: their rules are tested elsewhere."""
    login = name.casefold().replace(" ", "")
    with store.begin() as session:
        person = Person(login=login, name=name, role=role.value, added_at=NOW)
        person.password_hash, person.pin_hash = _HASHES
        person.works_under_id = under.person_id if under else None
        session.add(person)
        note_changes(session, Actor(None, "tests", Role.ADMINISTRATOR), NOW, person)
        return Actor(person.id, name, role, under.name if under else "", "test", login)


def signed_cookie(store: Store, actor: Actor, now: datetime) -> tuple[str, str]:
    """A sign-in of someone: its cookie and the word of its forms."""
    token, word = new_token(), new_token()
    with store.begin() as session:
        made = SignIn(token_hash=digest(token), csrf=word, person_id=actor.person_id, began_at=now, seen_at=now)
        made.ends_at = now + timedelta(days=7)
        session.add(made)
    return token, word


class Clock:
    """Time that passes only when told to."""

    def __init__(self, now: datetime = NOW) -> None:
        self.now = now

    def __call__(self) -> datetime:
        return self.now

    def pass_(self, seconds: float) -> None:
        self.now += timedelta(seconds=seconds)


def ohms(*texts: str) -> dict[str, Reading]:
    return {pair: parse_reading(text, WINDING) for pair, text in zip(("1-2", "2-3", "3-1"), texts, strict=True)}


def series(*points: tuple[float, str]) -> tuple[Timed, ...]:
    return tuple(Timed(t, parse_reading(text, INSULATION)) for t, text in points)


MADE_SAFE = (
    ("isolate.tag", "BW-1"),
    ("isolate.lock-main", "Disconnect"),
    ("isolate.tried", "nothing moved"),
    ("prove_dead.source", "a socket"),
)
PROVED_DEAD = (
    ("prove_dead.before", "480"),
    *((f"prove_dead.{key}", "0.1") for key in ("L1-L2", "L2-L3", "L3-L1", "L1-E", "L2-E", "L3-E")),
    ("prove_dead.after", "481"),
)
LIFTED = (*((f"as_found.lead-{n}", f"L{n}") for n in "123"), ("as_found.links", "no links"))
CHECKED = (
    ("instrument_check.leads-shorted", "0.000"),
    ("instrument_check.leads-apart", "OL"),
    ("instrument_check.insulation-shorted", "0"),
)
WARM = (("temperature.winding", "20"), ("temperature.ambient", "20"), ("temperature.humidity", "50"))
EVEN = (
    ("winding_resistance.1-2", "0.5344"),
    ("winding_resistance.2-3", "0.5350"),
    ("winding_resistance.3-1", "0.5347"),
)
SEPARATED = (("separate.apart", "confirmed"),)
TO_RESISTANCE = (*MADE_SAFE, *PROVED_DEAD, *LIFTED, *SEPARATED, *CHECKED, *WARM)
BY_HAND = (("by_hand.shaft", "free"), ("by_hand.seen", "not read"))
TO_HOLD = (*TO_RESISTANCE, *EVEN, ("insulation.1-2-3.volts", "500"), ("insulation.1-2-3.on", "confirmed"))
LIVE = (
    ("restore.restored", "confirmed"),
    ("supply_voltage.L1-L2", "480"),
    ("supply_voltage.L2-L3", "479"),
    ("supply_voltage.L3-L1", "481"),
    *((f"supply_voltage.L{n}", "277") for n in "123"),
    ("line_current.L1", "17.2"),
    ("line_current.L2", "17.3"),
    ("line_current.L3", "17.1"),
)

# place, text, seconds that pass before it
WHOLE_JOB: tuple[tuple[str, str, float], ...] = (
    *((place, text, 5) for place, text in TO_HOLD),
    ("insulation.1-2-3.30", "390M", 30),
    ("insulation.1-2-3.60", "520M", 30),
    ("discharge.1-2-3.off", "confirmed", 2),
    ("discharge.1-2-3.short", "confirmed", 2),
    ("discharge.1-2-3.volts", "0", 260),
    *((place, text, 5) for place, text in BY_HAND),
    ("connection.checked", "confirmed", 5),
    *((f"reconnect.lead-{n}", f"L{n}", 5) for n in "123"),
    ("reconnect.as-found", "confirmed", 10),
    ("reconnect.left", "not read", 5),
    *((place, text, 10) for place, text in LIVE),
)


def at_box(script: Iterable[tuple[Any, ...]]) -> list[tuple[Any, ...]]:
    """The same script with the proof at the opened motor box after the one at the starter, and its joints looked at."""
    out: list[tuple[Any, ...]] = []
    for place, *rest in script:
        out.append((place, *rest))
        if place == "prove_dead.after":
            out += [
                (p.replace("prove_dead", "prove_dead_box"), text, *rest[1:])
                for p, text in (MADE_SAFE[-1], *PROVED_DEAD)
            ]
        if place == "as_found.lead-3":
            out += [("as_found.joint", "studs", *rest[1:]), ("as_found.state", "sound", *rest[1:])]
    return out


def entries(script: Iterable[tuple[str, str]], start: datetime = NOW, every_s: float = 5) -> list[Entry]:
    """Entries as they would be stored, evenly spaced."""
    numbers = count(1)
    return [
        entry(next(numbers), place, text, start + timedelta(seconds=i * every_s))
        for i, (place, text) in enumerate(script)
    ]


PLAN = build(Brief("three-lead"))


def entry(
    seq: int, place: str, text: str, at: datetime, taken_back: bool = False, who: str = "A. Tester", plan: Plan = PLAN
) -> Entry:
    slot = plan.places[place][1] if place in plan.places else None
    if slot is None:
        kind = EntryKind.NOTE if place in (BEGIN_AGAIN, NOT_RECONNECTED) else EntryKind.OVERRULE
        return Entry(seq, place, kind, text, at, who, None, taken_back)
    if slot.input is not Input.READING:
        return Entry(seq, place, EntryKind.NOTE, text, at, who, None, taken_back)
    reading = parse_reading(text, FIELDS[slot.field])
    return Entry(seq, place, EntryKind.READING, text, at, who, reading, taken_back)


def walk(keep: Callable[[str, str], object], clock: Clock, script: Iterable[tuple[str, str, float]]) -> None:
    """Keep a script through a service or a page, letting time pass."""
    for place, typed, seconds in script:
        clock.pass_(seconds)
        keep(place, typed)
