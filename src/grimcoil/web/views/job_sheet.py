"""The sheet of a job, asked for by a person's page or by a token."""

from __future__ import annotations

from fastapi import Request
from starlette.responses import Response

from grimcoil.core.decision.rules import ACTIONS
from grimcoil.service import sheets
from grimcoil.service.repairs import promises_of
from grimcoil.web.state import AppState
from grimcoil.web.views.motor import life_of


def job_sheet(request: Request, state: AppState, job_id: int) -> Response:
    """One A4 or Letter sheet. Raises Unknown."""
    made = sheets.sheet(state.store, job_id, state.clock())
    view = sheets.motor_of(state.store, made.bench)
    context: dict[str, object] = {
        "place": "job",
        "sheet": made,
        "life": life_of(view, made.bench),
        "actions": ACTIONS,
        "promises": promises_of(state.store, made.bench),
        "links": view.history.links_of(job_id),
        "photos": view.history.photos_of(job_id),
    }
    return state.templates.TemplateResponse(request, "jobs/sheet.html", context)
