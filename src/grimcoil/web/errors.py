"""Refusals become HTTP here and nowhere else."""

from __future__ import annotations

import logging
import secrets

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from sqlalchemy.exc import OperationalError
from starlette.exceptions import HTTPException
from starlette.responses import Response

from grimcoil.core.errors import AlreadyKept, GateClosed, Refusal, Unknown
from grimcoil.web.security import HEADERS

log = logging.getLogger("grimcoil")


def status_of(refusal: Refusal) -> int:
    """404 for the unknown, 409 for what the job's state forbids, 422 for what can't be read."""
    if isinstance(refusal, Unknown):
        return 404
    return 409 if isinstance(refusal, (GateClosed, AlreadyKept)) else 422


def install(app: FastAPI) -> None:
    """Register the handlers."""

    def page(request: Request, status: int, title: str, words: str) -> Response:
        state = request.app.state.grimcoil
        context = {"title": title, "words": words, "place": "", "follow": []}
        return state.templates.TemplateResponse(request, "error.html", context, status_code=status)  # type: ignore[no-any-return]

    @app.exception_handler(Refusal)
    def refused(request: Request, error: Refusal) -> Response:
        status = status_of(error)
        return page(request, status, "Not on record" if status == 404 else "Not accepted", error.sentence())

    @app.exception_handler(RequestValidationError)
    def unreadable(request: Request, error: RequestValidationError) -> Response:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"][1:]) or "address"
        return page(request, 422, "Not accepted", f"{where}: {first['msg'].lower()}.")

    @app.exception_handler(HTTPException)
    def http(request: Request, error: HTTPException) -> Response:
        words = "There is no such page." if error.status_code == 404 else str(error.detail)
        return page(request, error.status_code, "Not found" if error.status_code == 404 else "Not accepted", words)

    @app.exception_handler(Exception)
    def broken(request: Request, error: Exception) -> Response:
        """Whatever nobody foresaw: a number for the person, the whole of it under that number in the log."""
        number = secrets.token_hex(4)
        log.error("error %s at %s %s", number, request.method, request.url.path, exc_info=error)
        words = (
            f"Something broke on our side. What you kept before is kept. Its number is {number}: tell it with the time."
        )
        answer = page(request, 500, "Not done", words)
        answer.headers.update(HEADERS)  # no guard stands round this answer
        return answer

    @app.exception_handler(OperationalError)
    def away(request: Request, _error: OperationalError) -> Response:
        words = "The database doesn't answer. Nothing you kept is lost; what you just typed was not kept. Try again."
        return page(request, 503, "Database away", words)
