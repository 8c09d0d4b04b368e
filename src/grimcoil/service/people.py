"""Keeping people: add, remove, change; passwords and PINs; shared devices; API tokens."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.errors import Forbidden, RecordRefusal, Unknown
from grimcoil.core.people import (
    MAY,
    Action,
    Actor,
    Role,
    Scope,
    check_login,
    check_name,
    check_pin,
    check_role,
    plain_login,
)
from grimcoil.service.again import stands_in
from grimcoil.service.register import note_changes
from grimcoil.service.secrets import check_password, digest, hashed, new_token
from grimcoil.service.signing_in import actor_of
from grimcoil.store import people as rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.lines import DeviceLine, PersonLine, SignInLine, TokenLine
from grimcoil.store.people_tables import ApiToken, Device, Person

COMMAND_LINE = Actor(None, "command line", Role.ADMINISTRATOR, origin="command line")
TOKEN_LASTS = timedelta(days=365)


@dataclass(frozen=True, slots=True)
class NewPerson:
    """Someone to add. `under`: sign-in name of the signer an apprentice works under."""

    login: str
    name: str
    role: str
    password: str
    under: str = ""


def add_person(store: Store, actor: Actor, new: NewPerson, now: datetime) -> str:
    """Add someone; returns the sign-in name. Raises Forbidden, RecordRefusal."""
    actor.need(Action.MANAGE_PEOPLE)
    login, name, role = check_login(new.login), check_name(new.name), check_role(new.role)
    if role is Role.ADMINISTRATOR and actor.person_id is not None:
        raise RecordRefusal("role", role, "administrators are added on the command line: grimcoil people add")
    check_password(new.password, login, name)
    try:
        with store.begin() as session:
            person = Person(
                login=login, name=name, role=role.value, password_hash=hashed(new.password), added_at=now
            )  # fmt: skip
            person.works_under_id = _signer(session, role, new.under)
            session.add(person)
            note_changes(session, actor, now, person)
            trail.write(session, actor, "person added", now, detail=f"{name} ({login}), {role.value}")
    except IntegrityError as error:
        if not stands_in(error, "person"):
            raise
        raise RecordRefusal("sign-in name", login, "one that nobody has or had, and a name likewise") from None
    return login


def _signer(session: Session, role: Role, under: str) -> int | None:
    if role is not Role.APPRENTICE:
        return None
    signer = rows.by_login(session, plain_login(under))
    if signer is None or Action.SIGN not in MAY[Role(signer.role)]:
        raise RecordRefusal("works under", under[:40], "the sign-in name of an electrician, who signs")
    return signer.id


def _person(session: Session, login: str) -> Person:
    person = rows.by_login(session, plain_login(login))
    if person is None:
        raise Unknown("sign-in name", login[:40], "someone on the list of people")
    return person


def _nobody_under(session: Session, person: Person) -> None:
    names = rows.apprentices_of(session, person.id)
    if names:
        raise RecordRefusal("sign-in name", person.login, f"first another signer for {', '.join(names)}")


def remove_person(store: Store, actor: Actor, login: str, now: datetime) -> None:
    """Remove someone: every sign-in and token ends; the record keeps the name."""
    actor.need(Action.MANAGE_PEOPLE)
    with store.begin() as session:
        person = _person(session, login)
        if person.id == actor.person_id:
            raise RecordRefusal("sign-in name", login, "someone else: nobody removes themselves")
        _nobody_under(session, person)
        person.removed_at = now
        note_changes(session, actor, now, person)
        rows.end_sign_ins(session, person.id, now)
        rows.end_keys(session, person.id, now)
        trail.write(session, actor, "person removed", now, detail=f"{person.name} ({person.login})")


def change_role(store: Store, actor: Actor, login: str, role: str, under: str, now: datetime) -> None:
    """Another role; open sign-ins go on with it, API tokens and PIN end."""
    actor.need(Action.MANAGE_PEOPLE)
    wanted = check_role(role)
    with store.begin() as session:
        person = _person(session, login)
        if actor.person_id is not None and Role.ADMINISTRATOR in (wanted, Role(person.role)):
            raise RecordRefusal("role", role, "administrators are kept on the command line: grimcoil people role")
        if Action.SIGN not in MAY[wanted]:
            _nobody_under(session, person)
        person.works_under_id = _signer(session, wanted, under)
        person.role = wanted.value
        note_changes(session, actor, now, person)
        rows.end_keys(session, person.id, now)
        trail.write(session, actor, "role changed", now, detail=f"{person.name} ({person.login}), {wanted.value}")


def reset_password(store: Store, actor: Actor, login: str, password: str, now: datetime) -> None:
    """A new password for someone; every sign-in of theirs ends, API tokens and PIN too."""
    actor.need(Action.MANAGE_PEOPLE)
    with store.begin() as session:
        person = _person(session, login)
        if actor.person_id is not None and person.role == Role.ADMINISTRATOR and person.id != actor.person_id:
            raise RecordRefusal("sign-in name", login, "an administrator's password is set on the command line")
        check_password(password, person.login, person.name)
        person.password_hash = hashed(password)
        rows.end_sign_ins(session, person.id, now)
        rows.end_keys(session, person.id, now)
        trail.write(session, actor, "password set", now, detail=f"{person.name} ({person.login})")


def change_own_password(store: Store, actor: Actor, password: str, now: datetime, keys_too: bool = False) -> None:
    """A new password of one's own (the old one is confirmed before); other sign-ins end with this one, API tokens and
    PIN where it is asked for.
    """
    check_password(password, actor.login, actor.name)
    with store.begin() as session:
        person = _person(session, actor.login)
        person.password_hash = hashed(password)
        rows.end_sign_ins(session, person.id, now)
        if keys_too:
            rows.end_keys(session, person.id, now)
        trail.write(session, actor, "password changed", now, detail="tokens and PIN ended" if keys_too else "")


def set_own_pin(store: Store, actor: Actor, pin: str, now: datetime) -> None:
    """A PIN of one's own (the password is confirmed before); empty takes it away."""
    checked = check_pin(pin) if pin else ""
    with store.begin() as session:
        _person(session, actor.login).pin_hash = hashed(checked) if checked else None
        trail.write(session, actor, "PIN set" if checked else "PIN taken away", now)


