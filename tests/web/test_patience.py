"""A request whose head never ends is let go; one that is being answered never is."""

import asyncio
from concurrent.futures import ThreadPoolExecutor

import uvicorn
from uvicorn.server import ServerState

from grimcoil.web import patience
from grimcoil.web.patience import Patient

HEAD = b"GET / HTTP/1.1\r\nhost: here\r\n"


class Wire(asyncio.Transport):
    """What the protocol writes to."""

    def __init__(self):
        super().__init__()
        self.sent, self.closed = b"", False

    def get_extra_info(self, name, default=None):
        return {"peername": ("127.0.0.1", 1), "sockname": ("127.0.0.1", 2)}.get(name, default)

    def write(self, data):
        self.sent += data

    def close(self):
        self.closed = True

    def is_closing(self):
        return self.closed

    def pause_reading(self):
        pass

    def resume_reading(self):
        pass


def talk(*parts, answered_after=None):
    """The bytes sent, then as much waiting as the patience allows twice; what became of the connection."""

    async def run():
        done = asyncio.Event()

        async def app(_scope, _receive, send):
            await done.wait()
            await send({"type": "http.response.start", "status": 204, "headers": []})
            await send({"type": "http.response.body", "body": b""})

        config = uvicorn.Config(app, log_config=None)
        config.load()
        protocol, wire = Patient(config, ServerState(), {}, asyncio.get_running_loop()), Wire()
        waiting = protocol.loop.time() + patience.HEAD_S * 2
        protocol.connection_made(wire)
        for part in parts:
            protocol.data_received(part)
        while protocol.loop.time() < waiting and not wire.closed:
            await asyncio.wait([asyncio.ensure_future(done.wait())], timeout=patience.HEAD_S / 4)
        closed_before = wire.closed
        done.set()
        for _ in range(5):
            await asyncio.wait([asyncio.ensure_future(done.wait())])
        protocol.connection_lost(None)
        return closed_before, wire.sent

    with ThreadPoolExecutor(1) as own:  # a loop of a browser's may run in this thread
        return own.submit(lambda: asyncio.run(run())).result()


def test_a_head_that_never_ends_is_let_go(monkeypatch):
    monkeypatch.setattr(patience, "HEAD_S", 0.05)
    assert talk(HEAD) == (True, b"")
    assert talk() == (True, b"")
    assert talk(HEAD, b"x-more: 1\r\n") == (True, b"")


def test_a_whole_request_is_answered_however_long_that_takes(monkeypatch):
    monkeypatch.setattr(patience, "HEAD_S", 0.05)
    closed, sent = talk(HEAD + b"\r\n")
    assert not closed
    assert sent.startswith(b"HTTP/1.1 204")
