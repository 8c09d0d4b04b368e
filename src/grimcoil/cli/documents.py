"""What commands over documents share: reading files, one line on standard error, lines in and out."""

from __future__ import annotations

import argparse
import gc
import json
import sys
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any, BinaryIO

from pydantic_core import to_json

from grimcoil.cli.broken import broken_at
from grimcoil.core.errors import RecordRefusal, Refusal
from grimcoil.exchange.strict import MOST_BYTES

UNUSABLE = 2


def read_bytes(name: str) -> bytes:
    """The whole file, or standard input for `-`. Raises RecordRefusal naming the file."""
    try:
        return sys.stdin.buffer.read() if name == "-" else Path(name).read_bytes()
    except OSError as error:
        raise RecordRefusal("", name, f"a file that can be read ({error.strerror or error})") from None


def fail(name: str, refusal: Refusal) -> int:
    """One line on standard error; the exit status."""
    sentence = refusal.whole() if name in ("", refusal.found) else f"{name}: {refusal.whole()}"
    printable = " ".join(sentence.split()).encode("utf-8", "backslashreplace").decode("utf-8")
    print(printable, file=sys.stderr)
    return UNUSABLE


def error_document(refusal: Refusal) -> dict[str, Any]:
    """A refusal in place of a result."""
    return {
        "error": {
            "path": refusal.where,
            "found": refusal.found,
            "accepted": refusal.accepted,
            "example": refusal.example,
            "do": refusal.do,
        }
    }


def print_document(document: dict[str, Any]) -> None:
    """Pretty, on standard output."""
    print(json.dumps(document, ensure_ascii=False, indent=1, allow_nan=False))


def add_answering(commands: Any, name: str, what: str, work: Callable[[bytes], dict[str, Any]]) -> None:
    """Declare a command that answers documents: one file, or `--lines`."""
    command: argparse.ArgumentParser = commands.add_parser(name)
    command.add_argument("file", metavar="FILE", help=f"{what}, or - for standard input")
    command.add_argument("--lines", action="store_true", help=f"{what} per line in, one answer per line out")
    command.set_defaults(run=partial(_answer, work))


def _answer(work: Callable[[bytes], dict[str, Any]], arguments: argparse.Namespace) -> int:
    try:
        if arguments.lines:
            return each_line(arguments.file, work)
        print_document(work(read_bytes(arguments.file)))
    except Refusal as refusal:
        return fail(arguments.file, refusal)
    return 0


def each_line(name: str, work: Callable[[bytes], dict[str, Any]]) -> int:
    """Stream documents, one a line: a result or an error in its place, as each line comes.

    Raises RecordRefusal where the file can't be opened.
    """
    status = 0
    out = sys.stdout
    spare_collector()
    for line in _lines(name):
        if not line.strip():
            continue
        try:
            text = to_json(work(line), inf_nan_mode="null").decode("utf-8")
        except Refusal as refusal:
            text, status = _refused(refusal), UNUSABLE
        except (ArithmeticError, ValueError, RecursionError, MemoryError) as error:
            beyond = RecordRefusal("document", type(error).__name__, "figures that arithmetic can carry")
            text, status = _refused(beyond), UNUSABLE
        except Exception as error:  # noqa: BLE001  whatever nobody foresaw costs its own line, not those after it
            text, status = _refused(RecordRefusal("document", broken_at(error), "told to the makers")), UNUSABLE
        out.write(text + "\n")
        out.flush()
    return status


def spare_collector() -> None:
    """Before many documents: what is loaded stays; documents leave no cycles, so the collector need look less often."""
    gc.freeze()
    gc.set_threshold(50_000, 20, 20)


def _refused(refusal: Refusal) -> str:
    """A refusal as a line; half a character in what was found is spelled out."""
    document = error_document(refusal)
    told = {key: value.encode("utf-8", "backslashreplace").decode() for key, value in document["error"].items()}
    return to_json({"error": told}).decode("utf-8")


def _bounded(file: BinaryIO) -> Iterator[bytes]:
    """Each line, of one that is too long just enough to be refused: memory doesn't follow the file."""
    while line := file.readline(MOST_BYTES + 1):
        yield line
        while len(line) > MOST_BYTES and not line.endswith(b"\n"):
            line = file.readline(MOST_BYTES + 1)


def _lines(name: str) -> Iterator[bytes]:
    if name == "-":
        yield from _bounded(sys.stdin.buffer)
        return
    try:
        with Path(name).open("rb") as file:
            yield from _bounded(file)
    except OSError as error:
        raise RecordRefusal("", name, f"a file that can be read ({error.strerror or error})") from None
