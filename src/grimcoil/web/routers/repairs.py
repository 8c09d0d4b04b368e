"""A motor's repair: ordered, away, back."""

from __future__ import annotations

from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Form, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import FormRefused
from grimcoil.service import repairs as verbs
from grimcoil.web.again import Again
from grimcoil.web.forms.lives import RepairForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)
WORDS = {"": "Nothing is ordered", "ordered": "Ordered", "away": "Away at the repairer", "back": "Back"}


@router.get("/motors/{tag:tag}/repair")
def repair(request: Request, state: State, tag: str) -> Response:
    """Where it stands, and the next stage."""
    day = state.clock().date().isoformat()
    return _page(request, state, tag, RepairForm(token=str(uuid4()), on=day), {})


def _page(request: Request, state: AppState, tag: str, form: RepairForm, refused: dict[str, str]) -> Response:
    view = verbs.repair(state.store, tag)
    context = {
        "place": "motors",
        "view": view,
        "words": WORDS[view.state],
        "next": verbs.NEXT[view.state].value,
        "form": form,
        "refused": refused,
        "what": [(one, one.capitalize()) for one in verbs.WHAT],
        "today": state.clock().date(),
    }
    status = 422 if refused else 200
    return state.templates.TemplateResponse(request, "motors/repair.html", context, status_code=status)


@router.post("/motors/{tag:tag}/repair")
def go_on(request: Request, state: State, me: Me, tag: str, form: Annotated[RepairForm, Form()]) -> Response:
    """The next stage, once."""
    texts = form.model_dump(exclude={"csrf"})
    try:
        verbs.go_on(state.store, me.actor, tag, texts, form.token, state.clock())
    except FormRefused as refused:
        return _page(request, state, tag, form, dict(refused.fields))
    return RedirectResponse(Urls.repair(tag), 303)
