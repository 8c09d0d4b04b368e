"""The sheet of a job, asked for by a person's page or by a token."""

from __future__ import annotations

from fastapi import Request
from starlette.responses import Response

from grimcoil.core.decision.rules import ACTIONS
from grimcoil.service import sheets
from grimcoil.service.photos import picture
from grimcoil.service.repairs import promises_of
from grimcoil.web.state import AppState
from grimcoil.web.urls import Urls
from grimcoil.web.views.motor import life_of


def photos_of(state: AppState, sheet: Response) -> dict[str, bytes]:
    """The pictures that a sheet shows, by their address on it."""
    shown = sheet.context["photos"]  # type: ignore[attr-defined]
    return {Urls.photo(one.id): picture(state.store, one.id) for one in shown}


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
