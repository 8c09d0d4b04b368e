"""The fault walk: from a complaint to the part, its entries in the address."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Depends, Form, Query, Request
from pydantic import Field
from starlette.responses import RedirectResponse, Response

from grimcoil.core.choices import RootCause
from grimcoil.core.errors import FormRefused, GateClosed, RecordRefusal, Refusal, Unknown
from grimcoil.core.walk.catalogue import ORDERS, SYMPTOMS
from grimcoil.core.walk.once import why_not_once
from grimcoil.exchange.sheets.layout import tag_key
from grimcoil.service import walks as verbs
from grimcoil.service.handing_over import beside, hand_over, leaves_motor
from grimcoil.service.walks import SEPARATOR
from grimcoil.web.again import Again
from grimcoil.web.forms.base import Form as OwnForm
from grimcoil.web.forms.base import Token
from grimcoil.web.paper import answer as as_paper
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.walk import WalkView, address, percent

router = APIRouter(route_class=Again)
Fields = dict[str, str]
Entry = Annotated[str, Query(max_length=160)]
Word = Annotated[str, Query(max_length=60)]
Text = Annotated[str, Query(max_length=40)]
ORDER_WORDS = {
    "most-telling": "Most telling first",
    "motor-to-supply": "From the motor back",
    "control-first": "Control first",
    "overload-first": "Overload, power, contactor, motor",
    "from-local": "From the disconnect at the motor",
}


NOTHING_KEPT = verbs.Kept("", "")
WATCH = timedelta(days=14)  # proposed; whoever ends the walk says how long


@dataclass(frozen=True, slots=True)
class Asked:
    """A walk as it lives in the address, and the entry that is being made."""

    tag: str
    symptom: str
    order: str
    tokens: tuple[str, ...]
    entry: str = ""
    typed: tuple[str, ...] = ()
    picked: str = ""


def asked(
    tag: Word = "",
    s: Word = "",
    o: Word = "most-telling",
    d: Annotated[list[Entry], Query(max_length=verbs.MOST_TOKENS)] = [],  # noqa: B006
    t: Word = "",
    a: Word = "",
    at: Word = "",
    r: Annotated[list[Text], Query(max_length=8)] = [],  # noqa: B006
    *,
    n: Word = "",
) -> Asked:
    """Out of the address; `t` with an answer `a` or readings `r` is a new entry, `n` another test than asked."""
    parts = [t, a, at] if a and at else [t, a] if a else [t, *r]
    return Asked(tag, s, o if o in ORDERS else ORDERS[0], tuple(d), SEPARATOR.join(parts) if t else "", tuple(r), n)


@router.get(Urls.walk)
def walk(request: Request, state: State, given: Annotated[Asked, Depends(asked)]) -> Response:
    """The walk as its address says; with a new entry it goes to the next state."""
    if given.symptom not in SYMPTOMS:
        context = {"place": "walk", "symptoms": SYMPTOMS, "tag": given.tag, "unknown": ""}
        return state.templates.TemplateResponse(request, "walk/start.html", context)
    try:
        return _walked(request, state, given)
    except Unknown:
        return _other_tag(request, state, given)


def _other_tag(request: Request, state: AppState, given: Asked) -> Response:
    """A tag in another spelling goes on with the one it is; an unknown one keeps complaint and entries, and is offered
    the like.
    """
    alike = verbs.spelled(state.store, given.tag)
    tokens = (*given.tokens, given.entry) if given.entry else given.tokens
    if len(alike) == 1 and tag_key(alike[0]) == tag_key(given.tag) and alike[0] != given.tag:
        return RedirectResponse(address(alike[0], given.symptom, given.order, tokens), 303)
    others = [(tag, address(tag, given.symptom, given.order, tokens)) for tag in alike]
    context = {
        "place": "walk", "symptoms": SYMPTOMS, "tag": given.tag, "unknown": given.tag, "alike": others,
        "kept": {"s": given.symptom, "o": given.order, "d": tokens},
    }  # fmt: skip
    return state.templates.TemplateResponse(request, "walk/start.html", context, status_code=404)


def _walked(request: Request, state: AppState, given: Asked) -> Response:
    if not given.entry:
        return _page(request, state, given)
    tokens = (*given.tokens, given.entry)
    try:
        if given.typed and not any(text.strip() for text in given.typed):
            raise RecordRefusal("reading", "", "what the meter shows, or another test")
        verbs.walked(state.store, given.tag, given.symptom, given.order, tokens)
    except Unknown:
        raise
    except Refusal as refusal:
        return _page(request, state, given, refusal)
    return RedirectResponse(address(given.tag, given.symptom, given.order, tokens), 303)


def _page(
    request: Request,
    state: AppState,
    given: Asked,
    refusal: Refusal | None = None,
    refused: Fields | None = None,
    end: verbs.Kept = NOTHING_KEPT,
) -> Response:
    done = verbs.walked(state.store, given.tag, given.symptom, given.order, given.tokens, state.clock().date())
    context = {
        "place": "walk", "v": WalkView(done, given.order, given.picked),
        "beside": beside(state.store, done, state.clock()), "refusal": refusal, "typed": given.typed,
        "orders": ORDER_WORDS, "symptom": SYMPTOMS[given.symptom], "percent": percent, "causes": list(RootCause),
        "leaves_motor": leaves_motor(done), "own_states": verbs.OWN_STATES,
        "own_open": given.entry.startswith("own"), "refused": refused or {}, "token": str(uuid4()), "end": end,
        "watch": end.watch_until or f"{state.clock().date() + WATCH}", "once": not why_not_once(done.made)[0],
    }  # fmt: skip
    status = 422 if refusal or refused else 200
    return state.templates.TemplateResponse(request, "walk/page.html", context, status_code=status)


@router.get(Urls.walk_sheet)
def sheet(request: Request, state: State, given: Annotated[Asked, Depends(asked)]) -> Response:
    """The walk on paper: what was measured, in order, and what that leaves."""
    if given.symptom not in SYMPTOMS:
        raise RecordRefusal("s", given.symptom, "a complaint of the list")
    done = verbs.walked(state.store, given.tag, given.symptom, given.order, given.tokens, state.clock().date())
    context = {
        "place": "walk", "v": WalkView(done, given.order), "symptom": SYMPTOMS[given.symptom], "percent": percent,
        "today": state.clock(), "query": request.url.query,
    }  # fmt: skip
    return state.templates.TemplateResponse(request, "walk/sheet.html", context)


@router.get(Urls.walk_sheet + ".pdf")
def sheet_pdf(request: Request, state: State, given: Annotated[Asked, Depends(asked)]) -> Response:
    """The same as PDF."""
    return as_paper(sheet(request, state, given), f"walk-{given.tag or 'on-none'}")


class WalkForm(OwnForm):
    """A walk by its address."""

    token: Token
    tag: Annotated[str, Field(max_length=60)]
    s: Annotated[str, Field(max_length=60)]
    o: Annotated[str, Field(max_length=60)] = "most-telling"
    d: Annotated[list[Annotated[str, Field(max_length=160)]], Field(max_length=verbs.MOST_TOKENS, default_factory=list)]


@router.post(Urls.hand_over)
def over(request: Request, state: State, me: Me, form: Annotated[WalkForm, Form()]) -> Response:
    """To a call-out job with the dead tests of motor and cable."""
    if form.s not in SYMPTOMS:
        raise RecordRefusal("s", form.s, "a complaint of the list")
    given = Asked(form.tag, form.s, form.o if form.o in ORDERS else ORDERS[0], tuple(form.d))
    done = verbs.walked(state.store, given.tag, given.symptom, given.order, given.tokens, state.clock().date())
    here = address(given.tag, given.symptom, given.order, given.tokens)
    try:
        job_id = hand_over(state.store, me.actor, done, here, form.token, state.clock())
    except GateClosed as refusal:
        return _page(request, state, given, refusal)
    return RedirectResponse(Urls.job(job_id), 303)


class KeepForm(WalkForm):
    """The end of a walk: the cause of the cause, what is changed."""

    cause: Annotated[str, Field(max_length=60)] = ""
    changed: Annotated[str, Field(max_length=200)] = ""
    watch_until: Annotated[str, Field(max_length=20)] = ""


@router.post(Urls.keep_walk)
def keep(request: Request, state: State, me: Me, form: Annotated[KeepForm, Form()]) -> Response:
    """Onto the motor's life."""
    if form.s not in SYMPTOMS:
        raise RecordRefusal("s", form.s, "a complaint of the list")
    given = Asked(form.tag, form.s, form.o if form.o in ORDERS else ORDERS[0], tuple(form.d))
    done = verbs.walked(state.store, given.tag, given.symptom, given.order, given.tokens, state.clock().date())
    kept = verbs.Kept(form.cause, form.changed, form.watch_until)
    try:
        verbs.keep_end(state.store, me.actor, done, kept, form.token, state.clock())
    except FormRefused as refused:
        return _page(request, state, given, refused=dict(refused.fields), end=kept)
    return RedirectResponse(Urls.life(done.tag), 303)
