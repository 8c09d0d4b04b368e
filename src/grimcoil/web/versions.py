"""A host of an earlier version writes nothing once another has brought the database to a later one."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress

from fastapi import FastAPI
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError
from starlette.concurrency import run_in_threadpool

from grimcoil.service.health import is_newer

LOOK_S = 5.0  # how old what is known of the database's version may be; our own choice


class HostOutdated(Exception):
    """The database is of a later version than this host."""


class Versions:
    """What is known of the database's version; looked at beside the requests, not in them."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._newer = False

    def look(self) -> None:
        """Look now; a database that is away tells nothing new."""
        with suppress(SQLAlchemyError):
            self._newer = is_newer(self._engine)

    def close(self) -> None:
        """Hang up."""
        self._engine.dispose()

    def need_current(self) -> None:
        """Raises HostOutdated."""
        if self._newer:
            raise HostOutdated


@asynccontextmanager
async def looking(app: FastAPI) -> AsyncIterator[None]:
    """While the application runs."""
    watching = asyncio.create_task(_again_and_again(app.state.grimcoil.versions))
    try:
        yield
    finally:
        watching.cancel()
        with suppress(asyncio.CancelledError):
            await watching
        app.state.grimcoil.versions.close()


async def _again_and_again(versions: Versions) -> None:
    while True:
        await run_in_threadpool(versions.look)
        await asyncio.sleep(LOOK_S)
