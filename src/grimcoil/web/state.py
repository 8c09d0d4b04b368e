"""What every request needs: the store, the clock, the templates."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Annotated

from fastapi import Depends, Request
from fastapi.templating import Jinja2Templates
from sqlalchemy import Engine

from grimcoil.service.stores import Store
from grimcoil.service.today import Shorted, discharging
from grimcoil.settings import Settings
from grimcoil.web.versions import Versions

Clock = Callable[[], datetime]


def utc_now() -> datetime:
    """The wall clock."""
    return datetime.now(UTC)


@dataclass(frozen=True)
class AppState:
    """Made once per process; holds no data of its own."""

    engine: Engine
    store: Store
    templates: Jinja2Templates
    settings: Settings
    clock: Clock
    versions: Versions

    def running(self) -> Shorted:
        """Windings that stand shorted to frame now, for the strip on every page; one query."""
        return discharging(self.store)


def _app_state(request: Request) -> AppState:
    """The process's state, its clock by the works' own zone once it is known who asks: "today" follows from it."""
    state: AppState = request.app.state.grimcoil

    def local() -> datetime:
        zone = getattr(request.state, "zone", None)
        return state.clock() if zone is None else state.clock().astimezone(zone)

    return replace(state, clock=local)


State = Annotated[AppState, Depends(_app_state)]
