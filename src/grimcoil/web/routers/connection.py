"""Connection: what the supply will do to this joining of the leads."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import Response

from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.draw.joints import one_colour
from grimcoil.web.state import State
from grimcoil.web.urls import Urls
from grimcoil.web.views.connection import DUTIES, JOINTS, LINES, MODES, SPEEDS, connection_view, read_given

router = APIRouter()


@router.get(Urls.connection)
def connection(request: Request, state: State) -> Response:
    """The page for what its address says."""
    view = connection_view(read_given(request.query_params), state.settings.phase_colours)
    context = {
        "place": "leads",
        "follow": [],
        "v": view,
        "schemes": SCHEMES,
        "nodes": (*LINES, *JOINTS),
        "speeds": SPEEDS,
        "modes": MODES,
        "duties": DUTIES,
    }
    answer = state.templates.TemplateResponse(request, "connection/page.html", context)
    answer.headers["HX-Push-Url"] = view.address()
    return answer


@router.get(Urls.connection_svg)
def drawing(request: Request, state: State, part: str = "coils") -> Response:
    """One of the two drawings as a file, in one colour."""
    view = connection_view(read_given(request.query_params), state.settings.phase_colours)
    svg = one_colour(view.box if part == "box" else view.coils or view.box)
    headers = {"content-disposition": f'attachment; filename="connection-{view.given.scheme}.svg"'}
    return Response(svg, media_type="image/svg+xml", headers=headers)
