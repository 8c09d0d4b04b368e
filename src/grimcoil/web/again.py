"""Every request whose transaction met another's is done again, before anything of its answer is out."""

from __future__ import annotations

import asyncio
import time
from collections.abc import Callable, Coroutine
from typing import Any

import structlog
from fastapi import Request
from fastapi.routing import APIRoute
from sqlalchemy.exc import DBAPIError
from starlette.datastructures import UploadFile
from starlette.responses import Response

from grimcoil.service.again import is_conflict, number_of, wait_s
from grimcoil.web.security import SAFE

log = structlog.get_logger("grimcoil")


class Again(APIRoute):
    """A route of pages and API. All that changes something comes under a key, so that twice is once; a file that was
    uploaded is read already: that one is said, and its form held.
    """

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        """The framework's, as often as `service.again` says."""
        handle = super().get_route_handler()

        async def again(request: Request) -> Response:
            if request.method not in SAFE:
                request.app.state.grimcoil.versions.need_current()
            tried = 0
            while True:
                tried, begun = tried + 1, time.monotonic()
                try:
                    return await handle(request)
                except DBAPIError as error:
                    wait = wait_s(error, tried, time.monotonic() - begun)
                    if wait is None or not _may_be_done_again(request, error):
                        raise
                    log.info("done again", number=number_of(error), tried=tried)
                await asyncio.sleep(wait)

        return again


def _may_be_done_again(request: Request, error: DBAPIError) -> bool:
    """Not with a file; and where the connection went away amid a commit, only what would find its own key."""
    form = getattr(request, "_form", None) or {}
    if any(isinstance(value, UploadFile) for value in form.values()):
        return False
    return is_conflict(error) or request.method in SAFE or "token" in form
