"""The works' archive as it is sent: packed while it goes out, however large, never whole in memory or on disk."""

from __future__ import annotations

import logging
import os
from collections.abc import Iterator
from datetime import datetime
from threading import Thread

from sqlalchemy import Engine

from grimcoil.core.people import Action, Actor
from grimcoil.store import trail
from grimcoil.store.archive import pack_into
from grimcoil.store.engine import Store

PIECE = 256 * 1024
log = logging.getLogger(__name__)


def archive_pieces(store: Store, engine: Engine, actor: Actor, now: datetime) -> Iterator[bytes]:
    """The archive piece by piece; who took it stands in the trail. Raises Forbidden before the first piece.

    Where packing fails the file breaks off without its manifest: nobody can take it for whole.
    """
    actor.need(Action.TAKE_ARCHIVE)
    with store.begin() as session:
        trail.write(session, actor, "archive taken", now)
    return _pieces(engine, now)


def _pieces(engine: Engine, now: datetime) -> Iterator[bytes]:
    read_end, write_end = os.pipe()
    packing = Thread(target=_pack, args=(engine, write_end, now), name="archive", daemon=True)
    with os.fdopen(read_end, "rb") as come:
        packing.start()
        while piece := come.read(PIECE):
            yield piece
    packing.join()


def _pack(engine: Engine, write_end: int, now: datetime) -> None:
    try:
        with os.fdopen(write_end, "wb") as out:
            pack_into(engine, out, now)
    except BrokenPipeError:
        log.info("archive not wanted to its end")
    except Exception:
        log.exception("archive broke off")
