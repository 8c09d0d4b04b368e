"""Signing in and out, who a cookie or a token stands for, and confirming a signature by its secret."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, tzinfo
from functools import lru_cache
from math import ceil
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from sqlalchemy import Engine
from sqlalchemy.orm import Session

from grimcoil.core.errors import WrongSecret
from grimcoil.core.people import Actor, Role, Scope, plain_login, wait_s
from grimcoil.core.units import USUAL, Units, units_named
from grimcoil.service.secrets import digest, fits, new_token
from grimcoil.store import people as rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.people_tables import Device, Person, SignIn

# A shift, a hold at the tablet, a week: this product's choice, without a source.
IDLE = timedelta(hours=12)
IDLE_SHARED = timedelta(hours=1)  # long enough for a ten-minute hold, short enough for a tablet left on a ledge
LONGEST = timedelta(days=7)
TOUCH_EVERY = timedelta(minutes=5)
FORGET = timedelta(days=1)
LONGEST_LOGIN = 80


@dataclass(frozen=True, slots=True)
class Signed:
    """A live sign-in: who, the word that stands in each form of theirs, the works' own time zone, units and name, and
    the views of the list of motors that they keep, the name and the address of each.
    """

    actor: Actor
    csrf: str
    sign_in_id: int
    zone: tzinfo = UTC
    units: Units = USUAL
    views: Sequence[Sequence[str]] = ()
    works: str = ""


@dataclass(frozen=True, slots=True)
class ByToken:
    """Whom a live API token acts for, and the works' own time zone."""

    actor: Actor
    zone: tzinfo


@dataclass(frozen=True, slots=True)
class Opened:
    """A new sign-in; its cookie's value is known here and nowhere else."""

    token: str
    actor: Actor


def who_is(engine: Engine, store: Store, token: str, origin: str, now: datetime) -> Signed | None:
    """Whose sign-in this cookie is; None where it ended. One query, and a write every five minutes."""
    row = rows.signed(engine, digest(token), now, now - IDLE)
    if row is None or (row.by_pin and row.seen_at <= now - IDLE_SHARED):
        return None
    if row.seen_at <= now - TOUCH_EVERY:
        with store.begin() as session:
            rows.touch(session, row.sign_in_id, now)
    who = Actor(row.person_id, row.name, Role(row.role), row.under or "", origin, row.login, row.device_id)
    zone, units = zone_named(row.zone), units_named(row.units)
    return Signed(who, row.csrf, row.sign_in_id, zone, units, row.views or (), row.works or "")


@lru_cache(maxsize=16)
def zone_named(name: str | None) -> tzinfo:
    """The works' time zone; UTC where none is on record, or none of that name is known here."""
    try:
        return ZoneInfo(name) if name else UTC
    except (ZoneInfoNotFoundError, ValueError):
        return UTC


def token_of(engine: Engine, token: str, origin: str, now: datetime) -> ByToken | None:
    """Who an API token acts for; None where it ended."""
    row = rows.token(engine, digest(token), now)
    if row is None:
        return None
    scopes = frozenset(Scope(scope) for scope in row.scopes.split())
    where = f"{origin} by token"
    who = Actor(row.person_id, row.name, Role(row.role), row.under or "", where, row.login, None, scopes)
    return ByToken(who, zone_named(row.zone))


def actor_of(person: Person, origin: str = "", device: Device | None = None) -> Actor:
    """A person as who acts."""
    under = person.works_under.name if person.works_under else ""
    device_id = device.id if device else None
    return Actor(person.id, person.name, Role(person.role), under, origin, person.login, device_id)


def sign_in(store: Store, login: str, password: str, origin: str, now: datetime) -> Opened:
    """Sign in by password. Raises WrongSecret, which never says whether there is such a person."""
    person, tries = _counted(store, login, origin, now)
    if not fits(person.password_hash if person else None, password) or person is None:
        _wrong(store, origin, now, person)
        raise WrongSecret("Sign in", "", "the sign-in name and the password don't fit")
    return _open(store, person, None, origin, now, tries)


def switch_in(store: Store, login: str, pin: str, device_token: str, origin: str, now: datetime) -> Opened:
    """Sign in by PIN on an enrolled device. Raises WrongSecret."""
    with store() as session:
        device = rows.device_of(session, digest(device_token))
    if device is None:
        raise WrongSecret("Sign in", "", "PINs work on enrolled devices only; use your password")
    place = f"device {device.id}"
    person, tries = _counted(store, login, place, now)
    if not fits(person.pin_hash if person else None, pin) or person is None:
        _wrong(store, place, now, person)
        raise WrongSecret("Sign in", "", "the PIN doesn't fit")
    return _open(store, person, device, f"{origin}, {device.name}", now, tries)


