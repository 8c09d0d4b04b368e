"""The isolation card of a position."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated

from fastapi import APIRouter, Form, Path, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import FormRefused
from grimcoil.core.isolation import WORDS, found_words
from grimcoil.service import isolation as verbs
from grimcoil.service.isolation import Row
from grimcoil.web.again import Again
from grimcoil.web.forms.isolation import CardForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)
Number = Annotated[int, Path(ge=1, le=2**31 - 1)]


@router.get("/positions/{position_id}/isolation")
def isolation(request: Request, state: State, position_id: Number) -> Response:
    """Every source, where it is locked, what was found live."""
    return _page(request, state, position_id, (), {})


@router.post("/positions/{position_id}/isolation")
def keep(
    request: Request, state: State, me: Me, position_id: Number, form: Annotated[CardForm, Form()]
) -> Response:  # fmt: skip
    """Keep the card."""
    typed = form.rows()
    try:
        verbs.keep_card(state.store, me.actor, position_id, typed, state.clock())
    except FormRefused as refused:
        return _page(request, state, position_id, typed, refused.fields)
    return RedirectResponse(Urls.isolation(position_id), 303)


def _page(
    request: Request, state: AppState, position_id: int, typed: Sequence[Row], refused: Mapping[str, str]
) -> Response:  # fmt: skip
    view = verbs.card(state.store, position_id)
    rows = list(typed) or [Row(one.kind, one.name, one.from_, one.lock_at) for one in view.sources]
    if all(row.kind for row in rows):
        rows.append(Row())
    found = [found_words(one) for one in view.sources] + [""] * len(rows)
    context = {
        "place": "motors", "view": view, "rows": list(zip(rows, found, strict=False)), "refused": refused,
        "kinds": WORDS,
    }  # fmt: skip
    status = 422 if refused else 200
    return state.templates.TemplateResponse(request, "motors/isolation.html", context, status_code=status)
