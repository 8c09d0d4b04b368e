"""Positions: the list, the form of one, and those that are used no more."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from typing import Annotated

from fastapi import APIRouter, Form, Path, Query, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import FormRefused
from grimcoil.service import places as verbs
from grimcoil.service.places import CRITICALITY, PlaceForm
from grimcoil.web.again import Again
from grimcoil.web.forms.lives import WithdrawForm
from grimcoil.web.forms.motors import RecordForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.record import SYSTEMS, place_sections

router = APIRouter(route_class=Again)
Number = Annotated[int, Path(ge=1, le=2**31 - 1)]
Words = Annotated[str, Query(max_length=100)]
NEW = PlaceForm(None, "", {CRITICALITY: "routine"}, ())


@router.get(Urls.positions)
def positions(
    request: Request,
    state: State,
    area: Words = "",
    q: Words = "",
    after: Annotated[int, Query(ge=0, le=10**6)] = 0,
) -> Response:
    """All of them, or those of an area or whose name has these words."""
    context = {
        "place": "motors",
        "list": verbs.listed(state.store, area, q, after),
        "area": area,
        "q": q,
        "systems": SYSTEMS,
    }
    return state.templates.TemplateResponse(request, "motors/places.html", context)


def _page(
    request: Request, state: AppState, kept: PlaceForm, texts: Mapping[str, str], refused: Mapping[str, str]
) -> Response:  # fmt: skip
    context = {
        "place": "motors",
        "kept": kept,
        "sections": place_sections(),
        "form": defaultdict(str, texts),
        "refused": refused,
    }
    status = 422 if refused else 200
    return state.templates.TemplateResponse(request, "motors/place_form.html", context, status_code=status)


@router.get(Urls.new_position)
def new_position(request: Request, state: State) -> Response:
    """The form of one that isn't on the register yet."""
    return _page(request, state, NEW, NEW.texts, {})


@router.post(Urls.new_position)
def add_position(request: Request, state: State, me: Me, form: Annotated[RecordForm, Form()]) -> Response:
    """Put it on the register."""
    try:
        number = verbs.keep_place(state.store, me.actor, None, form.texts(), state.clock())
    except FormRefused as refused:
        return _page(request, state, NEW, form.texts(), refused.fields)
    return RedirectResponse(Urls.position(number), 303)


@router.get("/positions/{position_id}/form")
def position_form(request: Request, state: State, position_id: Number) -> Response:
    """What is on record of it, to be changed."""
    kept = verbs.place_form(state.store, position_id)
    return _page(request, state, kept, kept.texts, {})


@router.post("/positions/{position_id}/form")
def keep_position(
    request: Request, state: State, me: Me, position_id: Number, form: Annotated[RecordForm, Form()]
) -> Response:  # fmt: skip
    """Keep it."""
    try:
        verbs.keep_place(state.store, me.actor, position_id, form.texts(), state.clock())
    except FormRefused as refused:
        return _page(request, state, verbs.place_form(state.store, position_id), form.texts(), refused.fields)
    return RedirectResponse(Urls.position(position_id), 303)


@router.post("/positions/{position_id}/retire")
def retire(
    request: Request, state: State, me: Me, position_id: Number, form: Annotated[WithdrawForm, Form()]
) -> Response:  # fmt: skip
    """It is used no more."""
    try:
        verbs.retire(state.store, me.actor, position_id, form.why, state.clock())
    except FormRefused as refused:
        kept = verbs.place_form(state.store, position_id)
        return _page(request, state, kept, kept.texts | {"why": form.why}, refused.fields)
    return RedirectResponse(Urls.position(position_id), 303)


@router.post("/positions/{position_id}/again")
def again(state: State, me: Me, position_id: Number) -> Response:
    """It is used again."""
    verbs.use_again(state.store, me.actor, position_id, state.clock())
    return RedirectResponse(Urls.position(position_id), 303)
