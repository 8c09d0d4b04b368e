"""Simulated instruments on loopback ports: a line in, a line out, as many at once as a real one bears."""

from __future__ import annotations

import asyncio
from collections.abc import Callable, Sequence

from grimcoil.simulator.meter import UNDEFINED, Meter

LOOPBACK = "127.0.0.1"
# Own choice, as small as those of bench instruments.
AT_ONCE = 8  # connections that are answered; the ninth waits
LONGEST = 4096  # bytes of a line; a longer one is cut, and its connection closed


async def listening(meter: Meter, port: int = 0) -> asyncio.Server:
    """Answers at a port of loopback, 0 for any that is free."""
    room = asyncio.Semaphore(AT_ONCE)

    async def served(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        try:
            async with room:
                await _answered(meter, reader, writer)
        except (ConnectionError, asyncio.CancelledError):
            pass
        finally:
            writer.close()

    return await asyncio.start_server(served, LOOPBACK, port, limit=LONGEST)


async def _answered(meter: Meter, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    while True:
        try:
            line = await reader.readuntil(b"\n")
        except asyncio.LimitOverrunError:
            meter.error(UNDEFINED)
            return
        except asyncio.IncompleteReadError:
            return
        told = meter.answer(line.decode("ascii", "replace").strip())
        if told:
            writer.write(f"{told}\n".encode("ascii", "replace"))
            await writer.drain()


def port_of(server: asyncio.Server) -> int:
    """Where it listens."""
    return int(server.sockets[0].getsockname()[1])


async def serve(meters: Sequence[Meter], ports: Sequence[int], ready: Callable[[], None]) -> None:
    """All of them, until the process is ended; ready is called once all of them listen. Raises OSError where a port
    is taken.
    """
    servers = [await listening(meter, port) for meter, port in zip(meters, ports, strict=True)]
    ready()
    await asyncio.gather(*(server.serve_forever() for server in servers))
