"""One line per request, with its number, in structlog; the same number on error pages and in `x-request-id`.

JSON under `bin/serve`, readable under `bin/demo`. No bodies, no query strings, no cookies: what people type and what
opens doors stays out of the log.
"""

from __future__ import annotations

import logging
import secrets
import sys
import time
import traceback
from pathlib import Path
from typing import Any

import structlog
from prometheus_client import Counter, Histogram
from starlette.types import ASGIApp, Message, Receive, Scope, Send

MOST_FRAMES, MOST_CAUSES = 12, 4
log = structlog.get_logger("grimcoil")
REQUESTS = Counter("grimcoil_requests_total", "Requests answered.", ("method", "route", "status"))
SECONDS = Histogram(
    "grimcoil_request_seconds", "Time to the end of an answer.", ("route",),
    buckets=(0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5),
)  # fmt: skip


def set_up(readable: bool) -> None:
    """Set structlog and the standard library's loggers to one form. Done once per process."""
    shared: list[Any] = [
        structlog.contextvars.merge_contextvars,
        structlog.processors.add_log_level,
        structlog.processors.TimeStamper(fmt="iso", utc=True),
    ]
    shown = structlog.dev.ConsoleRenderer(colors=False) if readable else structlog.processors.JSONRenderer()
    last: list[Any] = [where_it_broke, shown]
    structlog.configure(
        processors=[*shared, structlog.stdlib.ProcessorFormatter.wrap_for_formatter],
        logger_factory=structlog.stdlib.LoggerFactory(),
        cache_logger_on_first_use=False,
    )
    formatter = structlog.stdlib.ProcessorFormatter(
        foreign_pre_chain=shared, processors=[structlog.stdlib.ProcessorFormatter.remove_processors_meta, *last]
    )
    handler = logging.StreamHandler(sys.stderr)
    handler.setFormatter(formatter)
    root = logging.getLogger()
    root.handlers = [handler]
    root.setLevel(logging.WARNING)
    for ours in ("grimcoil", "uvicorn"):
        logging.getLogger(ours).setLevel(logging.WARNING if readable else logging.INFO)


def where_it_broke(_logger: Any, _method: str, event: dict[str, Any]) -> dict[str, Any]:
    """What kind of error, and through which lines of code: no locals and no message, as both can hold what people
    typed and what opens doors; bounded, so that one error is a few lines.
    """
    given = event.pop("exc_info", None)
    error = sys.exc_info()[1] if given is True else given[1] if isinstance(given, tuple) else given
    told: list[dict[str, Any]] = []
    while isinstance(error, BaseException) and len(told) < MOST_CAUSES:
        frames = traceback.extract_tb(error.__traceback__)[-MOST_FRAMES:]
        lines = [f"{'/'.join(Path(f.filename).parts[-3:])}:{f.lineno} {f.name}" for f in frames]
        told.append({"error": type(error).__name__[:80], "lines": lines})
        error = error.__cause__ or error.__context__
    if told:
        event["broke"] = told
    event.pop("exception", None)
    return event


def request_id() -> str:
    """The number of the request that is being answered."""
    return str(structlog.contextvars.get_contextvars().get("request", "none"))


class Watch:
    """Numbers, times, counts and logs each request. Plain ASGI, for speed."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """ASGI."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        number = secrets.token_hex(4)
        structlog.contextvars.clear_contextvars()
        structlog.contextvars.bind_contextvars(request=number)
        began, status = time.perf_counter(), 500

        async def noted(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                message["headers"] = [*message.get("headers", []), (b"x-request-id", number.encode())]
            await send(message)

        try:
            await self.app(scope, receive, noted)
        finally:
            _note(scope, status, time.perf_counter() - began)


# Addresses that open doors by themselves: told by their route, not by what stands in them.
SECRET_PATHS = ("/calendar/",)


def path_of(scope: Scope) -> str:
    """The path of a request as it may stand in a log."""
    path: str = scope["path"]
    secret = next((start for start in SECRET_PATHS if path.startswith(start)), None)
    return path if secret is None else getattr(scope.get("route"), "path", "") or f"{secret}…"


def _note(scope: Scope, status: int, seconds: float) -> None:
    route = getattr(scope.get("route"), "path", "") or ("/static" if scope["path"].startswith("/static") else "none")
    REQUESTS.labels(scope["method"], route, str(status)).inc()
    SECONDS.labels(route).observe(seconds)
    if route == "/static":
        return
    signed = scope.get("state", {}).get("signed")
    login = signed.actor.login if signed is not None else None
    client = (scope.get("client") or ("",))[0]
    log.info(
        "request", method=scope["method"], path=path_of(scope), status=status, ms=round(1000 * seconds, 1),
        login=login, client=client,
    )  # fmt: skip
