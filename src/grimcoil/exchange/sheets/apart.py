"""A workbook read in a process of its own, which is ended where it takes too long or too much."""

from __future__ import annotations

import resource
from multiprocessing import get_context
from multiprocessing.connection import Connection

from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.sheets.grid import ZIP, Book, read_book

PATIENCE_S = 60.0
MEMORY = 1 << 30  # of addresses, of which a good sheet fills some 400 MB
_CONTEXT = get_context("forkserver")  # forks from a process without threads, which has the reader loaded
_CONTEXT.set_forkserver_preload([__name__])
_WANTED = "a workbook of tests, without drawings, empty rows or styles by the thousand"


def read_apart(raw: bytes, name: str, encoding: str | None = None, delimiter: str | None = None) -> Book:
    """A CSV or XLSX file. Raises RecordRefusal for anything else, for one that can't be read, and for a workbook that
    takes longer than a minute or more than 1 GB.
    """
    if not raw.startswith(ZIP):
        return read_book(raw, name, encoding, delimiter)
    here, there = _CONTEXT.Pipe(duplex=False)
    worker = _CONTEXT.Process(target=_read, args=(there, raw, name), daemon=True)
    worker.start()
    there.close()
    try:
        if not here.poll(PATIENCE_S):
            raise RecordRefusal("file", f"not read within {PATIENCE_S:g} s", _WANTED)
        found: Book | tuple[str, ...] = here.recv()
    except EOFError:  # it was ended from outside
        raise RecordRefusal("file", "more than a spreadsheet may have", _WANTED) from None
    finally:
        worker.kill()
        worker.join()
        here.close()
    if isinstance(found, tuple):
        raise RecordRefusal(*found)
    return found


def _read(out: Connection, raw: bytes, name: str) -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    found: Book | tuple[str, ...]
    try:
        found = read_book(raw, name)
    except RecordRefusal as refusal:
        found = refusal.where, refusal.found, refusal.accepted, refusal.example
    except MemoryError:
        found = "file", "more than 1 GB", _WANTED
    out.send(found)
    out.close()
