"""Tasks: what is open at which motor, opened by a person, done or dropped with a word."""

from __future__ import annotations

from datetime import timedelta
from typing import Annotated, Any
from uuid import uuid4

from fastapi import APIRouter, Form, Path, Query, Request
from starlette.responses import JSONResponse, RedirectResponse, Response

from grimcoil.core.errors import FormRefused, Unknown
from grimcoil.exchange.tasks import tasks_document
from grimcoil.service import tasks as verbs
from grimcoil.web.again import Again
from grimcoil.web.forms.tasks import ShutForm, TaskForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)
Area = Annotated[str, Query(max_length=100)]
TagAsked = Annotated[str, Query(max_length=60)]
Number = Annotated[int, Path(ge=1, le=2**31 - 1)]
WEEK = timedelta(days=7)
AGAIN: dict[str, str] = {}


@router.get(Urls.tasks)
def listed(request: Request, state: State, area: Area = "", tag: TagAsked = "") -> Response:
    """What is open, the earliest first, with a form for one more."""
    return _page(request, state, area, {"tag": tag}, AGAIN)


@router.get(Urls.tasks + ".json")
def as_json(state: State) -> Response:
    """All of them as `grimcoil-tasks/1`."""
    return JSONResponse(tasks_document(verbs.every_task(state.store)))


def _page(
    request: Request, state: AppState, area: str, form: dict[str, str], refused: dict[str, str], shut: int = 0
) -> Response:
    day = state.clock().date()
    context: dict[str, Any] = {
        "place": "today", "tasks": verbs.tasks(state.store, area), "area": area, "today": day, "refused": refused,
        "form": {"tag": "", "what": "", "because": "", "by": (day + WEEK).isoformat(), "whom": ""} | form,
        "people": [("", "Anyone"), *verbs.may_do(state.store)], "token": str(uuid4()), "shut": shut,
    }  # fmt: skip
    return state.templates.TemplateResponse(request, "today/tasks.html", context, status_code=422 if refused else 200)


@router.post(Urls.tasks)
def add(request: Request, state: State, me: Me, form: Annotated[TaskForm, Form()]) -> Response:
    """One more, once."""
    texts = {"what": form.what, "because": form.because, "by": form.by, "for": form.whom}
    typed = {"tag": form.tag, "what": form.what, "because": form.because, "by": form.by, "whom": form.whom}
    try:
        verbs.add(state.store, me.actor, form.tag, texts, form.token, state.clock())
    except FormRefused as refused:
        named = {"whom" if name == "for" else name: words for name, words in refused.fields.items()}
        return _page(request, state, "", typed, named)
    except Unknown as unknown:
        return _page(request, state, "", typed, {"tag": unknown.sentence()})
    return RedirectResponse(Urls.tasks, 303)


@router.post("/tasks/{number}/close")
def close(request: Request, state: State, me: Me, number: Number, form: Annotated[ShutForm, Form()]) -> Response:
    """Done or dropped."""
    try:
        tag = verbs.close(state.store, me.actor, number, form.state, form.word, state.clock())
    except FormRefused as refused:
        return _page(request, state, "", {"word": form.word}, dict(refused.fields), number)
    back = {"motor": Urls.motor(tag), "round": Urls.round_stop(tag)}
    return RedirectResponse(back.get(form.back, Urls.tasks), 303)