def _counted(store: Store, login: str, place: str, now: datetime) -> tuple[Person | None, Sequence[str]]:
    """The person of a name, and what this try is counted on. It is counted before it is checked, so that a burst of
    tries finds itself counted. Raises WrongSecret while there is to wait.
    """
    name = plain_login(login)[:LONGEST_LOGIN]
    with store.begin() as session:
        person = rows.by_login(session, name)
        tries = _tries(f"person {person.id}" if person else f"name {name}", place)
        _count(session, tries, now)
        return person, tries


def _open(
    store: Store, person: Person, device: Device | None, origin: str, now: datetime, tries: Sequence[str]
) -> Opened:
    token = new_token()
    actor = actor_of(person, origin, device)
    with store.begin() as session:
        session.add(
            SignIn(
                token_hash=digest(token), csrf=new_token(), person_id=person.id, began_at=now, seen_at=now,
                device_id=device.id if device else None, by_pin=device is not None, ends_at=now + LONGEST,
                origin=origin[:80],
            )
        )  # fmt: skip
        _right(session, tries)
        trail.write(session, actor, "signed in", now, detail="by PIN" if device else "by password")
    return Opened(token, actor)


def sign_out(store: Store, signed: Signed, now: datetime, everywhere: bool = False) -> None:
    """End this sign-in, or all of this person's, their tokens and PIN with them."""
    person = signed.actor.person_id
    if person is None:
        return
    with store.begin() as session:
        rows.end_sign_ins(session, person, now, None if everywhere else signed.sign_in_id)
        if everywhere:
            rows.end_keys(session, person, now)
        trail.write(session, signed.actor, "signed out", now, detail="everywhere" if everywhere else "")


def confirm(store: Store, actor: Actor, secret: str, now: datetime) -> str:
    """The person who acts gives the password again, or on an enrolled device the PIN: `password` or `pin`.

    Raises WrongSecret, also while the person has to wait.
    """
    place = f"confirm {actor.person_id} {actor.device_id or ''}"
    with store.begin() as session:
        person = rows.by_id(session, actor.person_id) if actor.person_id is not None else None
        tries = _tries(f"person {actor.person_id}", place)
        # Looked at while the count is held: a burst of guesses finds itself counted, right ones at once are right.
        _count(session, tries, now)
        by = _which(person, actor, secret)
        if by is not None:
            _right(session, tries)
    if by is None or person is None:
        _wrong(store, place, now, person)
        raise WrongSecret("Sign", "", "that is not your password" + (" or PIN" if actor.device_id else ""))
    return by


def _which(person: Person | None, actor: Actor, secret: str) -> str | None:
    if actor.device_id is not None and person is not None and person.pin_hash and secret.isdigit():
        return "pin" if fits(person.pin_hash, secret) else None
    return "password" if fits(person.password_hash if person else None, secret) else None


def _tries(who: str, place: str) -> list[str]:
    """Someone at one place; a place at all; someone from anywhere. The order is that of `_PATIENCE`.

    Someone is a person by number, whatever the spelling; a name that nobody has counts by itself.
    """
    return [digest(f"{who}\n{place}"), digest(f"\n{place}"), digest(f"{who}\n")]


# How many wrong tries weigh as one. A place may be many people behind one address; and it takes fifty from elsewhere
# before someone has to wait at their own place, so that nobody is locked out by a few guesses of others.
_PATIENCE = (1, 5, 10)


def _count(session: Session, whats: Sequence[str], now: datetime) -> None:
    """One more try on each, unless one of them has to wait: then nothing is counted and the person is told."""
    patience = dict(zip(whats, _PATIENCE, strict=True))
    tries = rows.locked_tries(session, whats, now)
    for tried in tries:
        if now - tried.last_at >= FORGET:
            tried.times = 0
        left = wait_s(tried.times // patience[tried.what]) - (now - tried.last_at).total_seconds()
        if left > 0:
            raise WrongSecret("Sign in", "", f"too many wrong tries: wait {ceil(left)} seconds")
    for tried in tries:
        tried.times, tried.last_at = tried.times + 1, now


def forget_tries(store: Store, now: datetime) -> None:
    """Clear away what nobody counts any more."""
    with store.begin() as session:
        rows.forget_old_tries(session, now - FORGET)


def _right(session: Session, whats: Sequence[str]) -> None:
    """The person's own count begins anew. The place keeps its own: whoever has one account must not clear it for
    guesses at others.
    """
    mine, place, anywhere = whats
    rows.forget_wrong(session, [mine, anywhere])
    rows.one_less(session, place)


def _wrong(store: Store, origin: str, now: datetime, person: Person | None) -> None:
    if person is not None:
        with store.begin() as session:
            trail.write(session, actor_of(person, origin), "wrong secret", now)
