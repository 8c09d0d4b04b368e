"""`grimcoil serve`: the application with several worker processes, after bringing the schema up to date."""

from __future__ import annotations

import argparse
import os
import shutil
import sys
import tempfile
from typing import Any

# What a picture or a password took goes back at once, instead of staying with each thread that ever asked for it.
LEAN = {"MALLOC_ARENA_MAX": "2", "MALLOC_MMAP_THRESHOLD_": "1048576"}


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("serve")
    command.add_argument("--no-migrate", action="store_true", help="leave the schema as it is")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Migrate and serve; 2 with a line where the settings or the database can't be used."""
    from pydantic import ValidationError
    from sqlalchemy.exc import SQLAlchemyError

    from grimcoil.core.errors import Refusal
    from grimcoil.service.health import migrate
    from grimcoil.settings import Settings

    try:
        settings = Settings()
    except ValidationError as error:
        first = error.errors()[0]
        print(f"grimcoil: GRIMCOIL_{str(first['loc'][0]).upper()}: {first['msg'].lower()}", file=sys.stderr)
        return 2
    if not arguments.no_migrate:
        try:
            migrate(settings.database_url.get_secret_value())
        except Refusal as refusal:
            print(f"grimcoil: {refusal.sentence()}", file=sys.stderr)
            return 2
        except SQLAlchemyError as error:
            print(f"grimcoil: the database can't be used: {getattr(error, 'orig', error)}", file=sys.stderr)
            return 2
    counts = tempfile.mkdtemp(prefix="grimcoil-metrics-")  # the workers add their counts up there
    os.environ["PROMETHEUS_MULTIPROC_DIR"] = counts
    for name, value in LEAN.items():
        os.environ.setdefault(name, value)
    try:
        _serve(settings)
    finally:
        shutil.rmtree(counts, ignore_errors=True)
    return 0


def _serve(settings: Any) -> None:
    import uvicorn

    uvicorn.run(
        "grimcoil.web.app:serving",
        factory=True,
        host=settings.host,
        port=settings.port,
        workers=settings.workers,
        log_config=None,
        access_log=False,
        server_header=False,
        proxy_headers=bool(settings.trusted_proxies),
        forwarded_allow_ips=settings.trusted_proxies,
        timeout_graceful_shutdown=5,
        http="grimcoil.web.patience:Patient",
    )
