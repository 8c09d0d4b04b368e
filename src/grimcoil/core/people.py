"""Who may do what: roles and actions as one table, the person who acts, and what guards a secret.

The table is the site's division of work (common practice, no published source): an apprentice measures under a signer,
an electrician answers for the job, a planner keeps the register, a reader reads, an administrator keeps people and
devices and touches no record.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from itertools import pairwise

from grimcoil.core.days import day_told
from grimcoil.core.errors import Forbidden, FormRefused, RecordRefusal


class Role(StrEnum):
    """What a person is on this site."""

    READER = "reader"
    APPRENTICE = "apprentice"
    ELECTRICIAN = "electrician"
    PLANNER = "planner"
    ADMINISTRATOR = "administrator"


class Action(StrEnum):
    """What can be done, in the words of a refusal. Reading is every role's."""

    READ = "read the records"
    READ_DUE = "read what is due"
    REGISTER_MOTOR = "register a motor"
    START_JOB = "start a job"
    KEEP_ENTRY = "save a reading"
    TAKE_BACK = "undo a reading"
    TAKE_BACK_OTHERS = "undo what someone else saved, or what is older than a day"
    OVERRULE = "skip a step or override a gate"
    DECIDE = "decide"
    SIGN = "sign"
    AMEND = "amend a signed job"
    MARK_LEADS = "save the markings of leads"
    CHANGE_WINDING = "start a new winding record"
    KEEP_TASKS = "open and close tasks"
    CLOSE_ANY_TASK = "close a task that is someone else's"
    KEEP_INSTRUMENTS = "change the instruments"
    KEEP_WORKS = "change the plant's settings"
    READ_TRAIL = "read the audit trail"
    KEEP_TOKENS = "make API tokens"
    MANAGE_PEOPLE = "manage people"
    ENROL_DEVICE = "enrol a shared device"
    TAKE_ARCHIVE = "take the plant's archive"


OWN_WITHIN = timedelta(days=1)
LONGEST_WHY = 200
_MEASURES = {Action.START_JOB, Action.KEEP_ENTRY, Action.TAKE_BACK, Action.MARK_LEADS, Action.KEEP_TASKS}
_OTHERS = {Action.MANAGE_PEOPLE, Action.ENROL_DEVICE, Action.TAKE_ARCHIVE, Action.CLOSE_ANY_TASK}
_READS = {Action.READ, Action.READ_DUE, Action.READ_TRAIL, Action.KEEP_TOKENS}
MAY: Mapping[Role, frozenset[Action]] = {
    Role.READER: frozenset(_READS),
    Role.APPRENTICE: frozenset(_READS | _MEASURES),
    Role.ELECTRICIAN: frozenset(set(Action) - _OTHERS),
    Role.PLANNER: frozenset(
        _READS
        | {
            Action.REGISTER_MOTOR,
            Action.START_JOB,
            Action.MARK_LEADS,
            Action.CHANGE_WINDING,
            Action.KEEP_INSTRUMENTS,
            Action.KEEP_WORKS,
            Action.KEEP_TASKS,
            Action.CLOSE_ANY_TASK,
        }
    ),
    Role.ADMINISTRATOR: frozenset(_READS | {Action.MANAGE_PEOPLE, Action.ENROL_DEVICE, Action.TAKE_ARCHIVE}),
}


# What a role is for, in a sentence: shown to who has it, and to who gives it.
ROLE_WORDS: Mapping[Role, str] = {
    Role.READER: "Reads everything and changes nothing.",
    Role.APPRENTICE: "Starts jobs and saves readings under an electrician, who decides and signs.",
    Role.ELECTRICIAN: "Measures, overrides a gate with a reason, decides, signs and amends.",
    Role.PLANNER: "Keeps register, instruments and tasks, and prepares jobs. Saves no reading and signs nothing.",
    Role.ADMINISTRATOR: "Manages people, shared tablets and the archive. Changes no record.",
}


def who_may(action: Action) -> list[Role]:
    """The roles that may do something.

    >>> [role.value for role in who_may(Action.SIGN)]
    ['electrician']
    """
    return [role for role in Role if action in MAY[role]]


class Scope(StrEnum):
    """What an API token may do, within its person's role. No token signs, decides or keeps people."""

    READ = "read"
    RECORD = "record"
    REGISTER = "register"
    CALENDAR = "calendar"


BY_SCOPE: Mapping[Scope, frozenset[Action]] = {
    Scope.READ: frozenset({Action.READ, Action.READ_DUE, Action.READ_TRAIL}),
    Scope.RECORD: frozenset({Action.START_JOB, Action.KEEP_ENTRY, Action.TAKE_BACK}),
    Scope.REGISTER: frozenset({Action.REGISTER_MOTOR}),
    Scope.CALENDAR: frozenset({Action.READ_DUE}),
}


