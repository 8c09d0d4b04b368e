"""HTTP with an end to its patience: a client that doesn't finish the head of its request is let go."""

from __future__ import annotations

import asyncio
from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

HEAD_S = 10.0


class Patient(H11Protocol):
    """uvicorn's own protocol; it waits for the next request, but not for ever for the rest of one that was begun."""

    _waiting: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        """A connection: its first head has to come."""
        super().connection_made(transport)
        self._watch()

    def data_received(self, data: bytes) -> None:
        """More bytes: a head that is whole is waited for no more."""
        super().data_received(data)
        self._watch()

    def connection_lost(self, exc: Exception | None) -> None:
        """Gone: nothing to watch."""
        self._stop()
        super().connection_lost(exc)

    def _watch(self) -> None:
        answering = self.cycle is not None and not self.cycle.response_complete
        if answering:
            self._stop()
        elif self._waiting is None:
            self._waiting = self.loop.call_later(HEAD_S, self._give_up)

    def _stop(self) -> None:
        if self._waiting is not None:
            self._waiting.cancel()
            self._waiting = None

    def _give_up(self) -> None:
        self._waiting = None
        if self.cycle is None or self.cycle.response_complete:
            self.transport.close()
