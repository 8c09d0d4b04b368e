"""A workbook read in a process of its own: the same as here, and ended where it takes too long or too much."""

import io
import os
import signal
from multiprocessing import active_children

import pytest
from openpyxl import Workbook

from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.sheets import apart
from grimcoil.exchange.sheets.grid import read_book


@pytest.fixture(scope="module")
def raw():
    book = Workbook()
    for row in (["Tag", "Date", "MΩ"], ["BW-114", "2026-04-02", 550]):
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def dies(out, raw, name):
    os.kill(os.getpid(), signal.SIGKILL)


def eats(out, raw, name):
    """In the process of its own, where what is patched stays."""
    apart.read_book = lambda *_: bytearray(2 * apart.MEMORY)
    reads(out, raw, name)


reads = apart._read


def test_it_reads_the_same(raw):
    assert apart.read_apart(raw, "list.xlsx") == read_book(raw, "list.xlsx")
    text = b"Tag;Date;MOhm\nBW-114;2026-04-02;550\n"
    assert apart.read_apart(text, "list.csv", "utf-8", ";") == read_book(text, "list.csv", "utf-8", ";")


def test_a_refusal_comes_over_with_all_it_says(raw):
    with pytest.raises(RecordRefusal) as here:
        read_book(raw[:900], "list.xlsx")
    with pytest.raises(RecordRefusal) as there:
        apart.read_apart(raw[:900], "list.xlsx")
    assert vars(there.value) == vars(here.value)


def test_what_takes_too_long_is_ended(raw, monkeypatch):
    monkeypatch.setattr(apart, "PATIENCE_S", 0.0)
    with pytest.raises(RecordRefusal, match="not read within 0 s"):
        apart.read_apart(raw, "list.xlsx")
    assert active_children() == []


def test_what_takes_too_much_is_refused_and_nothing_else_ends(raw, monkeypatch):
    monkeypatch.setattr(apart, "_read", dies)
    with pytest.raises(RecordRefusal, match="more than a spreadsheet may have"):
        apart.read_apart(raw, "list.xlsx")
    monkeypatch.setattr(apart, "_read", eats)
    with pytest.raises(RecordRefusal, match="more than 1 GB"):
        apart.read_apart(raw, "list.xlsx")
    monkeypatch.undo()
    assert apart.read_apart(raw, "list.xlsx").tabs
