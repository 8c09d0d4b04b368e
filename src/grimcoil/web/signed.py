"""Who asks: the sign-in of a cookie for pages, the token of a bearer for the API; and proof that a change was asked
by a page of that very sign-in.
"""

from __future__ import annotations

import hmac
from typing import Annotated

from fastapi import Depends, Request
from starlette.responses import Response

from grimcoil.core.people import Actor
from grimcoil.service.signing_in import LONGEST, Signed, token_of, who_is
from grimcoil.settings import Settings
from grimcoil.web.needs import need_first
from grimcoil.web.security import SAFE
from grimcoil.web.state import State

DEVICE_LASTS_S = 31_536_000


class SignedOut(Exception):
    """Nobody is signed in, or the sign-in has ended."""


class NotOurForm(Exception):
    """A change without the word that stands in each form of this sign-in."""


class NoToken(Exception):
    """The API was asked without a live token."""


def cookie_name(settings: Settings, what: str) -> str:
    """`gc_…`; over TLS with the prefix that ties a cookie to this host alone."""
    return f"__Host-gc_{what}" if settings.https else f"gc_{what}"


def origin_of(request: Request) -> str:
    """Where from, for the trail."""
    return request.client.host[:60] if request.client else ""


def signed_in(request: Request, state: State) -> Signed:
    """The live sign-in. Raises SignedOut."""
    token = request.cookies.get(cookie_name(state.settings, "session"), "")
    found = who_is(state.engine, state.store, token, origin_of(request), state.clock()) if token else None
    if found is None:
        raise SignedOut
    request.state.signed, request.state.zone, request.state.units = found, found.zone, found.units
    return found


def me_of(request: Request) -> Signed | None:
    """Who this request was found to be signed in as, if anyone."""
    found: Signed | None = getattr(request.state, "signed", None)
    return found


Me = Annotated[Signed, Depends(signed_in)]


async def from_own_form(request: Request, signed: Me) -> None:
    """Raises NotOurForm for a change without this sign-in's word, in a header or a form field."""
    if request.method in SAFE:
        return
    header = request.headers.get("x-csrf-token")
    given = header if header is not None else (await request.form()).get("csrf")
    if not isinstance(given, str) or not hmac.compare_digest(given.encode(), signed.csrf.encode()):
        raise NotOurForm
    need_first(request, signed.actor)


def bearer(request: Request, state: State) -> Actor:
    """Whom an API token acts for. Raises NoToken."""
    kind, _, token = request.headers.get("authorization", "").partition(" ")
    found = None
    if kind.casefold() == "bearer" and token:
        found = token_of(state.engine, token.strip(), origin_of(request), state.clock())
    if found is None:
        raise NoToken
    request.state.zone = found.zone
    need_first(request, found.actor)
    return found.actor


TokenActor = Annotated[Actor, Depends(bearer)]


def set_cookie(answer: Response, settings: Settings, what: str, token: str, lasts_s: int | None = None) -> None:
    """A cookie that scripts can't read and other sites can't send."""
    answer.set_cookie(
        cookie_name(settings, what),
        token,
        max_age=lasts_s if lasts_s is not None else int(LONGEST.total_seconds()),
        httponly=True,
        samesite="lax" if what == "session" else "strict",
        secure=settings.https,
        path="/",
    )


def local(address: str) -> str:
    """A place on this site to go to, whatever a form says."""
    inside = address.startswith("/") and not address.startswith(("//", "/\\")) and address.isprintable()
    return address if inside else "/"
