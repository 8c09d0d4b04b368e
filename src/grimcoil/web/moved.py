"""Addresses of earlier versions: each answers with the one that took its place, forms and files too."""

from __future__ import annotations

import re

from starlette.types import ASGIApp, Receive, Scope, Send

_MOTOR = r"/motors/[^/]+"
# What an address began with, and what it begins with now. They stay for good: some stand on paper.
MOVED: tuple[tuple[re.Pattern[str], str], ...] = tuple(
    (re.compile(f"({begin}){old}(?=[/.]|$)"), rf"\1{new}")
    for begin, old, new in (
        ("", "/works/sheets", "/import"),
        ("", "/works", "/plant"),
        ("", "/trail", "/audit-trail"),
        ("", "/walk/sheet", "/troubleshooting/report"),
        ("", "/walk", "/troubleshooting"),
        ("", "/rounds/sheet", "/inspection-rounds/paper"),
        ("", "/rounds", "/inspection-rounds"),
        (_MOTOR, "/side", "/other-tests"),
        (_MOTOR, "/life", "/history-and-moves"),
        (_MOTOR, "/record", "/data"),
        (_MOTOR, "/plate", "/nameplate"),
        (_MOTOR, "/round", "/inspection"),
        (r"/jobs/\d+", "/sheet", "/report"),
    )
)


def moved_to(path: str) -> str | None:
    """The address that took an old one's place; None where it is today's.

    >>> moved_to("/works/sheets/7/row"), moved_to("/motors/BW~1/life"), moved_to("/motors/plate"), moved_to("/workshop")
    ('/import/7/row', '/motors/BW~1/history-and-moves', None, None)
    """
    for old, new in MOVED:
        if found := old.match(path):
            return found.expand(new) + path[found.end() :]
    return None


class Moved:
    """Answers an old address with 308, so that a form is sent again as it is; what was asked for goes along."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Today's addresses go on as they come."""
        new = moved_to(scope.get("raw_path", b"").decode("latin-1")) if scope["type"] == "http" else None
        if new is None:
            await self.app(scope, receive, send)
            return
        query = scope["query_string"]
        place = new.encode("latin-1") + (b"?" + query if query else b"")
        headers = [(b"location", place), (b"content-length", b"0")]
        await send({"type": "http.response.start", "status": 308, "headers": headers})
        await send({"type": "http.response.body", "body": b""})
