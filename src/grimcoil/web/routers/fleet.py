"""The fleet at a glance."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from grimcoil.service.fleet import fleet
from grimcoil.web.again import Again
from grimcoil.web.state import State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)


@router.get(Urls.fleet)
def page(request: Request, state: State) -> Response:
    """Four short lists, each of what its order puts first."""
    context = {"place": "motors", "fleet": fleet(state.store), "year": state.clock().year}
    return state.templates.TemplateResponse(request, "motors/fleet.html", context)
