"""Refusals become HTTP here and nowhere else: a page for people, a document for the API, and for a form that could not
be kept, the form itself with all that was typed, to be sent again.
"""

from __future__ import annotations

from typing import Any, cast
from uuid import uuid4

import structlog
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from sqlalchemy.exc import IntegrityError, InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as NoneToLend
from starlette.datastructures import UploadFile
from starlette.exceptions import HTTPException
from starlette.responses import JSONResponse, PlainTextResponse, RedirectResponse, Response

from grimcoil.core.errors import AlreadyKept, Forbidden, GateClosed, Refusal, Unknown
from grimcoil.service.again import is_conflict, number_of
from grimcoil.service.sent import KeyReused
from grimcoil.web.logs import path_of, request_id
from grimcoil.web.security import HEADERS
from grimcoil.web.signed import NoToken, NotOurForm, SignedOut, local
from grimcoil.web.urls import Urls
from grimcoil.web.versions import HostOutdated

log = structlog.get_logger("grimcoil")
NEVER_SHOWN = {"csrf", "password", "again", "secret", "pin", "page_word"}
RETRY_S = 3
# MariaDB's numbers: a table, its file system or its temporary space is full; no more connections.
FULL = frozenset({1021, 1030, 1114, 1041})
TOO_MANY = frozenset({1040, 1203, 1226})


def status_of(refusal: Refusal) -> int:
    """404 for the unknown, 403 for what isn't this person's, 409 for what the job's state forbids, else 422."""
    if isinstance(refusal, Unknown):
        return 404
    if isinstance(refusal, Forbidden):
        return 403
    return 409 if isinstance(refusal, (GateClosed, AlreadyKept)) else 422


def install(app: FastAPI) -> None:
    """Register the handlers."""
    for kind, handler in (
        (Refusal, refused),
        (RequestValidationError, unreadable),
        (HTTPException, http),
        (SignedOut, signed_out),
        (NotOurForm, not_our_form),
        (KeyReused, key_reused),
        (NoToken, no_token),
        (OperationalError, away),
        (InterfaceError, away),
        (IntegrityError, contested),
        (NoneToLend, away),
        (HostOutdated, outdated),
        (Exception, broken),
    ):
        app.exception_handler(kind)(handler)


def _for_api(request: Request) -> bool:
    return request.url.path.startswith(Urls.api)


Held = list[tuple[str, str]]


def _answer(request: Request, status: int, title: str, words: str, held: Held | None = None) -> Response:
    state = request.app.state.grimcoil
    context: dict[str, Any] = {"title": title, "words": words, "place": "", "follow": (), "held": held or []}
    return state.templates.TemplateResponse(request, "error.html", context, status_code=status)  # type: ignore[no-any-return]


def _document(status: int, refusal: Refusal) -> Response:
    told = {"path": refusal.where, "found": refusal.found, "accepted": refusal.accepted, "example": refusal.example}
    told["do"] = refusal.do
    return JSONResponse({"error": told}, status)


async def _held(request: Request, word_too: bool = False) -> Held | None:
    """What was typed into a form that could not be kept, without its secrets; None where there was no form, or one with
    a file: a page can't hold that, the browser's step back still has it.
    """
    if request.method != "POST" or "form" not in request.headers.get("content-type", ""):
        return None
    try:
        form = await request.form()
    except (HTTPException, RuntimeError):  # unreadable, or read already
        return None
    texts = [(name, value) for name, value in form.multi_items() if not isinstance(value, UploadFile)]
    if len(texts) < len(form.multi_items()):
        return None
    hidden = NEVER_SHOWN - {"csrf"} if word_too and not hasattr(request.state, "signed") else NEVER_SHOWN
    return [(name, value) for name, value in texts if name not in hidden]


async def refused(request: Request, error: Exception) -> Response:
    """What the services refuse."""
    refusal = cast("Refusal", error)
    status = status_of(refusal)
    if _for_api(request):
        return _document(status, refusal)
    if status == 403 and request.headers.get("hx-request") == "true":
        return PlainTextResponse(refusal.whole(), 403)
    title = {404: "Not on record", 403: "Not allowed for your role"}.get(status, "Not accepted")
    return _answer(request, status, title, refusal.whole())


async def unreadable(request: Request, error: Exception) -> Response:
    """What a form or an address says that can't be read."""
    first = cast("RequestValidationError", error).errors()[0]
    where = ".".join(str(part) for part in first["loc"][1:]) or "address"
    if _for_api(request):
        return _document(422, Refusal(where, "", first["msg"].lower()))
    return _answer(request, 422, "Not accepted", f"{where}: {first['msg'].lower()}.")


