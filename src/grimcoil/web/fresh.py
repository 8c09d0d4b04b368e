"""Who has just changed something sees it on every host: what a node has not yet been told is waited for."""

from __future__ import annotations

from http.cookies import CookieError, SimpleCookie

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from grimcoil.service.stores import FRESH
from grimcoil.web.security import SAFE

COOKIE = "gc_kept"
LASTS_S = 10  # nodes are told within a second or are cut off; our own choice


class Fresh:
    """Marks who kept something with a cookie that says no more than that, and lets what they ask next catch up."""

    def __init__(self, app: ASGIApp, https: bool) -> None:
        self.app = app
        self._cookie = f"{COOKIE}=1; Max-Age={LASTS_S}; Path=/; HttpOnly; SameSite=Strict{'; Secure' if https else ''}"

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """ASGI."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def marked(message: Message) -> None:
            if message["type"] == "http.response.start" and message["status"] < 400:
                MutableHeaders(scope=message).append("set-cookie", self._cookie)
            await send(message)

        before = FRESH.set(_kept_just_now(Headers(scope=scope).get("cookie", "")))
        try:
            await self.app(scope, receive, send if scope["method"] in SAFE else marked)
        finally:
            FRESH.reset(before)


def _kept_just_now(header: str) -> bool:
    if COOKIE not in header:
        return False
    try:
        return COOKIE in SimpleCookie(header)
    except CookieError:
        return False
