"""Drying a winding: begin, keep each act and reading behind its gate, take back, end."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Form, Path, Query, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import Forbidden, FormRefused, RecordRefusal, Refusal, Unknown
from grimcoil.service import dryings as verbs
from grimcoil.service.dryings import Kept
from grimcoil.web.again import Again
from grimcoil.web.errors import status_of
from grimcoil.web.forms.dryings import BeginForm, EndForm, KeepForm
from grimcoil.web.forms.people import IdForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.drying import HOOKUP_WORDS, MARKS_S, drying_shown

router = APIRouter(route_class=Again)
Number = Annotated[int, Path(ge=1, le=2**31 - 1)]
JobNumber = Annotated[str, Query(max_length=10, pattern=r"^[0-9]*$")]
EMPTY = {"hookup": "", "cold_ohm": "", "cold_c": "", "current_limit_a": "", "other_meter": "", "job": ""}


@router.get(Urls.dryings)
def listed(request: Request, state: State) -> Response:
    """Every drying that goes on."""
    context = {"place": "job", "going": verbs.going_on(state.store), "now": state.clock()}
    return state.templates.TemplateResponse(request, "dryings/list.html", context)


@router.get("/motors/{tag:tag}/dry")
def asked(request: Request, state: State, tag: str, job: JobNumber = "") -> Response:
    """What a drying begins with."""
    return _beginning(request, state, tag, EMPTY | {"job": job}, {}, None)


def _beginning(
    request: Request, state: AppState, tag: str, form: dict[str, str], refused: dict[str, str], refusal: Refusal | None
) -> Response:
    could = verbs.beginning(state.store, tag)
    context = {
        "place": "motors", "could": could, "form": form, "refused": refused, "refusal": refusal,
        "hookups": [(name, HOOKUP_WORDS[name]) for name in could.hookups], "token": form.get("token") or str(uuid4()),
    }  # fmt: skip
    status = 422 if refused else 200 if refusal is None else status_of(refusal)
    return state.templates.TemplateResponse(request, "dryings/begin.html", context, status_code=status)


@router.post("/motors/{tag:tag}/dry")
def begin(request: Request, state: State, me: Me, tag: str, form: Annotated[BeginForm, Form()]) -> Response:
    """Begin it."""
    texts = form.model_dump(exclude={"csrf"})
    try:
        number = verbs.begin(state.store, me.actor, tag, texts, form.token, state.clock())
    except FormRefused as refused:
        return _beginning(request, state, tag, texts, dict(refused.fields), None)
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _beginning(request, state, tag, texts, {}, refusal)
    return RedirectResponse(Urls.drying(number), 303)


@router.get("/dryings/{drying_id}")
def page(request: Request, state: State, drying_id: Number, every: bool = False) -> Response:
    """How it stands. every: with all its lines."""
    return _page(request, state, drying_id, {}, None, every)


def _page(
    request: Request,
    state: AppState,
    drying_id: int,
    form: dict[str, str],
    refusal: Refusal | None,
    every: bool = False,
) -> Response:  # fmt: skip
    view = verbs.look(state.store, drying_id, state.clock())
    context = {
        "place": "job", "s": drying_shown(view, form, refusal, every), "marks_s": MARKS_S, "token": str(uuid4()),
        "follow": [one for one in state.running() if not (one.drying and one.number == drying_id)],
    }  # fmt: skip
    status = 200 if refusal is None else status_of(refusal)
    return state.templates.TemplateResponse(request, "dryings/page.html", context, status_code=status)


@router.post("/dryings/{drying_id}/keep")
def keep(request: Request, state: State, me: Me, drying_id: Number, form: Annotated[KeepForm, Form()]) -> Response:
    """One act or reading."""
    now = state.clock()
    try:
        t_s = _seconds(form.t_s)
        at = _when(form.when, now)
        given = Kept(form.act, form.amps, form.volts, form.insulation, t_s, form.ends, form.rotated_to, at)
        verbs.keep(state.store, me.actor, drying_id, given, form.token, now)
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _page(request, state, drying_id, form.model_dump(exclude={"csrf", "token"}), refusal)
    return RedirectResponse(Urls.drying(drying_id), 303)


def _seconds(text: str) -> float | None:
    if not text.strip():
        return None
    try:
        value = float(text)
    except ValueError:
        value = 0.0
    if not 0 < value <= 100_000:
        raise RecordRefusal("t_s", text, "seconds of the hold", "60")
    return value


def _when(text: str, now: datetime) -> datetime | None:
    """`14:05` of the last day; empty is now."""
    if not text.strip():
        return None
    try:
        clock = datetime.strptime(text.strip(), "%H:%M")
    except ValueError:
        raise RecordRefusal("when", text, "a time of day", "14:05") from None
    made = now.replace(hour=clock.hour, minute=clock.minute, second=0, microsecond=0)
    return made if made <= now else made - timedelta(days=1)


@router.post("/dryings/{drying_id}/take-back")
def take_back(state: State, me: Me, drying_id: Number, form: Annotated[IdForm, Form()]) -> Response:
    """The last entry goes again."""
    verbs.take_back(state.store, me.actor, drying_id, form.id, state.clock())
    return RedirectResponse(Urls.drying(drying_id), 303)


@router.post("/dryings/{drying_id}/end")
def end(request: Request, state: State, me: Me, drying_id: Number, form: Annotated[EndForm, Form()]) -> Response:
    """It is dry, or it is given up with a reason."""
    try:
        verbs.end(state.store, me.actor, drying_id, form.why, state.clock())
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _page(request, state, drying_id, {"why": form.why}, refusal)
    return RedirectResponse(Urls.drying(drying_id), 303)
