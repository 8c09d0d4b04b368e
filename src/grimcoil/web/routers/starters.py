"""The sheet of a position's starter."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Path, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import FormRefused
from grimcoil.core.rounds.tasks import Task
from grimcoil.service import starters as verbs
from grimcoil.web.again import Again
from grimcoil.web.forms.starters import StarterForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.starter import SECTIONS, diagram

router = APIRouter(route_class=Again)
Number = Annotated[int, Path(ge=1, le=2**31 - 1)]


@router.get("/positions/{position_id}/starter")
def starter(request: Request, state: State, position_id: Number) -> Response:
    """Its figures, its diagram, its checks."""
    return _page(request, state, position_id, {}, {})


@router.post("/positions/{position_id}/starter")
def keep(
    request: Request, state: State, me: Me, position_id: Number, form: Annotated[StarterForm, Form()]
) -> Response:  # fmt: skip
    """Keep its figures."""
    texts = form.model_dump(exclude={"csrf"})
    try:
        verbs.keep_starter(state.store, me.actor, position_id, texts, state.clock())
    except FormRefused as refused:
        return _page(request, state, position_id, texts, dict(refused.fields))
    return RedirectResponse(Urls.starter(position_id), 303)


def _page(
    request: Request, state: AppState, position_id: int, form: dict[str, str], refused: dict[str, str]
) -> Response:  # fmt: skip
    view = verbs.starter_sheet(state.store, position_id)
    context = {
        "place": "motors", "view": view, "form": form or view.texts, "refused": refused, "sections": SECTIONS,
        "wide": diagram(view), "task": Task.STARTER.value,
    }  # fmt: skip
    status = 422 if refused else 200
    return state.templates.TemplateResponse(request, "motors/starter.html", context, status_code=status)
