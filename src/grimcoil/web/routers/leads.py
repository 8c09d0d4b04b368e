"""Leads: which unmarked lead is which."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import RecordRefusal, Refusal
from grimcoil.service import leads as verbs
from grimcoil.service.said_dead import said, say
from grimcoil.web.again import Again
from grimcoil.web.forms.said_dead import SaidForm
from grimcoil.web.signed import Me
from grimcoil.web.state import State
from grimcoil.web.urls import Urls
from grimcoil.web.views.dead_said import question
from grimcoil.web.views.leads import (
    COUNTS,
    ENDS,
    FEWEST,
    KINDS,
    MOST,
    NAMES,
    leads_address,
    leads_view,
    refused_view,
    token_of,
)

router = APIRouter(route_class=Again)
MOST_TOKENS = 120
WORDS = tuple(f"w{lead}" for lead in NAMES)


@router.post(Urls.said_dead)
def said_dead(request: Request, state: State, me: Me, form: Annotated[SaidForm, Form()]) -> Response:
    """Keep what a person said of the leads before touching any."""
    back = form.back if form.back.partition("?")[0] in (Urls.leads, Urls.connection) else Urls.leads
    try:
        say(state.store, me.actor, form.answer, form.where, state.clock())
    except RecordRefusal as refusal:
        return question(request, state, back, form.where, refusal)
    return RedirectResponse(back, 303)


@router.get(Urls.leads)
def leads(
    request: Request,
    state: State,
    me: Me,
    n: Annotated[int, Query(ge=FEWEST, le=MOST)] = 6,
    m: Annotated[list[Annotated[str, Query(max_length=100)]], Query(max_length=MOST_TOKENS)] = [],  # noqa: B006
    add: Annotated[str, Query(max_length=10)] = "",
) -> Response:
    """The page for what its address says; with `add` it takes the reading in `text` and goes to the next state."""
    stands = said(state.store, me.actor, state.clock())
    if stands is None:
        return question(request, state)
    asked = ("k", "a", "b", "c", "d", "j", "i", "text", "v", *WORDS)
    given = {name: request.query_params.get(name, "")[:60] for name in asked}
    given = {name: value for name, value in given.items() if value}
    quick = request.query_params.get("quick", "")[:10]
    if quick:
        given["text"] = quick
    view = leads_view(n, m, given)
    status = 200
    if add and view.ask is not None:
        try:
            token = token_of(view.ask, given.get("text", ""), given.get("v", view.source_v))
        except Refusal as refusal:
            view, status = refused_view(view, refusal), 422
        else:
            address = leads_address(n, [*m, token], view.named)
            if request.headers.get("hx-request") != "true":
                return RedirectResponse(address, 303)
            view = leads_view(n, [*m, token], {name: given[name] for name in WORDS if name in given})
    context = {
        "place": "leads",
        "v": view,
        "kinds": KINDS,
        "counts": COUNTS,
        "ends": ENDS,
        "saved": "",
        "said": stands,
        "tag": request.query_params.get("tag", ""),
    }
    answer = state.templates.TemplateResponse(request, "leads/page.html", context, status_code=status)
    if status == 200:
        answer.headers["HX-Push-Url"] = view.address()
    return answer


@router.post(Urls.leads)
def save(
    state: State,
    me: Me,
    n: Annotated[int, Form(ge=FEWEST, le=MOST)],
    tag: Annotated[str, Form(max_length=40)],
    scheme: Annotated[str, Form(max_length=40)],
    m: Annotated[list[Annotated[str, Form(max_length=100)]], Form(max_length=MOST_TOKENS)] = [],  # noqa: B006
    w: Annotated[list[Annotated[str, Form(max_length=40)]], Form(max_length=MOST)] = [],  # noqa: B006
) -> Response:
    """Keep what was found with a motor: its lead scheme and the marking of each lead."""
    words = {f"w{lead}": word for lead, _, word in (one.partition("~") for one in w)}
    view = leads_view(n, m, words)
    marked = verbs.Marked(scheme, tuple(view.labels.items()), view.named)
    verbs.keep_markings(state.store, me.actor, tag.strip(), marked, state.clock())
    return RedirectResponse(Urls.motor(tag.strip()), 303)
