"""Connection: what the supply will do to this joining of the leads."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.stator.changes import change_of_scheme
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.draw.joints import one_colour
from grimcoil.service.leads import own_leads, start_new_winding
from grimcoil.service.said_dead import said
from grimcoil.service.site import colours_of
from grimcoil.web.again import Again
from grimcoil.web.signed import Me
from grimcoil.web.state import State
from grimcoil.web.urls import Urls
from grimcoil.web.views.connection import DUTIES, JOINTS, LINES, MODES, SPEEDS, begun_with, connection_view, read_given
from grimcoil.web.views.dead_said import question

router = APIRouter(route_class=Again)


@router.get(Urls.connection)
def connection(
    request: Request,
    state: State,
    me: Me,
    to: Annotated[str, Query(max_length=40)] = "",
    rewound: Annotated[str, Query(max_length=3)] = "",
) -> Response:
    """The page for what its address says."""
    stands = said(state.store, me.actor, state.clock())
    if stands is None:
        return question(request, state)
    tag = request.query_params.get("tag", "")[:40]
    own = own_leads(state.store, tag) if tag else None
    asked = begun_with(own, request.query_params) if own else request.query_params
    view = connection_view(read_given(asked), colours_of(state.store), own)
    context = {
        "place": "leads",
        "said": stands,
        "v": view,
        "schemes": SCHEMES,
        "nodes": (*LINES, *JOINTS),
        "speeds": SPEEDS,
        "modes": MODES,
        "duties": DUTIES,
        "change": change_of_scheme(view.given.scheme, to, rewound == "yes") if to in SCHEMES else None,
        "to": to,
        "rewound": rewound,
    }
    answer = state.templates.TemplateResponse(request, "connection/page.html", context)
    answer.headers["HX-Push-Url"] = view.address()
    return answer


@router.get(Urls.connection_svg)
def drawing(request: Request, state: State, part: str = "coils") -> Response:
    """One of the two drawings as a file, in one colour."""
    view = connection_view(read_given(request.query_params), colours_of(state.store))
    svg = one_colour(view.box if part == "box" else view.coils or view.box)
    headers = {"content-disposition": f'attachment; filename="connection-{view.given.scheme}.svg"'}
    return Response(svg, media_type="image/svg+xml", headers=headers)


@router.post(Urls.new_winding)
def new_winding(
    state: State,
    me: Me,
    tag: Annotated[str, Form(max_length=40)],
    to: Annotated[str, Form(max_length=40)],
    rewound: Annotated[str, Form(max_length=3)] = "",
) -> Response:
    """A changed scheme starts a new winding record of the motor."""
    start_new_winding(state.store, me.actor, tag.strip(), to, rewound == "yes", state.clock())
    return RedirectResponse(Urls.motor(tag.strip()), 303)
