"""The trail: who did what, when, to what, from where."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from starlette.responses import Response, StreamingResponse

from grimcoil.exchange.trails import csv_lines
from grimcoil.service.trails import MOST, PAGE, Asked, read_trail
from grimcoil.web.signed import Me
from grimcoil.web.state import State
from grimcoil.web.urls import Urls

router = APIRouter()
Word = Annotated[str, Query(max_length=60)]
Number = Annotated[int | None, Query(ge=1, le=2**62)]


@router.get(Urls.trail)
def page(
    request: Request,
    state: State,
    me: Me,
    motor: Word = "",
    job: Number = None,
    person: Word = "",
    before: Number = None,
) -> Response:
    """Newest first, a page at a time."""
    lines = read_trail(state.store, me.actor, Asked(motor, job, person, before))
    given = {"motor": motor, "job": job or "", "person": person}
    kept = {name: value for name, value in given.items() if value}
    more = kept | {"before": lines[-1].id} if len(lines) == PAGE else None
    context = {"place": "works", "lines": lines, "given": given, "kept": kept, "more": more}
    return state.templates.TemplateResponse(request, "trail/page.html", context)


@router.get(Urls.trail_csv)
def file(state: State, me: Me, motor: Word = "", job: Number = None, person: Word = "") -> Response:
    """The same as a CSV file."""
    lines = read_trail(state.store, me.actor, Asked(motor, job, person), MOST)
    headers = {"content-disposition": 'attachment; filename="trail.csv"'}
    return StreamingResponse(csv_lines(lines), media_type="text/csv; charset=utf-8", headers=headers)
