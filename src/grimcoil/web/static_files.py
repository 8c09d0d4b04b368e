"""Static files under an address that their content makes: kept by the browser for good, sent compressed."""

from __future__ import annotations

import hashlib
from functools import cache
from pathlib import Path

from fastapi import FastAPI
from starlette.middleware.gzip import GZipMiddleware
from starlette.responses import Response
from starlette.staticfiles import StaticFiles
from starlette.types import Scope

FOLDER = Path(__file__).parent / "static"
FOR_GOOD = "public, max-age=31536000, immutable"
LEAST_COMPRESSED = 500


@cache
def fingerprint() -> str:
    """Of all static files together: another byte in any of them is another address for all."""
    told = hashlib.sha256()
    for path in sorted(FOLDER.rglob("*")):
        if path.is_file():
            told.update(path.relative_to(FOLDER).as_posix().encode() + b"\0" + path.read_bytes())
    return told.hexdigest()[:12]


def address() -> str:
    """What pages put before a file's name."""
    return f"/static/{fingerprint()}"


class Immutable(StaticFiles):
    """Files whose address changes with them."""

    async def get_response(self, path: str, scope: Scope) -> Response:
        """The file, to be kept for good; what isn't there isn't."""
        answer = await super().get_response(path, scope)
        if answer.status_code in (200, 304):
            answer.headers["cache-control"] = FOR_GOOD
        return answer


def mount(app: FastAPI) -> None:
    """Both addresses: the one that pages use, and the plain one, asked anew each time."""
    kept = GZipMiddleware(Immutable(directory=FOLDER), minimum_size=LEAST_COMPRESSED)
    app.mount(address(), kept, name="kept")
    app.mount("/static", StaticFiles(directory=FOLDER), name="static")
