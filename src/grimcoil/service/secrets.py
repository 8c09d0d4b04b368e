"""Secrets: argon2id for what people remember, SHA-256 for what machines do (long and random), strength by zxcvbn."""

from __future__ import annotations

import hashlib
import secrets
from threading import BoundedSemaphore

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.people import check_password_length

HASHER = PasswordHasher()  # argon2id; the library's parameters follow RFC 9106's second choice
AT_ONCE = 1  # each takes 64 MiB while it lasts; the others wait their turn
_GATE = BoundedSemaphore(AT_ONCE)
OWN_CHARACTERS = 8  # that have to be left without the person's names
WEAKEST = 2  # zxcvbn's score: more than a million guesses


def hashed(secret: str) -> str:
    """What is stored of a password or PIN."""
    with _GATE:
        return HASHER.hash(secret)


def new_token() -> str:
    """256 bits, fit for cookies and headers."""
    return secrets.token_urlsafe(32)


def digest(token: str) -> str:
    """What is stored of a token."""
    return hashlib.sha256(token.encode("utf-8", "surrogatepass")).hexdigest()


def fits(stored: str | None, given: str) -> bool:
    """The secret fits. Takes as long where there is none to compare with."""
    try:
        against = stored or _nobody()
        with _GATE:
            return HASHER.verify(against, given) and stored is not None
    except (VerificationError, InvalidHashError):
        return False


_kept: list[str] = []


def _nobody() -> str:
    if not _kept:
        _kept.append(hashed(new_token()))
    return _kept[0]


def check_password(text: str, login: str, name: str) -> None:
    """Long enough, not among the common ones, not made of the person's names. Raises RecordRefusal."""
    from zxcvbn import zxcvbn  # noqa: PLC0415  its word lists take a while to load, and few requests need them

    check_password_length(text)
    rest = text.casefold()
    for own in (login, *name.casefold().split()):
        rest = rest.replace(own, "")
    if len(rest) < OWN_CHARACTERS:
        raise RecordRefusal("password", "", "another one (it is made of your own name); a few odd words do well")
    found = zxcvbn(text[:72], user_inputs=[login, *name.split(), "grim", "coil", "grimcoil"])
    if found["score"] < WEAKEST:
        hint = found["feedback"]["warning"] or "it would be guessed soon"
        raise RecordRefusal("password", "", f"another one ({hint.rstrip('.').lower()}); a few odd words do well")
