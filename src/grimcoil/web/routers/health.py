"""Is it up, is it ready, and how it fares."""

from __future__ import annotations

import hmac
import os

from fastapi import APIRouter, Request
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, generate_latest
from prometheus_client import REGISTRY as OWN
from prometheus_client.multiprocess import MultiProcessCollector
from starlette.responses import JSONResponse, PlainTextResponse, Response

from grimcoil.core.version import VERSION
from grimcoil.service import health as health_service
from grimcoil.web.again import Again
from grimcoil.web.state import State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)
LOOPBACK = ("127.0.0.1", "::1")
FORWARDED = ("x-forwarded-for", "forwarded", "x-real-ip")


@router.get(Urls.health)
async def health() -> JSONResponse:
    """The application is up: said without a thread or a database, whatever they wait for."""
    return JSONResponse({"status": "up", "version": VERSION})


@router.get(Urls.ready)
def ready(state: State) -> JSONResponse:
    """The database answers, its node is one to write to, its schema is current; how far the clocks are apart."""
    found = health_service.ready(state.engine, state.clock)
    told: dict[str, str | float] = {"status": found.why_not or "ready"}
    if found.clock_offset_s is not None:
        told["clock_offset_s"] = found.clock_offset_s
    return JSONResponse(told, 503 if found.why_not else 200)


@router.get(Urls.metrics)
def metrics(request: Request, state: State) -> Response:
    """For Prometheus: from this machine itself (not through a proxy), or with the token of the settings."""
    if not _may_read(request, state):
        return PlainTextResponse("For this machine itself, or with GRIMCOIL_METRICS_TOKEN as a bearer token.", 403)
    registry = OWN
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        registry = CollectorRegistry()
        MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    return Response(generate_latest(registry), media_type=CONTENT_TYPE_LATEST)


def _may_read(request: Request, state: State) -> bool:
    wanted = state.settings.metrics_token
    if wanted is not None:
        given = request.headers.get("authorization", "").partition(" ")[2]
        return hmac.compare_digest(given.encode(), wanted.get_secret_value().encode())
    here = request.client is not None and request.client.host in LOOPBACK
    return here and not any(name in request.headers for name in FORWARDED)
