"""The API beyond the register, read only: jobs as documents, readings by cursor, positions, what is due, imports."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Annotated, Any

from fastapi import APIRouter, Path, Query, Request
from pydantic import BaseModel
from starlette.responses import Response

from grimcoil.core.people import Action
from grimcoil.exchange.tasks import TaskList, tasks_document
from grimcoil.service import lives, motors, rounds, sheet_drafts, tasks, today
from grimcoil.service.job_files import export_job
from grimcoil.web import paper
from grimcoil.web.again import Again
from grimcoil.web.forms.money import MoneyQuery
from grimcoil.web.routers.api_shapes import JobId, Tag, may_answer
from grimcoil.web.signed import TokenActor
from grimcoil.web.state import State
from grimcoil.web.views.job_sheet import job_sheet, photos_of
from grimcoil.web.views.papers import history_paper, money_paper, outage_page

router = APIRouter(route_class=Again, responses=may_answer())
MOST_DUE = 500


class ReadingRow(BaseModel):
    """A kept reading, SI; a null `high` is open: over range."""

    id: int
    job_id: int
    tested_on: date | None
    place: str
    text: str
    unit: str | None
    low: float | None
    high: float | None
    at: str
    who: str
    taken_back: bool


class ReadingPage(BaseModel):
    """Readings in the order they were kept; `after` is where the next page goes on, null at the end."""

    readings: list[ReadingRow]
    after: int | None


class StayRow(BaseModel):
    """A motor at a position, from a day to a day."""

    tag: str
    since: date
    until: date | None


class PositionState(BaseModel):
    """A position with the motors that drove it, newest first."""

    id: int
    name: str
    area: str
    supply_system: str | None
    stays: list[StayRow]
    failures: int


class DueTest(BaseModel):
    """A motor's next test."""

    tag: str
    place: str | None
    on: date
    why: str


class DueTasks(BaseModel):
    """Tasks of an area's round on a day; overdue ones stand on the first."""

    area: str
    on: date
    tasks: int


class DueList(BaseModel):
    """What falls due."""

    tests: list[DueTest]
    rounds: list[DueTasks]


class ImportRow(BaseModel):
    """A sheet that came in."""

    id: int
    file_name: str
    who: str
    at: str
    taken: int
    taken_back: bool


@router.get("/jobs/{job_id}/document", responses=may_answer(404, 422))
def document(state: State, actor: TokenActor, job_id: JobId) -> dict[str, Any]:
    """A job as `grimcoil-job/1`; a signed one as it was kept. Scope: read."""
    actor.need(Action.READ)
    return export_job(state.store, job_id, state.clock())


class Pdf(Response):
    """Tells the description what comes."""

    media_type = "application/pdf"


@router.get("/jobs/{job_id}/sheet.pdf", response_class=Pdf, responses=may_answer(404, 422))
def sheet_pdf(request: Request, state: State, actor: TokenActor, job_id: JobId) -> Response:
    """A job's sheet as PDF/UA, its times by the works' clock. Scope: read."""
    actor.need(Action.READ)
    made = job_sheet(request, state, job_id)
    return paper.answer(made, f"job-{job_id}", photos_of(state, made))


@router.get("/motors/{tag:tag}/history.pdf", response_class=Pdf, responses=may_answer(404, 422))
def history_pdf(request: Request, state: State, actor: TokenActor, tag: Tag) -> Response:
    """A motor's life and tests as PDF/UA. Scope: read."""
    actor.need(Action.READ)
    return paper.answer(history_paper(request, state, tag), f"{tag}-history")


@router.get("/motors/{tag:tag}/money.pdf", response_class=Pdf, responses=may_answer(404, 422))
def money_pdf(
    request: Request, state: State, actor: TokenActor, tag: Tag, given: Annotated[MoneyQuery, Query()]
) -> Response:  # fmt: skip
    """Rewind or replace on one page, as PDF/UA; asked as on the page. Scope: read."""
    actor.need(Action.READ)
    return paper.answer(money_paper(request, state, tag, given.texts()), f"{tag}-rewind-or-replace")


