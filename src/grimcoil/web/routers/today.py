"""Today: what is due, what must be acted on, what is open."""

from __future__ import annotations

from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Query, Request
from starlette.responses import Response

from grimcoil.service import today as service
from grimcoil.service.repairs import under_way
from grimcoil.web.again import Again
from grimcoil.web.signed import Me
from grimcoil.web.state import State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)
JobNumber = Annotated[int, Query(ge=0, le=2**63 - 1)]


@router.get(Urls.danger)
def danger(request: Request, state: State, own: JobNumber = 0) -> Response:
    """What can hurt now, for the line over every page. own: the job that the page itself tells of."""
    context = {"running": state.running(), "own": own, "token": str(uuid4())}
    return state.templates.TemplateResponse(request, "today/_danger.html", context)


@router.get(Urls.today)
def today(request: Request, state: State, me: Me) -> Response:
    """The Today page."""
    now = state.clock()
    found = service.today(state.store, now.date())
    context = {
        "repairs": under_way(state.store),
        "place": "today",
        "works": me.works,
        "follow": found.follow,
        "found": found,
        "today": now.date(),
        "now": now,
    }
    return state.templates.TemplateResponse(request, "today/page.html", context)
