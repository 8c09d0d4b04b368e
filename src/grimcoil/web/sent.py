"""The key of every form: looked up before its verb, noted once the verb kept it."""

from __future__ import annotations

import re
from functools import partial

from fastapi import Request
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import UploadFile
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from grimcoil.service.again import again
from grimcoil.service.sent import check_sent, digest_of, note_sent
from grimcoil.web.security import SAFE
from grimcoil.web.state import State

# The bench's own posts are entries, which hold what came under their key themselves.
_ENTRIES = re.compile(r"/jobs/\d+/(keep|overrule|now|again|off|take-back)")
LONGEST_KEY = 40
NOT_CONTENT = frozenset({"csrf", "token", "secret", "page_word"})


async def once(request: Request, state: State) -> None:
    """Raises KeyReused for a key that came before with other content."""
    if request.method in SAFE or _ENTRIES.fullmatch(request.url.path):
        return
    if "form" not in request.headers.get("content-type", ""):
        return
    form = await request.form()
    token = form.get("token")
    if not isinstance(token, str) or not 8 <= len(token) <= LONGEST_KEY:
        return
    items = [(name, _told(value)) for name, value in form.multi_items() if name not in NOT_CONTENT]
    digest = digest_of(request.url.path, items)
    await run_in_threadpool(check_sent, state.store, token, digest)
    request.state.sent = (token, digest)


def _told(value: str | UploadFile) -> str:
    return value if isinstance(value, str) else f"{value.filename} {value.size}"


class Sent:
    """Notes a form's key before its answer goes out, where the verb kept it."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """ASGI."""
        if scope["type"] != "http" or scope["method"] in SAFE:
            await self.app(scope, receive, send)
            return

        async def noted(message: Message) -> None:
            sent = scope.get("state", {}).get("sent")
            if message["type"] == "http.response.start" and sent is not None and 300 <= message["status"] < 400:
                state = scope["app"].state.grimcoil
                token, digest = sent
                note = partial(note_sent, state.store, token, digest, state.clock())
                await run_in_threadpool(again, note)
            await send(message)

        await self.app(scope, receive, noted)
