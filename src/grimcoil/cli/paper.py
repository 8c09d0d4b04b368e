"""`grimcoil paper`: what the pages print, as a PDF file: a job, a motor's history, the money, what falls due."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path
from typing import Any

from grimcoil.cli.database import with_store
from grimcoil.core.errors import RecordRefusal

MOST_DAYS = 366


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("paper")
    which = command.add_subparsers(dest="which", required=True)
    job = which.add_parser("job", help="the sheet of a job")
    job.add_argument("id", type=int, help="the job's number")
    history = which.add_parser("history", help="a motor's life and tests")
    money = which.add_parser("money", help="rewind or replace, on one page")
    for of_motor in (history, money):
        of_motor.add_argument("tag", help="the motor's tag")
    money.add_argument("figure", nargs="+", help="as the page names them: rewind_price=2450")
    outage = which.add_parser("outage", help="what falls due")
    outage.add_argument("--days", type=int, default=60, help="days ahead, 1 to 366")
    outage.add_argument("--area", default="", help="one area only")
    for one in (job, history, money, outage):
        one.add_argument("-o", "--out", required=True, help="the file to write")
        one.set_defaults(run=_paper)


def _paper(arguments: argparse.Namespace) -> int:
    def work(store: Any) -> str:
        content = _printed(store, arguments)
        try:
            Path(arguments.out).write_bytes(content)
        except OSError as error:
            raise RecordRefusal("-o", arguments.out, f"a file that can be written ({error.strerror})") from None
        return f"{arguments.out}: {len(content) // 1024 + 1} KB"

    return with_store(work)


def _printed(store: Any, arguments: argparse.Namespace) -> bytes:
    """The page as PDF. Raises a Refusal where there is nothing to print."""
    from fastapi.templating import Jinja2Templates
    from starlette.requests import Request

    from grimcoil.service.signing_in import zone_named
    from grimcoil.service.site import site_of
    from grimcoil.settings import Settings
    from grimcoil.web.paper import pdf_of
    from grimcoil.web.state import AppState, utc_now
    from grimcoil.web.templating import environment
    from grimcoil.web.versions import Versions
    from grimcoil.web.views.job_sheet import photos_of

    engine = store.kw["bind"]
    zone = zone_named(site_of(store).zone)  # days and times are the works' own here too
    templates = Jinja2Templates(env=environment())
    state = AppState(engine, store, templates, Settings(), lambda: utc_now().astimezone(zone), Versions(engine))
    scope = {
        "type": "http", "method": "GET", "path": "/", "query_string": b"", "headers": [], "app": _App(state),
        "state": {"zone": zone},
    }  # fmt: skip
    made = _pages()[arguments.which](Request(scope), state, arguments)
    photos = photos_of(state, made) if arguments.which == "job" else {}
    return pdf_of(bytes(made.body).decode("utf-8"), photos)


class _App:
    """What the pages ask of the application: its state."""

    def __init__(self, state: Any) -> None:
        self.state = argparse.Namespace(grimcoil=state)


def _pages() -> dict[str, Callable[..., Any]]:
    from grimcoil.core.people import Actor, Role
    from grimcoil.web.forms.money import MoneyQuery
    from grimcoil.web.views.job_sheet import job_sheet
    from grimcoil.web.views.papers import history_paper, money_paper, outage_page

    def money(request: Any, state: Any, arguments: argparse.Namespace) -> Any:
        figures = dict(one.partition("=")[::2] for one in arguments.figure)
        if strange := sorted(figures.keys() - MoneyQuery.model_fields.keys()):
            raise RecordRefusal("figure", strange[0], "a field of the page", "rewind_price=2450")
        return money_paper(request, state, arguments.tag, MoneyQuery.model_validate(figures).texts())

    def outage(request: Any, state: Any, arguments: argparse.Namespace) -> Any:
        if not 1 <= arguments.days <= MOST_DAYS:
            raise RecordRefusal("--days", str(arguments.days), f"1 to {MOST_DAYS} days ahead", "60")
        actor = Actor(None, "command line", Role.PLANNER, origin="command line")
        return outage_page(request, state, actor, arguments.days, arguments.area)

    return {
        "job": lambda request, state, arguments: job_sheet(request, state, arguments.id),
        "history": lambda request, state, arguments: history_paper(request, state, arguments.tag),
        "money": money,
        "outage": outage,
    }
