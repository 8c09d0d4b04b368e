"""Queries about people, their sign-ins, devices and tokens. Secrets come in as digests, never as given."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import NamedTuple

from sqlalchemy import Engine, bindparam, delete, func, or_, select, update
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session, aliased, joinedload

from grimcoil.store.lines import DeviceLine, PersonLine, SignInLine, TokenLine, line_of
from grimcoil.store.people_tables import ApiToken, Device, Person, SignIn, WrongTry
from grimcoil.store.tables import Site, columns

MOST_SHOWN = 50
_SIGNER = aliased(Person)


class SignedRow(NamedTuple):
    """A live sign-in with its person and the views they keep; zone, units: of the works."""

    sign_in_id: int
    csrf: str
    seen_at: datetime
    by_pin: bool
    device_id: int | None
    person_id: int
    login: str
    name: str
    role: str
    under: str | None
    zone: str | None
    units: str | None
    works: str | None
    views: list[list[str]] | None


_ZONE = select(columns(Site).zone).limit(1).scalar_subquery()
_UNITS = select(columns(Site).units).limit(1).scalar_subquery()
_WORKS = select(columns(Site).name).limit(1).scalar_subquery()
_PERSON = (Person.id, Person.login, Person.name, Person.role, _SIGNER.name)
_SIGNED = (
    select(
        SignIn.id,
        SignIn.csrf,
        SignIn.seen_at,
        SignIn.by_pin,
        SignIn.device_id,
        *_PERSON,
        _ZONE,
        _UNITS,
        _WORKS,
        Person.views,
    )
    .join(Person, Person.id == SignIn.person_id)
    .outerjoin(_SIGNER, _SIGNER.id == Person.works_under_id)
    .outerjoin(Device, Device.id == SignIn.device_id)
    .where(
        SignIn.token_hash == bindparam("digest"),
        SignIn.ended_at.is_(None),
        SignIn.ends_at > bindparam("now"),
        SignIn.seen_at > bindparam("since"),
        Person.removed_at.is_(None),
        or_(SignIn.by_pin.is_(False), Device.revoked_at.is_(None)),
    )
)


def signed(engine: Engine, digest: str, now: datetime, since: datetime) -> SignedRow | None:
    """The live sign-in of a cookie, last seen after `since`; None where it ended or its person was removed."""
    with engine.connect() as connection:
        row = connection.execute(_SIGNED, {"digest": digest, "now": now, "since": since}).first()
    return None if row is None else SignedRow._make(row)


def touch(session: Session, sign_in_id: int, now: datetime) -> None:
    """Seen just now."""
    session.execute(update(SignIn).where(SignIn.id == sign_in_id).values(seen_at=now))


class TokenRow(NamedTuple):
    """A live API token with its person."""

    scopes: str
    person_id: int
    login: str
    name: str
    role: str
    under: str | None
    zone: str | None


_TOKEN = (
    select(ApiToken.scopes, *_PERSON, _ZONE)
    .join(Person, Person.id == ApiToken.person_id)
    .outerjoin(_SIGNER, _SIGNER.id == Person.works_under_id)
    .where(
        ApiToken.token_hash == bindparam("digest"),
        ApiToken.revoked_at.is_(None),
        ApiToken.ends_at > bindparam("now"),
        Person.removed_at.is_(None),
    )
)


def token(engine: Engine, digest: str, now: datetime) -> TokenRow | None:
    """The live token of a bearer; None where it ended or its person was removed."""
    with engine.connect() as connection:
        row = connection.execute(_TOKEN, {"digest": digest, "now": now}).first()
    return None if row is None else TokenRow._make(row)


def by_login(session: Session, login: str) -> Person | None:
    """A person who isn't removed, by the very bytes of the name: the column takes e for é and s for ſ."""
    person = session.scalar(
        select(Person).where(Person.login == login, Person.removed_at.is_(None)).options(joinedload(Person.works_under))
    )
    return person if person is not None and person.login == login else None


def by_id(session: Session, person_id: int) -> Person | None:
    """A person who isn't removed."""
    return session.scalar(
        select(Person)
        .where(Person.id == person_id, Person.removed_at.is_(None))
        .options(joinedload(Person.works_under))
    )


