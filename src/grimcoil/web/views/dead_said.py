"""The page that asks, before a lead is touched outside a job, whether it is locked and proved dead."""

from __future__ import annotations

from fastapi import Request
from starlette.responses import Response

from grimcoil.core.errors import Refusal
from grimcoil.service.said_dead import DEAD, DESK
from grimcoil.web.state import AppState


def question(
    request: Request, state: AppState, back: str = "", where: str = "", refusal: Refusal | None = None
) -> Response:  # fmt: skip
    """Whether it is locked and proved dead, asked before anything else."""
    asked = back or f"{request.url.path}?{request.url.query}".rstrip("?")
    tag = request.query_params.get("tag", "")[:40]
    context = {
        "place": "leads", "back": asked, "where": where or tag, "refusal": refusal, "dead": DEAD, "desk": DESK
    }  # fmt: skip
    status = 422 if refusal else 200
    return state.templates.TemplateResponse(request, "leads/said.html", context, status_code=status)
