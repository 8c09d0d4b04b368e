"""A simulated instrument that answers on loopback while a test runs."""

import asyncio
import socket
import threading
from contextlib import ExitStack, contextmanager

import pytest

from grimcoil.simulator.meter import Meter
from grimcoil.simulator.served import listening, port_of


@contextmanager
def running(start):
    """An event loop in a thread of its own, with a server on it; gives the server's port."""
    loop = asyncio.new_event_loop()
    thread = threading.Thread(target=loop.run_forever)
    thread.start()

    async def ended(server):
        server.close()
        others = [task for task in asyncio.all_tasks() if task is not asyncio.current_task()]
        for task in others:
            task.cancel()
        await asyncio.gather(*others, return_exceptions=True)

    server = asyncio.run_coroutine_threadsafe(start(), loop).result(10)
    try:
        yield port_of(server)
    finally:
        asyncio.run_coroutine_threadsafe(ended(server), loop).result(10)
        loop.call_soon_threadsafe(loop.stop)
        thread.join(10)
        loop.close()


@pytest.fixture
def served():
    """A simulated instrument of a kind: meter and port by turns."""
    with ExitStack() as stack:

        def start(kind, **given):
            meter = Meter(kind, **given)
            return meter, stack.enter_context(running(lambda: listening(meter)))

        yield start


@pytest.fixture
def hurt():
    """An instrument that does as it is told to each connection: a function of the connected socket."""
    opened = []

    def start(act):
        door = socket.create_server(("127.0.0.1", 0))

        def work():
            try:
                wire, _ = door.accept()
            except OSError:
                return
            with wire:
                act(wire)

        thread = threading.Thread(target=work)
        thread.start()
        opened.append((door, thread))
        return f"127.0.0.1:{door.getsockname()[1]}"

    yield start
    for door, thread in opened:
        door.close()
        thread.join(10)
