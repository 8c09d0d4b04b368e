"""The application in a thread on a loopback port, for the browser."""

import socket
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress

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


class Line:
    """A line to the database that can be cut and mended: what comes in on its port goes on to the real one."""

    def __init__(self, port: int) -> None:
        self.to = port
        self.open: list[socket.socket] = []
        self.listener: socket.socket | None = None
        self.port = 0
        self.mend()

    def mend(self) -> None:
        """Take calls, on the same port as before."""
        self.listener = socket.create_server(("127.0.0.1", self.port), reuse_port=True)
        self.port = self.listener.getsockname()[1]
        threading.Thread(target=self._accept, args=(self.listener,), daemon=True).start()

    def cut(self) -> None:
        """Hang up on everyone, and take no calls."""
        assert self.listener is not None
        self.listener.shutdown(socket.SHUT_RDWR)
        self.listener.close()
        for end in self.open:
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            end.close()
        self.open.clear()

    def _accept(self, listener: socket.socket) -> None:
        with suppress(OSError):
            while True:
                near, _ = listener.accept()
                far = socket.create_connection(("127.0.0.1", self.to))
                self.open += [near, far]
                for one, other in ((near, far), (far, near)):
                    threading.Thread(target=_carry, args=(one, other), daemon=True).start()


def _carry(one: socket.socket, other: socket.socket) -> None:
    with suppress(OSError):
        while said := one.recv(65536):
            other.sendall(said)
        other.shutdown(socket.SHUT_RDWR)
