"""A motor's life, and the position that motors stood in."""

from __future__ import annotations

from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Form, Path, Query, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import AlreadyKept, FormRefused, Refusal
from grimcoil.service import lives as verbs
from grimcoil.service.withdrawing import withdraw
from grimcoil.web.again import Again
from grimcoil.web.errors import status_of
from grimcoil.web.forms.lives import HappenedForm, MoveForm, TakeBackForm, WithdrawForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.position import circuit_lines, stays_figure

router = APIRouter(route_class=Again)
EMPTY = {"to": "", "on": "", "note": "", "swap": "", "kind": "", "cost": "", "why": ""}
SWAPS = (
    ("", "Nothing, or say where it goes"),
    (verbs.TO_STORE, "To the store"),
    (verbs.HERE, "In exchange: to where this one stood"),
)


def _page(
    request: Request, state: AppState, tag: str, form: dict[str, str], refused: dict[str, str], said: str = ""
) -> Response:
    day = state.clock().date().isoformat()
    context = {
        "place": "motors",
        "life": verbs.life(state.store, tag),
        "form": EMPTY | {"on": day} | form,
        "refused": refused,
        "said": said,
        "kinds": [("", "Choose what"), *((kind.value, kind.value.capitalize()) for kind in verbs.ENTERED)],
        "token": form.get("token") or str(uuid4()),
        "today": day,
    }
    status = 422 if refused else 409 if said else 200
    return state.templates.TemplateResponse(request, "motors/life.html", context, status_code=status)


@router.get("/motors/{tag:tag}/history-and-moves")
def life(request: Request, state: State, tag: str) -> Response:
    """What happened, and what may be entered."""
    return _page(request, state, tag, {}, {})


def _move_page(
    request: Request, state: AppState, tag: str, form: dict[str, str], refused: dict[str, str]
) -> Response:  # fmt: skip
    day = state.clock().date().isoformat()
    context = {
        "place": "motors",
        "life": verbs.life(state.store, tag),
        "form": EMPTY | {"on": day} | form,
        "refused": refused,
        "swaps": SWAPS,
        "token": form.get("token") or str(uuid4()),
    }
    status = 422 if refused else 200
    return state.templates.TemplateResponse(request, "motors/move.html", context, status_code=status)


@router.get("/motors/{tag:tag}/move")
def moving(
    request: Request, state: State, tag: str, to: Annotated[str, Query(max_length=200)] = ""
) -> Response:  # fmt: skip
    """Where it may go; `to`: the position that was asked for."""
    return _move_page(request, state, tag, {"to": to}, {})


@router.post("/motors/{tag:tag}/history-and-moves/move")
def move(request: Request, state: State, me: Me, tag: str, form: Annotated[MoveForm, Form()]) -> Response:
    """To another position or the store."""
    texts = form.model_dump(exclude={"csrf"})
    try:
        verbs.move(state.store, me.actor, tag, texts, form.token, state.clock())
    except FormRefused as refused:
        return _move_page(request, state, tag, texts, dict(refused.fields))
    return RedirectResponse(Urls.life(tag), 303)


@router.post("/motors/{tag:tag}/history-and-moves/happened")
def happened(request: Request, state: State, me: Me, tag: str, form: Annotated[HappenedForm, Form()]) -> Response:
    """Rewound, dried, cleaned, repaired."""
    texts = form.model_dump(exclude={"csrf"})
    try:
        verbs.happened(state.store, me.actor, tag, texts, form.token, state.clock())
    except FormRefused as refused:
        return _page(request, state, tag, texts, dict(refused.fields))
    return RedirectResponse(Urls.life(tag), 303)


@router.post("/motors/{tag:tag}/history-and-moves/take-back")
def take_back(request: Request, state: State, me: Me, tag: str, form: Annotated[TakeBackForm, Form()]) -> Response:
    """What was entered goes again."""
    try:
        verbs.take_back(state.store, me.actor, tag, form.id, state.clock())
    except Refusal as refusal:
        if status_of(refusal) != 409:
            raise
        return _page(request, state, tag, {}, {}, refusal.sentence())
    return RedirectResponse(Urls.life(tag), 303)


@router.post("/motors/{tag:tag}/history-and-moves/withdraw")
def withdrawn(request: Request, state: State, me: Me, tag: str, form: Annotated[WithdrawForm, Form()]) -> Response:
    """A motor that was registered by mistake."""
    try:
        withdraw(state.store, me.actor, tag, form.why, state.clock())
    except FormRefused as refused:
        return _page(request, state, tag, {"why": form.why}, dict(refused.fields))
    except AlreadyKept as refusal:
        return _page(request, state, tag, {"why": form.why}, {}, refusal.sentence())
    return RedirectResponse(Urls.motors, 303)


@router.get("/positions/{position_id}")
def position(request: Request, state: State, position_id: Annotated[int, Path(ge=1, le=2**31 - 1)]) -> Response:
    """A position with its circuit and the motors that stood there."""
    today = state.clock().date()
    view = verbs.position(state.store, position_id, today)
    context = {
        "place": "motors",
        "view": view,
        "wide": stays_figure(view, today, 880),
        "small": stays_figure(view, today, 366),
        "circuit": circuit_lines(view),
        "today": today,
    }
    return state.templates.TemplateResponse(request, "motors/position.html", context)
