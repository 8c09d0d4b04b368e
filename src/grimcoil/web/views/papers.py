"""What is printed, asked for by a person's page, by a token or by the command line: a motor's history, the answer on
money, the outage list. Each is a page; `web.paper` makes a PDF of it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date, timedelta
from itertools import groupby
from typing import Any
from urllib.parse import urlencode
from uuid import uuid4

from starlette.requests import Request
from starlette.responses import Response

from grimcoil.core.decision.rules import ACTIONS
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.people import Actor
from grimcoil.service import lives, motors, today
from grimcoil.service import money as money_service
from grimcoil.service import tasks as tasks_service
from grimcoil.service.stores import RegisterRow
from grimcoil.web.state import AppState
from grimcoil.web.views.money import INPUTS, NEEDED, TICKS, asked, defaults, money_shown, reopened
from grimcoil.web.views.motor import motor_life

MOST_DUE = 120  # lines of one outage list
MOST_TESTS = 120  # lines of one history
NONE_REFUSED: Mapping[str, str] = {}


def history_paper(request: Request, state: AppState, tag: str) -> Response:
    """A motor's plate, its plots, where it stood, what happened, its tests newest first. Raises Unknown."""
    day = state.clock().date()
    view = motors.motor_view(state.store, tag)
    wide, _ = motor_life(view, day)
    jobs, earlier = list(reversed(view.jobs)), view.earlier
    while earlier is not None and len(jobs) < MOST_TESTS:
        older = motors.motor_view(state.store, tag, earlier)
        jobs += reversed(older.jobs)
        earlier = older.earlier
    context = {
        "place": "motors", "view": view, "wide": wide, "life": lives.life(state.store, tag), "jobs": jobs,
        "more": earlier is not None, "today": day, "actions": ACTIONS,
    }  # fmt: skip
    return state.templates.TemplateResponse(request, "motors/history_paper.html", context)


def money_page(
    request: Request,
    state: AppState,
    tag: str,
    texts: dict[str, str],
    template: str,
    refused: Mapping[str, str] = NONE_REFUSED,
) -> Response:
    """The form with its answer, or the answer alone on one page. Raises Unknown."""
    facts = money_service.facts(state.store, tag)
    now = state.clock()
    typed = any(texts.get(name) for name in NEEDED)
    form = defaults(facts) | texts if typed else defaults(facts) | {"job": texts.get("job", "")}
    case, found = asked(form, now.year) if typed else (None, {})
    wrong = refused or found
    context: dict[str, Any] = {
        "place": "motors", "facts": facts, "form": form, "inputs": INPUTS, "ticks": TICKS, "refused": wrong,
        "shown": None if case is None else money_shown(case), "token": str(uuid4()), "query": urlencode(form),
        "kept": [(one, reopened(one.given, one.job_id)) for one in facts.kept], "today": now.date(),
    }  # fmt: skip
    return state.templates.TemplateResponse(request, template, context, status_code=422 if wrong else 200)


def money_paper(request: Request, state: AppState, tag: str, texts: dict[str, str]) -> Response:
    """The answer alone. Raises Unknown, RecordRefusal where a figure is missing or can't be used."""
    made = money_page(request, state, tag, texts, "motors/money_paper.html")
    context: dict[str, Any] = made.context  # type: ignore[attr-defined]
    if context["shown"] is None:
        name, said = next(iter(context["refused"].items()), ("", f"at least {', '.join(NEEDED)}"))
        raise RecordRefusal("money", name, said)
    return made


URGENCY = ("act", "watch", "unproven", "sound")


def _urgency(row: RegisterRow) -> tuple[int, bool]:
    """What asks for action now comes first, then what does so soon, then by verdict."""
    return URGENCY.index(row.verdict or "unproven"), bool(row.soon)


def outage_page(
    request: Request, state: AppState, actor: Actor, days: int, area: str, tags: Sequence[str] = ()
) -> Response:
    """What falls due, week by week with its hours, and by area for the stop; with tags, these motors whenever they are
    due, never tested ones now. Raises Forbidden.
    """
    day = state.clock().date()
    if tags:
        picked = today.of_tags(state.store, tags, MOST_DUE)
        found = today.Due(picked.site, picked.rows)
    else:
        found = today.due(state.store, actor, day, area, timedelta(days=days), MOST_DUE, untested=True)
    rows = [row if row.next_on else replace(row, next_on=day, why="Not tested yet") for row in found.rows]
    until = day + timedelta(days=days)
    todo = tasks_service.tasks_due(state.store, date.max if tags else until, "" if tags else area, tags)
    walked = {area: at for at, area in enumerate((found.site.areas if found.site else None) or ())}
    by_area = sorted(
        rows,
        key=lambda row: (
            walked.get(row.area or "", len(walked)),
            row.area or "~",
            _urgency(row),
            row.place or "",
            row.tag,
        ),
    )
    context = {
        "place": "today",
        "carried": today.carried(state.store, [row.tag for row in rows]),
        "weeks": (weeks := today.by_week(rows, day)),
        "hours": sum(week.hours for week in weeks),
        "overdue": sum(week.overdue for week in weeks),
        "areas": [(name, list(group)) for name, group in groupby(by_area, key=lambda row: row.area or "No place yet")],
        "found": found,
        "tasks": todo,
        "count": len(rows),
        "over": len(found.rows) == MOST_DUE,
        "days": days,
        "area": area,
        "tags": tags,
        "query": urlencode([("days", days), ("area", area), *(("tag", tag) for tag in tags)]),
        "today": day,
    }
    return state.templates.TemplateResponse(request, "today/outage.html", context)
