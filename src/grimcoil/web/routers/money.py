"""Rewind or replace: the case stands in the address, is kept on demand, and goes on one page to who pays."""

from __future__ import annotations

from typing import Annotated, Any
from urllib.parse import urlencode
from uuid import uuid4

from fastapi import APIRouter, Form, Query, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import RecordRefusal
from grimcoil.service import money as verbs
from grimcoil.web.forms.money import KeepMoneyForm, MoneyQuery
from grimcoil.web.paper import answer as as_paper
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.money import INPUTS, NEEDED, TICKS, asked, defaults, document_of, money_shown, reopened

router = APIRouter()
Asked = Annotated[MoneyQuery, Query()]


def _answer(
    request: Request,
    state: AppState,
    tag: str,
    texts: dict[str, str],
    template: str,
    refused: dict[str, str] | None = None,
) -> Response:
    facts = verbs.facts(state.store, tag)
    now = state.clock()
    typed = any(texts.get(name) for name in NEEDED)
    form = defaults(facts) | texts if typed else defaults(facts) | {"job": texts.get("job", "")}
    case, wrong = asked(form, now.year) if typed else (None, {})
    wrong = refused or wrong
    context: dict[str, Any] = {
        "place": "motors", "facts": facts, "form": form, "inputs": INPUTS, "ticks": TICKS, "refused": wrong,
        "shown": None if case is None else money_shown(case), "token": str(uuid4()), "query": urlencode(form),
        "kept": [(one, reopened(one.given, one.job_id)) for one in facts.kept], "today": now.date(),
    }  # fmt: skip
    return state.templates.TemplateResponse(request, template, context, status_code=422 if wrong else 200)


@router.get("/motors/{tag}/money")
def money(request: Request, state: State, tag: str, given: Asked) -> Response:
    """The form, and the answer as soon as there are prices."""
    return _answer(request, state, tag, given.texts(), "motors/money.html")


@router.get("/motors/{tag}/money/paper")
def paper(request: Request, state: State, tag: str, given: Asked) -> Response:
    """One page in plain words for the one who pays."""
    return _answer(request, state, tag, given.texts(), "motors/money_paper.html")


@router.get("/motors/{tag}/money/paper.pdf")
def paper_pdf(request: Request, state: State, tag: str, given: Asked) -> Response:
    """The same as PDF."""
    return as_paper(paper(request, state, tag, given), f"{tag}-rewind-or-replace")


@router.post("/motors/{tag}/money")
def keep(request: Request, state: State, me: Me, tag: str, form: Annotated[KeepMoneyForm, Form()]) -> Response:
    """Keep the case as it stands."""
    texts = form.texts()
    try:
        given = document_of(texts, state.clock().year)
        job_id = int(texts["job"]) if texts["job"] else None
        verbs.keep_case(state.store, me.actor, tag, given, job_id, form.token, state.clock())
    except RecordRefusal as refusal:
        return _answer(request, state, tag, texts, "motors/money.html", {refusal.where: refusal.sentence()})
    return RedirectResponse(f"{Urls.money(tag)}?{urlencode({k: v for k, v in texts.items() if v})}", 303)
