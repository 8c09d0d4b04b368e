"""Is it up, is it ready."""

from __future__ import annotations

from fastapi import APIRouter
from sqlalchemy.exc import SQLAlchemyError
from starlette.responses import JSONResponse

from grimcoil.core.version import VERSION
from grimcoil.service.health import readiness
from grimcoil.web.state import State
from grimcoil.web.urls import Urls

router = APIRouter()


@router.get(Urls.health)
def health() -> JSONResponse:
    """The application is up."""
    return JSONResponse({"status": "up", "version": VERSION})


@router.get(Urls.ready)
def ready(state: State) -> JSONResponse:
    """The database answers and its schema is current."""
    try:
        current = readiness(state.engine)
    except SQLAlchemyError:
        return JSONResponse({"status": "database away"}, 503)
    return JSONResponse({"status": "ready"} if current else {"status": "schema not current"}, 200 if current else 503)
