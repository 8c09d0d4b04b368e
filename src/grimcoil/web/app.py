"""The application: routers, templates, static files, guards."""

from __future__ import annotations

from pathlib import Path

from fastapi import FastAPI
from fastapi.templating import Jinja2Templates
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.staticfiles import StaticFiles

from grimcoil.core.version import VERSION
from grimcoil.settings import Settings
from grimcoil.store.engine import make_engine, make_store
from grimcoil.web import errors
from grimcoil.web.routers import connection, health, jobs, leads, motors, theme, today
from grimcoil.web.security import Guard
from grimcoil.web.state import AppState, Clock, utc_now
from grimcoil.web.templating import environment

HERE = Path(__file__).parent


def create_app(settings: Settings | None = None, clock: Clock = utc_now) -> FastAPI:
    """One application per process."""
    settings = settings or Settings()
    engine = make_engine(settings.database_url.get_secret_value(), settings.pool_size)
    app = FastAPI(title="Grim Coil", version=VERSION, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.grimcoil = AppState(engine, make_store(engine), Jinja2Templates(env=environment()), settings, clock)
    app.mount("/static", StaticFiles(directory=HERE / "static"), name="static")
    for router in (
        today.router,
        motors.router,
        jobs.router,
        leads.router,
        connection.router,
        theme.router,
        health.router,
    ):
        app.include_router(router)
    errors.install(app)
    app.add_middleware(Guard)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=settings.allowed_hosts)
    return app