@router.get("/outage.pdf", response_class=Pdf, responses=may_answer(422))
def outage_pdf(
    request: Request,
    state: State,
    actor: TokenActor,
    days: Annotated[int, Query(ge=1, le=366)] = 60,
    area: Annotated[str, Query(max_length=100)] = "",
) -> Response:
    """What falls due in some days, as PDF/UA. Scope: read."""
    actor.need(Action.READ)
    return paper.answer(outage_page(request, state, actor, days, area), "outage-list")


@router.get("/motors/{tag:tag}/readings", responses=may_answer(404, 422))
def readings(
    state: State,
    actor: TokenActor,
    tag: Tag,
    after: Annotated[int, Query(ge=0, le=2**62)] = 0,
    most: Annotated[int, Query(ge=1, le=2000)] = 500,
) -> ReadingPage:
    """Every reading kept of a motor, a page at a time behind the last one's id. Scope: read."""
    actor.need(Action.READ)
    lines = motors.readings_after(state.store, tag, after, most)
    made = [
        ReadingRow(
            id=row.id, job_id=row.job_id, tested_on=row.tested_on, place=row.place, text=row.text, unit=row.unit,
            low=row.low, high=row.high, at=row.at.isoformat(), who=row.who, taken_back=row.taken_back_at is not None,
        )
        for row in lines
    ]  # fmt: skip
    return ReadingPage(readings=made, after=lines[-1].id if len(lines) == most else None)


@router.get("/positions/{position_id}", responses=may_answer(404, 422))
def position(state: State, actor: TokenActor, position_id: Annotated[int, Path(ge=1, le=2**31 - 1)]) -> PositionState:
    """A position and who stood there. Scope: read."""
    actor.need(Action.READ)
    view = lives.position(state.store, position_id, state.clock().date())
    stays = [StayRow(tag=one.tag, since=one.since, until=one.until) for one in view.stays]
    place = view.place
    return PositionState(
        id=place.id, name=place.name, area=place.area, supply_system=place.supply_system, stays=stays,
        failures=len(view.failures),
    )  # fmt: skip


@router.get("/due", responses=may_answer(422))
def due(
    state: State,
    actor: TokenActor,
    days: Annotated[int, Query(ge=1, le=366)] = 60,
    area: Annotated[str, Query(max_length=100)] = "",
) -> DueList:
    """Tests and tasks of rounds that fall due, overdue ones too. Scope: read."""
    actor.need(Action.READ)
    day = state.clock().date()
    found = today.due(state.store, actor, day, area, timedelta(days=days), MOST_DUE)
    tests = [
        DueTest(tag=row.tag, place=row.place, on=row.next_on, why=row.next_why or "")
        for row in found.rows
        if row.next_on is not None
    ]
    tasks = [
        DueTasks(area=where, on=on, tasks=count)
        for on, where, count in rounds.due_days(state.store, actor, day, day + timedelta(days=days), area)
    ]
    return DueList(tests=tests, rounds=tasks)


@router.get("/tasks")
def tasks_kept(state: State, actor: TokenActor) -> TaskList:
    """What is to be done at motors, open, done and dropped, as `grimcoil-tasks/1`. Scope: read."""
    actor.need(Action.READ)
    return TaskList.model_validate(tasks_document(tasks.every_task(state.store)))


@router.get("/imports")
def imports(state: State, actor: TokenActor) -> list[ImportRow]:
    """The sheets that came in, newest first. Scope: read."""
    actor.need(Action.READ)
    _, came = sheet_drafts.listed(state.store, actor)
    return [
        ImportRow(
            id=one.id, file_name=one.file_name, who=one.who, at=one.at.isoformat(), taken=one.taken,
            taken_back=one.undone_at is not None,
        )
        for one in came
    ]  # fmt: skip
