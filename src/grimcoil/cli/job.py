"""`grimcoil job`: a job out of the records, and one in."""

from __future__ import annotations

import argparse
import json
from typing import Any

from grimcoil.cli.database import with_store
from grimcoil.cli.progress import Counting


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("job")
    which = command.add_subparsers(dest="which", required=True)
    out: argparse.ArgumentParser = which.add_parser("export", help="a job as a document on standard output")
    out.add_argument("id", type=int, help="the job's number")
    out.set_defaults(run=_export)
    anew: argparse.ArgumentParser = which.add_parser("judge", help="which signed jobs would be decided otherwise now")
    anew.add_argument("--criteria", default="", help="judge by these; without it each by its own")
    anew.add_argument("--all", action="store_true", help="a line for those that stay as they are, too")
    anew.set_defaults(run=_judge)
    into: argparse.ArgumentParser = which.add_parser("import", help="a document as a filed job")
    into.add_argument("file", help="a grimcoil-job/1; - for standard input")
    into.add_argument("--new", action="store_true", help="an unknown tag makes the motor from the file's plate")
    into.set_defaults(run=_import)


def _export(arguments: argparse.Namespace) -> int:
    def work(store: Any) -> str:
        from datetime import UTC, datetime

        from grimcoil.service.job_files import export_job

        document = export_job(store, arguments.id, datetime.now(UTC))
        return json.dumps(document, ensure_ascii=False, indent=1, allow_nan=False)

    return with_store(work)


def _import(arguments: argparse.Namespace) -> int:
    from grimcoil.cli.documents import fail, read_bytes
    from grimcoil.core.errors import Refusal

    try:
        text = read_bytes(arguments.file)
    except Refusal as refusal:
        return fail(arguments.file, refusal)

    def work(store: Any) -> str:
        from datetime import UTC, datetime

        from grimcoil.core.people import Actor, Role
        from grimcoil.service.job_files import import_job

        done = import_job(
            store,
            text,
            Actor(None, "command line", Role.PLANNER, origin="command line"),
            datetime.now(UTC),
            arguments.new,
        )
        if done.known:
            return f"job {done.job_id} holds the same already: nothing changed"
        return f"filed as job {done.job_id}"

    return with_store(work, arguments.file)


HEADER = ("job", "motor", "tested_on", "verdict", "action", "verdict_now", "action_now")


def _judge(arguments: argparse.Namespace) -> int:
    """Lines of a CSV as they are found; nothing is changed."""

    def work(store: Any) -> str:
        import sys

        from grimcoil.exchange.workbooks import as_csv
        from grimcoil.service.judging import judged_anew

        counted, told = [0, 0], Counting("jobs")

        def lines() -> Any:
            for one in judged_anew(store, arguments.criteria):
                counted[0] += 1
                counted[1] += one.differs
                told(counted[0])
                if one.differs or arguments.all:
                    yield (one.job_id, one.tag, one.tested_on, one.verdict, one.action, one.verdict_now, one.action_now)

        for line in as_csv(HEADER, lines()):
            sys.stdout.write(line)
        sys.stdout.flush()
        told(counted[0], counted[0])
        print(f"grimcoil: {counted[0]} signed jobs judged, {counted[1]} otherwise", file=sys.stderr)
        return ""

    return with_store(work)
