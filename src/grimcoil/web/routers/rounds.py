"""Rounds: what is due by area, a stop at a time, a sheet to print; a motor's tasks and how often."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any
from uuid import uuid4

from fastapi import APIRouter, Form, Query, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import FormRefused, RecordRefusal
from grimcoil.core.rounds.tasks import EVERY, Task
from grimcoil.core.side.wear import HEARD_AT
from grimcoil.service import rounds as verbs
from grimcoil.service import tasks
from grimcoil.service.rounds import RoundKept
from grimcoil.web import paper
from grimcoil.web.again import Again
from grimcoil.web.forms.people import GoneForm
from grimcoil.web.forms.rounds import RoundKeepForm, RoundTaskForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.rounds import STARTS_JOB, sizes_text, stop_shown, words_of

router = APIRouter(route_class=Again)
Area = Annotated[str, Query(max_length=100)]
NAMES = (
    "task", "outcome", "text", "end_drive", "end_other", "grease", "loaded", "words", "when", "months", "every_h",
    "hours_a_month", "season", "bearing_drive", "bearing_other",
)  # fmt: skip
EMPTY = dict.fromkeys(NAMES, "")
TaskName = Annotated[str, Query(max_length=20)]


@router.get(Urls.rounds)
def due(request: Request, state: State) -> Response:
    """By area, and the month ahead."""
    day = state.clock().date()
    context = {
        "place": "today", "rounds": verbs.rounds(state.store, day), "today": day,
        "tasks": tasks.tasks_due(state.store, day + verbs.AHEAD),
    }  # fmt: skip
    return state.templates.TemplateResponse(request, "rounds/list.html", context)


@router.get(Urls.round_sheet)
def sheet(request: Request, state: State, area: Area = "") -> Response:
    """An area's round on paper, for where no device may go; entered afterwards with its times."""
    day = state.clock().date()
    stops = verbs.walk(state.store, area, day)
    whole = [verbs.stop(state.store, one.tag, day) for one in stops[:60]]
    context = {
        "place": "today", "area": area, "today": day, "stops": whole,
        "kinds": {task.value: kind for task, kind in EVERY.items()},
    }  # fmt: skip
    return state.templates.TemplateResponse(request, "rounds/sheet.html", context)


@router.get(Urls.round_sheet + ".pdf")
def sheet_pdf(request: Request, state: State, area: Area = "") -> Response:
    """The same as PDF."""
    return paper.answer(sheet(request, state, area), f"round-{area or 'all'}")


@router.get(Urls.round_walk)
def begin(state: State, area: Area = "") -> Response:
    """To the first motor of the area with something due."""
    stops = verbs.walk(state.store, area, state.clock().date())
    return RedirectResponse(Urls.round_stop(stops[0].tag, area=area) if stops else Urls.rounds, 303)


@router.get("/motors/{tag:tag}/inspection")
def stop(request: Request, state: State, tag: str, area: Area = "", task: TaskName = "") -> Response:
    """A motor's stop: one task at a time."""
    return _stop(request, state, tag, area, task, {}, {})


def _stop(
    request: Request, state: AppState, tag: str, area: str, task: str, form: dict[str, str], refused: dict[str, str]
) -> Response:
    day = state.clock().date()
    stops = verbs.walk(state.store, area, day) if area else ()
    shown = stop_shown(verbs.stop(state.store, tag, day), stops, area, task)
    context: dict[str, Any] = {
        "place": "today", "s": shown, "form": EMPTY | form, "refused": refused,
        "seen": words_of(shown.task.task if shown.task else ""),
        "heard": tuple(HEARD_AT), "starts_job": STARTS_JOB, "token": str(uuid4()), "today": day,
        "kinds": {name.value: kind for name, kind in EVERY.items()}, "sizes_text": sizes_text,
    }  # fmt: skip
    status = 422 if refused else 200
    return state.templates.TemplateResponse(request, "rounds/stop.html", context, status_code=status)


@router.post("/motors/{tag:tag}/inspection/keep")
def keep(request: Request, state: State, me: Me, tag: str, form: Annotated[RoundKeepForm, Form()]) -> Response:
    """Done, skipped or seen."""
    now = state.clock()
    texts = form.model_dump(exclude={"csrf", "token"})
    try:
        ends = {"drive": form.end_drive, "other": form.end_other}
        loaded = {"yes": True, "no": False}.get(form.loaded)
        given = RoundKept(
            form.task, form.outcome, _read(me, form), form.words, loaded, _when(form.when, now), ends, form.grease
        )
        verbs.keep(state.store, me.actor, tag, given, form.token, now)
    except FormRefused as refused:
        return _stop(request, state, tag, form.area, form.task, texts, dict(refused.fields))
    return RedirectResponse(_on(state, tag, form.area), 303)


def _read(me: Me, form: RoundKeepForm) -> str:
    """What was typed, degrees with their unit where the works' own isn't the record's."""
    return me.units.temperature(form.text) if form.task == Task.FRAME else form.text


def _when(text: str, now: datetime) -> datetime | None:
    """A moment by the works' clock; empty is now."""
    if not text.strip():
        return None
    try:
        return datetime.fromisoformat(text.strip()).replace(tzinfo=now.tzinfo)
    except ValueError:
        said = RecordRefusal("", text, "a day and a time", "2026-11-26T14:05").sentence()
        raise FormRefused({"when": said}) from None


def _on(state: AppState, tag: str, area: str) -> str:
    """The same motor while something is due there, else the next stop of the round, else the list."""
    day = state.clock().date()
    if not area or verbs.stop(state.store, tag, day).due:
        return Urls.round_stop(tag, area=area)
    stops = verbs.walk(state.store, area, day)
    return Urls.round_stop(stops[0].tag, area=area) if stops else Urls.rounds


@router.post("/motors/{tag:tag}/inspection/take-back")
def take_back(request: Request, state: State, me: Me, tag: str, form: Annotated[GoneForm, Form()]) -> Response:
    """What was kept goes again."""
    verbs.take_back(state.store, me.actor, tag, form.id, state.clock(), form.reason)
    area = request.query_params.get("area", "")[:100]
    return RedirectResponse(Urls.round_stop(tag, area=area), 303)


@router.post("/motors/{tag:tag}/inspection/on")
def put_on(state: State, me: Me, tag: str) -> Response:
    """The tasks of its size, from today."""
    verbs.put_on(state.store, me.actor, tag, state.clock())
    return RedirectResponse(Urls.round_stop(tag), 303)


@router.post("/motors/{tag:tag}/inspection/task")
def set_task(request: Request, state: State, me: Me, tag: str, form: Annotated[RoundTaskForm, Form()]) -> Response:
    """How often, or not at all."""
    texts = form.model_dump(exclude={"csrf"})
    try:
        verbs.set_task(state.store, me.actor, tag, texts, state.clock())
    except FormRefused as refused:
        return _stop(request, state, tag, "", form.task, texts, dict(refused.fields))
    return RedirectResponse(Urls.round_stop(tag), 303)
