"""The trail: who did what, when, to what, from where."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request
from pydantic import BeforeValidator, Field
from starlette.responses import Response, StreamingResponse

from grimcoil.exchange.trails import csv_lines
from grimcoil.service.trails import PAGE, Asked, every_line, read_trail
from grimcoil.web.again import Again
from grimcoil.web.signed import Me
from grimcoil.web.state import State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)
Word = Annotated[str, Query(max_length=60)]
Number = Annotated[Annotated[int, Field(ge=1, le=2**62)] | None, BeforeValidator(lambda text: text or None), Query()]
Day = Annotated[date | None, BeforeValidator(lambda text: text or None), Query()]


def asked(
    motor: Word = "", job: Number = None, person: Word = "", since: Day = None, until: Day = None, before: Number = None
) -> Asked:
    """Out of the address; an empty field means all."""
    return Asked(motor, job, person, since, until, before)


Given = Annotated[Asked, Depends(asked)]


@router.get(Urls.trail)
def page(request: Request, state: State, me: Me, given: Given) -> Response:
    """Newest first, a page at a time."""
    lines = read_trail(state.store, me.actor, given)
    typed = {
        "motor": given.tag,
        "job": given.job_id or "",
        "person": given.login,
        "since": given.since.isoformat() if given.since else "",
        "until": given.until.isoformat() if given.until else "",
    }
    kept = {name: value for name, value in typed.items() if value}
    more = kept | {"before": lines[-1].id} if len(lines) == PAGE else None
    context = {"place": "works", "lines": lines, "given": typed, "kept": kept, "more": more}
    return state.templates.TemplateResponse(request, "trail/page.html", context)


@router.get(Urls.trail_csv)
def file(state: State, me: Me, given: Given) -> Response:
    """The same as a CSV file, every line of it."""
    lines = every_line(state.store, me.actor, given)
    headers = {"content-disposition": 'attachment; filename="trail.csv"'}
    return StreamingResponse(csv_lines(lines), media_type="text/csv; charset=utf-8", headers=headers)
