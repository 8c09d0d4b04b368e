"""Headers on every answer, and a stop for changes asked by other sites. Plain ASGI, for speed."""

from __future__ import annotations

from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self';"
    " connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'; manifest-src 'self'"
)
HEADERS = {
    "content-security-policy": POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
    "permissions-policy": "camera=(), microphone=(), geolocation=()",
}
SAFE = {"GET", "HEAD", "OPTIONS"}
LARGEST_BODY = 256 * 1024
LARGEST_FILE = 13 * 1024 * 1024  # a file of 12 MiB with its form
UPLOADS = ("/photos", "/nameplate/photo", "/import")


class Guard:
    """Refuses changes that don't come from these pages and bodies that no form of ours sends."""

    def __init__(self, app: ASGIApp, https: bool = False) -> None:
        self.app = app
        self.headers = HEADERS | ({"strict-transport-security": "max-age=31536000"} if https else {})

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """ASGI."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in self.headers.items():
                    headers.setdefault(name, value)
                if not scope["path"].startswith("/static/"):
                    headers.setdefault("cache-control", "no-store")
            await send(message)

        refusal = _refusal(scope["method"], scope["path"], Headers(scope=scope))
        if refusal is not None:
            await refusal(scope, receive, with_headers)
            return
        await self.app(scope, receive, with_headers)


def _refusal(method: str, path: str, headers: Headers) -> PlainTextResponse | None:
    if method in SAFE:
        return None
    if not _from_here(headers):
        return PlainTextResponse("This change was asked by another site; it was not made.", 403)
    length = headers.get("content-length", "")
    most, words = (LARGEST_FILE, "12 MiB") if path.endswith(UPLOADS) else (LARGEST_BODY, "256 KiB")
    if not length.isascii() or not length.isdigit() or int(length) > most:
        return PlainTextResponse(f"A form of at most {words}, with its length, is accepted.", 413)
    return None


def _from_here(headers: Headers) -> bool:
    """A browser says where a request comes from: in Sec-Fetch-Site, else in Origin. Others aren't browsers."""
    site = headers.get("sec-fetch-site")
    if site is not None:
        return site in ("same-origin", "none")
    origin = headers.get("origin")
    return origin is None or urlsplit(origin).netloc == headers.get("host")
