"""`grimcoil verify`: whether every signed record is as it was signed."""

from __future__ import annotations

import argparse
import sys
from typing import Any

from grimcoil.cli.database import with_store
from grimcoil.cli.documents import spare_collector
from grimcoil.cli.progress import Counting
from grimcoil.core.errors import RecordRefusal

BROKEN = 1
UNLINKED = ("rounds", "money papers", "photos of plates", "dryings that go on", "sign-ins and keys")


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("verify")
    command.add_argument("--head", default="", metavar="SHA256", help="a head noted earlier: it must be in the chain")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """0 where all is whole, 1 with a line per break, 2 where it can't be told."""
    broken: list[str] = []

    def work(store: Any) -> str:
        from grimcoil.service.health import readiness
        from grimcoil.service.verifying import verify

        if not readiness(store.kw["bind"]):
            raise RecordRefusal("database", "tables of an earlier version", "migrate first: grimcoil migrate")
        spare_collector()
        counted = Counting("links")
        found = verify(store, arguments.head.strip().casefold(), counted)
        counted(found.links, found.links)
        broken.extend(found.breaks)
        if found.trail_not_held:
            print(
                f"trail: {found.trail_not_held} lines are newer than the newest link: nothing holds them yet",
                file=sys.stderr,
            )
        state = "not whole" if found.breaks else "whole"
        print(f"not in the chain, not looked at: {', '.join(UNLINKED)}", file=sys.stderr)
        return f"{found.links} links, {state}; head {found.head.seq} {found.head.hash or 'none yet'}"

    status = with_store(work)
    for line in broken:
        print(line, file=sys.stderr)
    return BROKEN if broken and status == 0 else status
