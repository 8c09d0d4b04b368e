"""Today: what is due, what must be acted on, what is open."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from grimcoil.service import today as service
from grimcoil.service.repairs import under_way
from grimcoil.web.state import State
from grimcoil.web.urls import Urls

router = APIRouter()


@router.get(Urls.today)
def today(request: Request, state: State) -> Response:
    """The Today page."""
    now = state.clock()
    found = service.today(state.store, now.date())
    context = {
        "repairs": under_way(state.store),
        "place": "today",
        "follow": found.follow,
        "found": found,
        "today": now.date(),
        "now": now,
    }
    return state.templates.TemplateResponse(request, "today/page.html", context)