async def http(request: Request, error: Exception) -> Response:
    """What the router refuses."""
    told = cast("HTTPException", error)
    if _for_api(request):
        answer = _document(told.status_code, Refusal("address", "", str(told.detail).lower()))
    else:
        missing = told.status_code == 404
        words = "There is no such page." if missing else str(told.detail)
        answer = _answer(request, told.status_code, "Not found" if missing else "Not accepted", words)
    answer.headers.update(told.headers or {})
    return answer


async def signed_out(request: Request, _error: Exception) -> Response:
    """To the sign-in page and back; a form that was posted is held until then."""
    if request.headers.get("hx-request") == "true":
        return PlainTextResponse("You are signed out. Sign in again in another tab, then press the key again.", 401)
    if request.method in ("GET", "HEAD"):
        query = f"?{request.url.query}" if request.url.query else ""
        return RedirectResponse(Urls.sign_in_for(local(request.url.path + query)), 303)
    words = "You are signed out. Sign in in another tab, then send this again."
    return _answer(request, 401, "Signed out", words, await _held(request))


async def not_our_form(request: Request, _error: Exception) -> Response:
    """A change without its sign-in's word: by another site, or from a page of an earlier sign-in."""
    words = "This form is from an earlier sign-in, or not from these pages; nothing was changed."
    if request.headers.get("hx-request") == "true":
        signed = request.state.signed
        told = f"{words} You are signed in as {signed.actor.name} now: press the key again to go on under this name."
        return PlainTextResponse(told, 403, {"x-form-word": signed.csrf})
    return _answer(request, 403, "Not accepted", words, await _held(request))


async def key_reused(request: Request, error: Exception) -> Response:
    """A key that came with other content: what was typed is held under a new one, to be sent as a change of its own."""
    words = f"{cast('Refusal', error).sentence()} What you typed now is below."
    if request.headers.get("hx-request") == "true":
        return PlainTextResponse(words, 422)
    held = await _held(request)
    fresh = None if held is None else [(name, str(uuid4()) if name == "token" else value) for name, value in held]
    return _answer(request, 422, "Sent before", words, fresh)


async def no_token(_request: Request, _error: Exception) -> Response:
    """The API without a live token."""
    refusal = Refusal("authorization", "", "a live API token", "Authorization: Bearer gc_…")
    answer = _document(401, refusal)
    answer.headers["www-authenticate"] = "Bearer"
    return answer


def _why_away(error: Exception) -> tuple[str, str]:
    """A title, and what is wrong with the database as far as it says itself."""
    number = number_of(error)
    if number in FULL:
        return "Disk full", "The database's disk is full: whoever keeps this server has to make room."
    if number in TOO_MANY or isinstance(error, NoneToLend):
        return "Busy", "Too many ask the database at once."
    if is_conflict(error):
        return "Busy", "Somebody changed the same just now, and again when it was tried again."
    return "Database away", "The database doesn't answer."


async def away(request: Request, error: Exception) -> Response:
    """The database doesn't answer, is full or is asked by too many: say so, and come back by itself."""
    title, why = _why_away(error)
    log.warning("database away", path=path_of(request.scope), why=title)
    words = f"{why} Nothing you saved is lost."
    if _for_api(request):
        answer = _document(503, Refusal("database", "", "try again: under the same token nothing is saved twice"))
    elif request.method == "GET":
        answer = _answer(request, 503, title, f"{words} This page tries again by itself.")
        answer.headers["refresh"] = str(RETRY_S)
    else:
        held = await _held(request, word_too=True)  # whose sign-in it is can't be looked up now
        answer = _answer(request, 503, title, f"{words} What you sent was not saved yet: send it again.", held)
    answer.headers["retry-after"] = str(RETRY_S)
    return answer


async def outdated(request: Request, _error: Exception) -> Response:
    """Another host brought the database to a later version: this one only reads, and what was typed is held."""
    words = (
        "Another host has updated the database: this one is of an earlier version and saves nothing until it is updated"
    )
    if _for_api(request):
        return _document(503, Refusal("host", "an earlier version than the database", "a host that was updated"))
    return _answer(
        request, 503, "This host is out of date", f"{words}. Send it again then.", await _held(request, True)
    )


async def contested(request: Request, error: Exception) -> Response:
    """A key that stands, tried again: of two who did the same the other's is there. Anything else is our mistake."""
    return await (away if is_conflict(error) else broken)(request, error)


async def broken(request: Request, error: Exception) -> Response:
    """Whatever nobody foresaw: the request's number for the person, the whole of it under that number in the log."""
    number = request_id()
    log.error("unforeseen", exc_info=error, path=path_of(request.scope), method=request.method)
    words = (
        f"Error in Grim Coil, number {number}. What you saved before is safe. Give your administrator"
        f" this number and the time."
    )
    if _for_api(request):
        answer = _document(500, Refusal("server", number, "something broke on our side; tell the number with the time"))
    else:
        answer = _answer(request, 500, "Not done", words)
    answer.headers.update(HEADERS | {"x-request-id": number})  # no guard stands round this answer
    return answer