@dataclass(frozen=True, slots=True)
class Actor:
    """Who acts, from where. `under`: the signer an apprentice works under. `scopes`: set where a token acts."""

    person_id: int | None
    name: str
    role: Role
    under: str = ""
    origin: str = ""
    login: str = ""
    device_id: int | None = None
    scopes: frozenset[Scope] | None = None

    @property
    def who(self) -> str:
        """As it stands on the record."""
        if self.role is Role.APPRENTICE:
            return f"{self.name} (apprentice under {self.under})"
        return self.name

    def may(self, action: Action) -> bool:
        """By role, and by the token's scopes where one acts."""
        if action not in MAY[self.role]:
            return False
        return self.scopes is None or any(action in BY_SCOPE[scope] for scope in self.scopes)

    def kept(self, who: str) -> bool:
        """Whether `who` of a record is this person, as an apprentice under whomever."""
        return who.partition(" (")[0] == self.name

    def need_take_back(self, who: str, at: datetime, now: datetime, reason: str) -> str:
        """Why this may go, one line: one's own within a day without a word, later and someone else's as the roles say.

        Raises Forbidden, FormRefused where someone else's goes without a reason.
        """
        self.need(Action.TAKE_BACK)
        why = " ".join(reason.split())[:LONGEST_WHY]
        if self.kept(who) and (now - at <= OWN_WITHIN or self.may(Action.TAKE_BACK_OTHERS)):
            return why
        self.need(Action.TAKE_BACK_OTHERS)
        if not why:
            raise FormRefused({"reason": f"{who} kept it on {day_told(at)}: say in a sentence why it goes."})
        return why

    def need(self, action: Action) -> None:
        """Raise Forbidden where this person may not."""
        if self.may(action):
            return
        if action in MAY[self.role]:
            granted = ", ".join(sorted(self.scopes or ())) or "none"
            raise Forbidden(f"To {action}", f"a token with the scopes: {granted}", "sign in, or make a token for it")
        able = [role.value for role in Role if action in MAY[role]]
        raise Forbidden(f"To {action}", f"signed in as {self.role.value}", f"this is for: {', '.join(able)}")


LONGEST_NAME = 60
_LOGIN = re.compile(r"[a-z][a-z0-9.-]{1,39}")


_SMALL = str.maketrans("ABCDEFGHIJKLMNOPQRSTUVWXYZ", "abcdefghijklmnopqrstuvwxyz")


def plain_login(text: str) -> str:
    """A sign-in name as it is compared, byte by byte. Blanks round it and capital A to Z don't count, all else does.

    >>> plain_login(" R.Amsel "), plain_login("R.Ämsel") == "r.amsel"
    ('r.amsel', False)
    """
    return text.strip(" \t").translate(_SMALL)


def check_login(text: str) -> str:
    """A sign-in name: 2 to 40 small letters, digits, dots, dashes. Raises RecordRefusal.

    >>> check_login(" R.Amsel ")
    'r.amsel'
    """
    login = plain_login(text)
    if not _LOGIN.fullmatch(login):
        raise RecordRefusal(
            "sign-in name", text[:40], "2 to 40 letters a to z, digits, dots, dashes; a letter first", "r.amsel"
        )
    return login


def check_name(text: str) -> str:
    """The name that stands beside readings: 2 to 60 characters. Raises RecordRefusal."""
    name = " ".join(text.split())
    if not 2 <= len(name) <= LONGEST_NAME or not name.isprintable():
        raise RecordRefusal("name", text[:40], f"2 to {LONGEST_NAME} characters; it stands on the record", "R. Amsel")
    return name


def check_role(text: str) -> Role:
    """One of the roles. Raises RecordRefusal."""
    if text not in [role.value for role in Role]:
        raise RecordRefusal("role", text[:40], f"one of {', '.join(Role)}", "electrician")
    return Role(text)


# Lengths, free tries and waits are this product's choice, in the common run of practice without a source; NIST SP
# 800-63B asks for at least 8 characters and a check against common ones (from memory).
SHORTEST_PASSWORD, LONGEST_PASSWORD = 10, 200


def check_password_length(text: str) -> None:
    """10 to 200 characters. Raises RecordRefusal, which never repeats the password."""
    if not SHORTEST_PASSWORD <= len(text) <= LONGEST_PASSWORD:
        raise RecordRefusal(
            "password", "", f"{SHORTEST_PASSWORD} to {LONGEST_PASSWORD} characters; a few odd words do well"
        )


def check_pin(text: str) -> str:
    """6 digits that are no run and no repetition. Raises RecordRefusal, which never repeats the PIN.

    >>> check_pin("480917")
    '480917'
    """
    if not re.fullmatch(r"[0-9]{6}", text):
        raise RecordRefusal("PIN", "", "six digits")
    steps = {(int(b) - int(a)) % 10 for a, b in pairwise(text)}
    if len(steps) == 1 or len(set(text)) < 3:
        raise RecordRefusal("PIN", "", "six digits that are no run and not the same over and over")
    return text


FREE_TRIES = 4
LONGEST_WAIT_S = 900


def wait_s(failures: int) -> int:
    """Seconds to wait after so many wrong secrets in a row: none for the first 4, then 2, 4, 8 … up to 15 minutes.

    >>> [wait_s(n) for n in (4, 5, 6, 7, 20)]
    [0, 2, 4, 8, 900]
    """
    return 0 if failures <= FREE_TRIES else min(2 ** min(failures - FREE_TRIES, 20), LONGEST_WAIT_S)
