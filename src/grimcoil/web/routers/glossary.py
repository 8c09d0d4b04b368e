"""The terms of the trade on one page."""

from __future__ import annotations

from fastapi import APIRouter, Request, Response

from grimcoil.core.glossary import listed
from grimcoil.draw.terms import term_figure
from grimcoil.web.again import Again
from grimcoil.web.state import State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)


@router.get(Urls.glossary)
def glossary(request: Request, state: State) -> Response:
    """Every term with its meaning."""
    return state.templates.TemplateResponse(
        request, "glossary/page.html", {"place": "glossary", "listed": listed(), "drawn": term_figure}
    )
