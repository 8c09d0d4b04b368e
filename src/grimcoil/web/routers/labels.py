"""Sheets to print: labels that a phone reads, and what is due in a stop, by area."""

from __future__ import annotations

from typing import Annotated

import segno
from fastapi import APIRouter, Depends, Query, Request
from starlette.responses import Response

from grimcoil.service import today
from grimcoil.web import paper
from grimcoil.web.again import Again
from grimcoil.web.forms.listing import MOST_TAGS, Filtered, Tags, filtered
from grimcoil.web.signed import Me
from grimcoil.web.state import State
from grimcoil.web.urls import Urls
from grimcoil.web.views.papers import outage_page

router = APIRouter(route_class=Again)
Days = Annotated[int, Query(ge=1, le=366)]
Area = Annotated[str, Query(max_length=100)]


def qr(address: str) -> str:
    """The code as an svg element, error correction M: a smear over an eighth of it may stay unread."""
    made = segno.make(address, error="m", micro=False)
    return str(made.svg_inline(border=2, omitsize=True, svgclass="qr", lineclass="qr-line"))


@router.get(Urls.labels)
def labels(
    request: Request,
    state: State,
    given: Annotated[Filtered, Depends(filtered)],
    tag: Tags = (),
    after: Annotated[str, Query(max_length=200)] = "",
) -> Response:
    """Labels of these motors, or of the list as it is narrowed."""
    found = today.labelled(state.store, given.asked(after), tag, state.clock().date(), MOST_TAGS)
    base = str(request.base_url).rstrip("/")
    context = {
        "place": "motors",
        "labels": [(row, qr(base + Urls.motor(row.tag))) for row in found.rows],
        "narrow": found.after is not None or found.narrow,
        "base": base,
        "given": given,
    }
    return state.templates.TemplateResponse(request, "motors/labels.html", context)


@router.get(Urls.outage + ".pdf")
def outage_pdf(request: Request, state: State, me: Me, days: Days = 60, area: Area = "", tag: Tags = ()) -> Response:
    """The same as PDF."""
    return paper.answer(outage_page(request, state, me.actor, days, area, tag), "outage-list")


@router.get(Urls.outage)
def outage(request: Request, state: State, me: Me, days: Days = 60, area: Area = "", tag: Tags = ()) -> Response:
    """What falls due, or these motors whenever they are due."""
    return outage_page(request, state, me.actor, days, area, tag)