def everyone(session: Session) -> list[PersonLine]:
    """All people, the removed ones last."""
    query = (
        select(
            Person.id, Person.login, Person.name, Person.role, func.coalesce(_SIGNER.login, ""),
            func.coalesce(_SIGNER.name, ""), Person.pin_hash.is_not(None), Person.added_at, Person.removed_at,
        )
        .outerjoin(_SIGNER, _SIGNER.id == Person.works_under_id)
        .order_by(Person.removed_at.is_not(None), Person.name)
    )  # fmt: skip
    return [PersonLine(*row) for row in session.execute(query)]


def apprentices_of(session: Session, person_id: int) -> Sequence[str]:
    """Names of those who work under someone."""
    query = select(Person.name).where(Person.works_under_id == person_id, Person.removed_at.is_(None))
    return session.scalars(query.order_by(Person.name)).all()


def with_pin(session: Session) -> list[tuple[str, str]]:
    """Those who can switch in by PIN on a shared device: sign-in name and name."""
    query = select(Person.login, Person.name).where(Person.removed_at.is_(None), Person.pin_hash.is_not(None))
    return [(login, name) for login, name in session.execute(query.order_by(Person.name))]


def device_of(session: Session, digest: str) -> Device | None:
    """The enrolled device of a cookie."""
    return session.scalar(select(Device).where(Device.token_hash == digest, Device.revoked_at.is_(None)))


def devices(session: Session) -> list[DeviceLine]:
    """All devices, the revoked ones last."""
    query = select(Device).order_by(Device.revoked_at.is_not(None), Device.name)
    return [line_of(DeviceLine, row) for row in session.scalars(query)]


def tokens_of(session: Session, person_id: int) -> list[TokenLine]:
    """A person's tokens, newest first."""
    query = select(ApiToken).where(ApiToken.person_id == person_id).order_by(ApiToken.made_at.desc())
    return [line_of(TokenLine, row) for row in session.scalars(query)]


def sign_ins_of(session: Session, person_id: int, now: datetime) -> list[SignInLine]:
    """Where a person is signed in now, newest first, some of them; the older ones show as these are ended."""
    query = select(SignIn).where(SignIn.person_id == person_id, SignIn.ended_at.is_(None), SignIn.ends_at > now)
    query = query.order_by(SignIn.began_at.desc()).limit(MOST_SHOWN)
    return [line_of(SignInLine, row) for row in session.scalars(query)]


def end_sign_ins(session: Session, person_id: int, now: datetime, only: int | None = None) -> None:
    """End one sign-in of a person, or all of them."""
    query = update(SignIn).where(SignIn.person_id == person_id, SignIn.ended_at.is_(None)).values(ended_at=now)
    session.execute(query if only is None else query.where(SignIn.id == only))


def end_keys(session: Session, person_id: int, now: datetime) -> None:
    """Every other way in: API tokens and the PIN."""
    revoke_tokens(session, person_id, now)
    session.execute(update(Person).where(Person.id == person_id).values(pin_hash=None))


def revoke_tokens(session: Session, person_id: int, now: datetime, only: int | None = None) -> None:
    """Revoke one token of a person, or all of them."""
    query = update(ApiToken).where(ApiToken.person_id == person_id, ApiToken.revoked_at.is_(None))
    query = query.values(revoked_at=now)
    session.execute(query if only is None else query.where(ApiToken.id == only))


def locked_tries(session: Session, whats: Sequence[str], now: datetime) -> Sequence[WrongTry]:
    """What is known of tries on these; nobody else tries on them until the transaction ends.

    Always in the same order, so that two who try at once never wait for one another.
    """
    made = insert(WrongTry).values([{"what": what, "times": 0, "last_at": now} for what in sorted(whats)])
    session.execute(made.on_duplicate_key_update(what=WrongTry.what))
    query = select(WrongTry).where(WrongTry.what.in_(whats)).order_by(WrongTry.what).with_for_update()
    return session.scalars(query.execution_options(populate_existing=True)).all()


def forget_old_tries(session: Session, before: datetime) -> None:
    """Tries that nobody counts any more. At a start only: it goes through the whole table."""
    session.execute(delete(WrongTry).where(WrongTry.last_at < before))


def forget_wrong(session: Session, whats: Sequence[str]) -> None:
    """The right secret was given."""
    session.execute(delete(WrongTry).where(WrongTry.what.in_(whats)))


def one_less(session: Session, what: str) -> None:
    """A try that was counted before it was checked, and was right."""
    session.execute(update(WrongTry).where(WrongTry.what == what, WrongTry.times > 0).values(times=WrongTry.times - 1))
