"""`grimcoil assess JOB.json` and `grimcoil assess --lines FILE`: judge a job record."""

from __future__ import annotations

import argparse
from collections.abc import Mapping
from typing import Any

from grimcoil.cli.documents import each_line, fail, print_document, read_bytes
from grimcoil.core.assessment import assess
from grimcoil.core.criteria import Criteria
from grimcoil.core.errors import Refusal
from grimcoil.exchange.assessments import to_document
from grimcoil.exchange.comparisons import compare, read_assessment
from grimcoil.exchange.criteria import read_criteria
from grimcoil.exchange.jobs import read_job


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("assess")
    command.add_argument("file", metavar="FILE", help="a job, or - for standard input")
    command.add_argument("--lines", action="store_true", help="one job per line in, one assessment per line out")
    command.add_argument(
        "--criteria", metavar="FILE", action="append", default=[], help="a site's own criteria (grimcoil-criteria/1)"
    )
    command.add_argument(
        "--since",
        metavar="ASSESSMENT",
        help="an earlier assessment of this job: print what is now judged otherwise",
    )
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Judge and print; 2 with one line on standard error where the input can't be used."""
    name = ""
    try:
        site: dict[str, Criteria] = {}
        for name in arguments.criteria:
            made = read_criteria(read_bytes(name))
            site[made.name] = made
        then = None
        if arguments.since is not None:
            name = arguments.since
            then = read_assessment(read_bytes(name))
        name = arguments.file
        if arguments.lines:
            return each_line(name, lambda line: judged(line, site))
        now = judged(read_bytes(name), site)
        print_document(now if then is None else compare(then, now))
    except Refusal as refusal:
        return fail(name, refusal)
    return 0


def judged(text: bytes, site: Mapping[str, Criteria]) -> dict[str, Any]:
    """One job as `grimcoil-assessment/1`. Raises RecordRefusal."""
    return to_document(assess(read_job(text, site)))
