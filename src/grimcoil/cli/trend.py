"""`grimcoil trend FILE.csv --minimum 5` and `grimcoil trend --lines FILE`: the trend of an insulation history."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from typing import Any

from grimcoil.cli.documents import each_line, fail, print_document, read_bytes
from grimcoil.core.decision.schedule import BASE_MONTHS
from grimcoil.core.errors import RecordRefusal, Refusal
from grimcoil.core.trend.history import HistoryRow, judge_history
from grimcoil.core.trend.judge import next_after
from grimcoil.exchange.histories import read_csv, read_history, to_document


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("trend")
    command.add_argument("file", metavar="FILE", help="a CSV, or with --lines histories; - for standard input")
    command.add_argument("--minimum", metavar="MOHM", default=None, help="least megohms at 40 °C, for example 5")
    command.add_argument("--lines", action="store_true", help="one history per line in, one trend per line out")
    command.add_argument("--criticality", choices=sorted(BASE_MONTHS), default="routine", help="for the next date")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Fit and print; 2 with one line on standard error where the input can't be used."""
    name: str = arguments.file
    try:
        if arguments.lines:
            return each_line(name, lambda line: judged(*read_history(line), arguments.criticality))
        print_document(judged(read_csv(read_bytes(name)), _minimum(arguments.minimum), arguments.criticality))
    except Refusal as refusal:
        return fail("" if refusal.where == "--minimum" else name, refusal)
    return 0


def _minimum(text: str | None) -> float:
    try:
        value = float(text or "")
    except ValueError:
        value = 0.0
    if not 0 < value < float("inf"):
        raise RecordRefusal("--minimum", text or "", "the least megohms at 40 °C, above 0", "5")
    return value


def judged(rows: Sequence[HistoryRow], minimum_mohm: float, criticality: str) -> dict[str, Any]:
    """One history as `grimcoil-trend/1`."""
    history = judge_history(rows, minimum_mohm)
    following = None
    if history.points:
        following = next_after(history.points[-1].on, criticality, history.trend.verdict, history.trend)
    return to_document(history, minimum_mohm, following)
