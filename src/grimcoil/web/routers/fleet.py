"""The fleet: drawn by its margin over the minimum and the years that are left of it, or as lists."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import APIRouter, Query, Request
from pydantic import BeforeValidator
from starlette.responses import Response

from grimcoil.draw.plane import Plane, plane, said, strokes
from grimcoil.service.fleet import fleet, margins
from grimcoil.web.again import Again
from grimcoil.web.state import State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)
WORST = 12
Stop = Annotated[date | None, BeforeValidator(lambda text: text or None)]


@router.get(Urls.fleet)
def page(request: Request, state: State, at: Annotated[str, Query(max_length=60)] = "", stop: Stop = None) -> Response:
    """Every motor as a mark that leads on; `at`: the one chosen, `stop`: the next day on which all can be tested."""
    today = state.clock().date()
    found = margins(state.store, today, stop, at)
    chosen = found.chosen or next(iter(found.motors), None)
    drawn = Plane(tuple(found.motors), today, stop, chosen.tag if chosen else "")
    href = Urls.fleet_at("", stop)
    context = {
        "place": "motors", "found": found, "chosen": chosen, "says": said, "today": today, "stop": stop,
        "wide": plane(drawn, href), "small": plane(drawn, href, small=True), "worst": found.motors[:WORST],
        "areas": [(area, strokes(area.verdicts)) for area in found.areas],
        "at_of": lambda tag: Urls.fleet_at(tag, stop),
    }  # fmt: skip
    return state.templates.TemplateResponse(request, "motors/fleet_drawn.html", context)


@router.get(Urls.fleet_lists)
def lists(request: Request, state: State) -> Response:
    """Four short lists, each of what its order puts first."""
    context = {"place": "motors", "fleet": fleet(state.store), "year": state.clock().year}
    return state.templates.TemplateResponse(request, "motors/fleet.html", context)
