"""What commands over documents share: reading files, one line on standard error, lines in and out."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from pydantic_core import to_json

from grimcoil.core.errors import RecordRefusal, Refusal

UNUSABLE = 2


def read_bytes(name: str) -> bytes:
    """The whole file, or standard input for `-`. Raises RecordRefusal naming the file."""
    try:
        return sys.stdin.buffer.read() if name == "-" else Path(name).read_bytes()
    except OSError as error:
        raise RecordRefusal("", name, f"a file that can be read ({error.strerror or error})") from None


def fail(name: str, refusal: Refusal) -> int:
    """One line on standard error; the exit status."""
    sentence = refusal.sentence() if name in ("", refusal.found) else f"{name}: {refusal.sentence()}"
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
        }
    }


def print_document(document: dict[str, Any]) -> None:
    """Pretty, on standard output."""
    print(json.dumps(document, ensure_ascii=False, indent=1, allow_nan=False))


def each_line(name: str, work: Callable[[bytes], dict[str, Any]]) -> int:
    """Stream documents, one a line: a result or an error in its place, as each line comes.

    Raises RecordRefusal where the file can't be opened.
    """
    status = 0
    out = sys.stdout
    for line in _lines(name):
        if not line.strip():
            continue
        try:
            document = work(line)
        except Refusal as refusal:
            document, status = error_document(refusal), UNUSABLE
        out.write(to_json(document, inf_nan_mode="null").decode("utf-8") + "\n")
    out.flush()
    return status


def _lines(name: str) -> Iterator[bytes]:
    if name == "-":
        yield from sys.stdin.buffer
        return
    try:
        with Path(name).open("rb") as file:
            yield from file
    except OSError as error:
        raise RecordRefusal("", name, f"a file that can be read ({error.strerror or error})") from None
