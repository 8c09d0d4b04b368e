"""Rewind or replace: the case stands in the address, is kept on demand, and goes on one page to who pays."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Query, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import RecordRefusal
from grimcoil.service import money as verbs
from grimcoil.web.again import Again
from grimcoil.web.forms.money import KeepMoneyForm, MoneyQuery
from grimcoil.web.paper import answer as as_paper
from grimcoil.web.signed import Me
from grimcoil.web.state import State
from grimcoil.web.urls import Urls
from grimcoil.web.views.money import document_of
from grimcoil.web.views.papers import money_page

router = APIRouter(route_class=Again)
Asked = Annotated[MoneyQuery, Query()]


@router.get("/motors/{tag:tag}/money")
def money(request: Request, state: State, tag: str, given: Asked) -> Response:
    """The form, and the answer as soon as there are prices."""
    return money_page(request, state, tag, given.texts(), "motors/money.html")


@router.get("/motors/{tag:tag}/money/paper")
def paper(request: Request, state: State, tag: str, given: Asked) -> Response:
    """One page in plain words for the one who pays."""
    return money_page(request, state, tag, given.texts(), "motors/money_paper.html")


@router.get("/motors/{tag:tag}/money/paper.pdf")
def paper_pdf(request: Request, state: State, tag: str, given: Asked) -> Response:
    """The same as PDF."""
    return as_paper(paper(request, state, tag, given), f"{tag}-rewind-or-replace")


@router.post("/motors/{tag:tag}/money")
def keep(request: Request, state: State, me: Me, tag: str, form: Annotated[KeepMoneyForm, Form()]) -> Response:
    """Keep the case as it stands."""
    texts = form.texts()
    try:
        given = document_of(texts, state.clock().year)
        job_id = int(texts["job"]) if texts["job"] else None
        verbs.keep_case(state.store, me.actor, tag, given, job_id, form.token, state.clock())
    except RecordRefusal as refusal:
        return money_page(request, state, tag, texts, "motors/money.html", {refusal.where: refusal.sentence()})
    return RedirectResponse(f"{Urls.money(tag)}?{urlencode({k: v for k, v in texts.items() if v})}", 303)
