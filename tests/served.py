"""The application in a thread on a loopback port, for the browser."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager

import uvicorn
from fastapi import FastAPI

from grimcoil.core.people import Actor
from grimcoil.store.engine import Store
from tests.support import Clock, signed_cookie


@contextmanager
def served(app: FastAPI) -> Iterator[str]:
    """Its address while it runs."""
    server = uvicorn.Server(
        uvicorn.Config(app, host="127.0.0.1", port=0, log_level="warning", log_config=None, timeout_graceful_shutdown=1)
    )
    listening = threading.Event()
    server.config.load()
    startup = server.startup

    async def tell(sockets=None) -> None:
        await startup(sockets)
        listening.set()

    server.startup = tell  # type: ignore[method-assign]
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    assert listening.wait(20)
    yield f"http://127.0.0.1:{server.servers[0].sockets[0].getsockname()[1]}"
    server.should_exit = True
    thread.join(10)
    app.state.grimcoil.engine.dispose()


def browser_state(store: Store, actor: Actor, clock: Clock) -> dict[str, object]:
    """What a browser holds that someone is signed in on."""
    token, _ = signed_cookie(store, actor, clock())
    cookie = {"name": "gc_session", "value": token, "domain": "127.0.0.1", "path": "/", "expires": -1}
    return {"cookies": [cookie | {"httpOnly": True, "secure": False, "sameSite": "Lax"}], "origins": []}


def word_of(page) -> str:
    """The word of this sign-in, from the form that each page has."""
    return page.locator("[name=csrf]").first.get_attribute("value")