@dataclass(frozen=True, slots=True)
class People:
    """The list of people and the shared devices."""

    people: Sequence[PersonLine]
    devices: Sequence[DeviceLine]


def people(store: Store, actor: Actor) -> People:
    """For those who keep it."""
    actor.need(Action.MANAGE_PEOPLE)
    with store() as session:
        return People(rows.everyone(session), rows.devices(session))


@dataclass(frozen=True, slots=True)
class Own:
    """What a person keeps of their own."""

    has_pin: bool
    sign_ins: Sequence[SignInLine]
    tokens: Sequence[TokenLine]

    @property
    def has_keys(self) -> bool:
        """Whether there is another way in than the password."""
        return self.has_pin or any(one.revoked_at is None for one in self.tokens)


def own(store: Store, actor: Actor, now: datetime) -> Own:
    """Sign-ins and tokens of the person who asks."""
    with store() as session:
        person = _person(session, actor.login)
        tokens = rows.tokens_of(session, person.id)
        return Own(person.pin_hash is not None, rows.sign_ins_of(session, person.id, now), tokens)


def enrol_device(store: Store, actor: Actor, name: str, now: datetime) -> str:
    """Enrol a shared device; returns its cookie's value."""
    actor.need(Action.ENROL_DEVICE)
    token = new_token()
    try:
        with store.begin() as session:
            device = Device(name=check_name(name), token_hash=digest(token), enrolled_at=now, enrolled_by=actor.who)
            session.add(device)
            session.flush()
            trail.write(session, actor, "device enrolled", now, detail=device.name)
    except IntegrityError as error:
        if not stands_in(error, "device"):
            raise
        raise RecordRefusal("device", name[:40], "a name that no device has or had") from None
    return token


def revoke_device(store: Store, actor: Actor, device_id: int, now: datetime) -> None:
    """PINs stop working there at once, and with them every sign-in made by one."""
    actor.need(Action.ENROL_DEVICE)
    with store.begin() as session:
        device = session.get(Device, device_id)
        if device is None:
            raise Unknown("device", str(device_id), "a device on the list")
        if device.revoked_at is None:
            device.revoked_at = now
            trail.write(session, actor, "device revoked", now, detail=device.name)


def pin_people(store: Store, device_token: str) -> tuple[str, Sequence[tuple[str, str]]]:
    """The name of the device and who can switch in there, by sign-in name and name; no name where it isn't enrolled."""
    if not device_token:
        return "", ()
    with store() as session:
        device = rows.device_of(session, digest(device_token))
        return ("", ()) if device is None else (device.name, rows.with_pin(session))


def actor_named(store: Store, login: str) -> Actor:
    """Someone of the list, for whom a command is run. Raises Unknown."""
    with store() as session:
        person = rows.by_login(session, plain_login(login))
        if person is None or person.removed_at is not None:
            raise Unknown("by", login, "the sign-in name of someone on the list")
        return actor_of(person, "command line")


def make_token(store: Store, actor: Actor, name: str, scopes: Sequence[str], now: datetime) -> str:
    """An API token; its text is known here and nowhere else."""
    actor.need(Action.KEEP_TOKENS)
    if actor.device_id is not None:
        raise Forbidden("To make an API token", "signed in by PIN", "sign in with your password, on a device of yours")
    wanted = {scope for scope in scopes if scope in [known.value for known in Scope]}
    if not wanted or len(wanted) != len(set(scopes)):
        raise RecordRefusal("scopes", " ".join(scopes)[:60], f"one or more of {', '.join(Scope)}")
    label = check_name(name)
    token = f"gc_{new_token()}"
    with store.begin() as session:
        made = ApiToken(name=label, token_hash=digest(token), scopes=" ".join(sorted(wanted)), made_at=now)
        made.person_id, made.ends_at = _person(session, actor.login).id, now + TOKEN_LASTS
        session.add(made)
        trail.write(session, actor, "token made", now, detail=f"{label}: {made.scopes}")
    return token


def revoke_token(store: Store, actor: Actor, token_id: int, now: datetime) -> None:
    """One's own token ends."""
    actor.need(Action.KEEP_TOKENS)
    with store.begin() as session:
        rows.revoke_tokens(session, _person(session, actor.login).id, now, token_id)
        trail.write(session, actor, "token revoked", now, detail=str(token_id))
