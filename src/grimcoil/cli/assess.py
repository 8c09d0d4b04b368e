"""`grimcoil assess JOB.json` and `grimcoil assess --lines FILE`: judge a job record."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Iterable
from pathlib import Path
from typing import Any, TextIO

from grimcoil.core.assessment import assess
from grimcoil.core.errors import Refusal
from grimcoil.exchange.assessments import to_document
from grimcoil.exchange.jobs import read_job

UNUSABLE = 2


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("assess", help="judge a grimcoil-job/1 record")
    command.add_argument("file", metavar="FILE", help="a job, or - for standard input")
    command.add_argument("--lines", action="store_true", help="one job per line in, one assessment per line out")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Judge and print; 2 with one line on standard error where the input can't be used."""
    name: str = arguments.file
    try:
        text = sys.stdin.buffer.read() if name == "-" else Path(name).read_bytes()
    except OSError as error:
        return _fail(f"{name}: {error.strerror or error}")
    if arguments.lines:
        return _lines(text.splitlines(), sys.stdout)
    try:
        document = to_document(assess(read_job(text)))
    except Refusal as refusal:
        return _fail(f"{name}: {refusal.sentence()}")
    print(json.dumps(document, ensure_ascii=False, indent=1, allow_nan=False))
    return 0


def _lines(lines: Iterable[bytes], out: TextIO) -> int:
    status = 0
    for line in lines:
        try:
            document = to_document(assess(read_job(line)))
        except Refusal as refusal:
            document = {"error": {"path": refusal.where, "found": refusal.found, "accepted": refusal.accepted}}
            status = UNUSABLE
        out.write(json.dumps(document, ensure_ascii=False, allow_nan=False) + "\n")
    return status


def _fail(sentence: str) -> int:
    print(" ".join(sentence.split()), file=sys.stderr)
    return UNUSABLE
