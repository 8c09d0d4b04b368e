"""The application: routers, templates, static files, guards."""

from __future__ import annotations

import gc
import json
import re
from functools import cache
from typing import Any

from fastapi import Depends, FastAPI
from fastapi.openapi.utils import get_openapi
from fastapi.templating import Jinja2Templates
from starlette.middleware.trustedhost import TrustedHostMiddleware

from grimcoil.core.version import VERSION
from grimcoil.service.stores import make_engine, make_store
from grimcoil.settings import Settings
from grimcoil.web import errors, logs, static_files
from grimcoil.web.fresh import Fresh
from grimcoil.web.moved import Moved
from grimcoil.web.routers import (
    api,
    api_records,
    calendar,
    connection,
    criteria,
    dryings,
    fleet,
    glossary,
    health,
    isolation,
    jobs,
    labels,
    leads,
    lives,
    money,
    motors,
    people,
    photos,
    places,
    plates,
    plotting,
    repairs,
    rounds,
    sheets,
    side,
    signing,
    starters,
    starting,
    tasks,
    theme,
    today,
    trail,
    walk,
    works,
)
from grimcoil.web.security import Guard
from grimcoil.web.sent import Sent, once
from grimcoil.web.signed import bearer, from_own_form, signed_in
from grimcoil.web.state import AppState, Clock, utc_now
from grimcoil.web.templating import environment
from grimcoil.web.urls import Urls
from grimcoil.web.versions import Versions, looking

PAGE_PATIENCE_S = 3  # with the second that a new connection is tried for, a person at a page waits less than five
_REFERENCE = re.compile(r'"#/components/schemas/([^"]+)"')
SIGNED_IN = (
    starting.router,  # before the jobs, whose numbers its address would be taken for
    jobs.router,  # the first is found the soonest, and here most is asked
    today.router,
    tasks.router,
    motors.router,
    places.router,  # its word “new” isn’t a position’s number
    lives.router,
    plates.router,
    plotting.router,
    money.router,
    labels.router,
    dryings.router,
    leads.router,
    connection.router,
    people.router,
    photos.router,
    rounds.router,
    sheets.router,
    signing.router,
    trail.router,
    walk.router,
    works.router,
    criteria.router,
    fleet.router,
    glossary.router,
    repairs.router,
    starters.router,
    isolation.router,
    side.router,
)


def create_app(settings: Settings | None = None, clock: Clock = utc_now) -> FastAPI:
    """One application per process."""
    settings = settings or Settings()
    url = settings.database_url.get_secret_value()
    engine = make_engine(url, settings.pool_size, PAGE_PATIENCE_S)
    versions = Versions(make_engine(url, 1, PAGE_PATIENCE_S))  # apart: pages never wait for it
    logs.set_up(readable=settings.demo)
    app = FastAPI(
        title="Grim Coil", version=VERSION, docs_url=None, redoc_url=None, openapi_url=Urls.openapi, lifespan=looking
    )
    app.openapi = cache(lambda: api_description(app))  # type: ignore[method-assign]
    app.state.grimcoil = AppState(
        engine, make_store(engine), Jinja2Templates(env=environment()), settings, clock, versions
    )
    static_files.mount(app)
    for router in SIGNED_IN:
        app.include_router(router, dependencies=[Depends(signed_in), Depends(from_own_form), Depends(once)])
    for router in (signing.public, theme.router, health.router, calendar.router):
        app.include_router(router)
    for router in (api.router, api_records.router):
        app.include_router(router, prefix=Urls.api, dependencies=[Depends(bearer)])
    errors.install(app)
    app.add_middleware(Sent)
    app.add_middleware(Moved)
    app.add_middleware(Fresh, https=settings.https)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=settings.allowed_hosts)
    app.add_middleware(Guard, https=settings.https)  # round the refused host too: its headers are on every answer
    app.add_middleware(logs.Watch)
    return app


def serving() -> FastAPI:
    """The application of a worker that serves till it is ended: what is loaded stays, so the collector need not walk it
    in the middle of somebody's request.
    """
    app = create_app()
    gc.collect()
    gc.freeze()
    return app


def whole_description(app: FastAPI) -> dict[str, Any]:
    """OpenAPI of pages and API alike; what the tests throw bad input at."""
    return get_openapi(title="Grim Coil", version=VERSION, routes=app.routes)


def api_description(app: FastAPI) -> dict[str, Any]:
    """OpenAPI of what other programs may ask; the pages are for people."""
    whole = whole_description(app)
    whole["paths"] = {path: item for path, item in whole["paths"].items() if path.startswith(Urls.api)}
    schemas = whole.get("components", {}).get("schemas", {})
    needed: set[str] = set()
    wanted = set(_REFERENCE.findall(json.dumps(whole["paths"])))
    while wanted - needed:
        name = (wanted - needed).pop()
        needed.add(name)
        wanted |= set(_REFERENCE.findall(json.dumps(schemas[name])))
    whole["components"] = {
        "schemas": {name: schemas[name] for name in sorted(needed)},
        "securitySchemes": {"token": {"type": "http", "scheme": "bearer"}},
    }
    whole["security"] = [{"token": []}]
    return whole
