"""What is due for a calendar program. The address itself is the key: one of a person's own, ended on their page."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Path, Query, Request
from starlette.responses import Response

from grimcoil.exchange.calendars import DueLine, RoundDay, TaskDay, calendar_of
from grimcoil.service.rounds import due_days
from grimcoil.service.signing_in import token_of
from grimcoil.service.tasks import tasks_due
from grimcoil.service.today import YEAR, due
from grimcoil.web.again import Again
from grimcoil.web.signed import NoToken, origin_of
from grimcoil.web.state import State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)


@router.get("/calendar/{token}.ics")
def feed(
    request: Request,
    state: State,
    token: Annotated[str, Path(min_length=8, max_length=100)],
    area: Annotated[str, Query(max_length=100)] = "",
) -> Response:
    """The next tests of a year, of the works or one area."""
    found = token_of(state.engine, token, origin_of(request), state.clock())
    if found is None:
        raise NoToken
    actor, now = found.actor, state.clock().astimezone(found.zone)
    listed = due(state.store, actor, now.date(), area)
    base = str(request.base_url).rstrip("/")
    lines = [
        DueLine(row.tag, row.place or "", row.next_on, row.next_why or "", base + Urls.motor(row.tag))
        for row in listed.rows
        if row.next_on is not None
    ]
    rounds = [
        RoundDay(where, on, tasks, f"{base}{Urls.round_walk}?{urlencode({'area': where})}")
        for on, where, tasks in due_days(state.store, actor, now.date(), now.date() + YEAR, area)
    ]
    tasks = [
        TaskDay(one.id, one.tag, one.what, one.by_day, one.because, base + Urls.tasks)
        for one in tasks_due(state.store, now.date() + YEAR, area)
    ]
    of = " ".join(area.split())  # one line of the calendar, whatever the address holds
    name = " ".join(part for part in ("Motor tests", listed.site.name if listed.site else "", of) if part)
    return Response(calendar_of(name, lines, now, rounds, tasks), media_type="text/calendar; charset=utf-8")
