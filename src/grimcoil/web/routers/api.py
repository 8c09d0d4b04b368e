"""The API for other programs, by token: the register, jobs with their entries, keeping readings, judging a record.

Every change is told apart by its `Idempotency-Key`: sent twice, it is done once. Nothing is signed here: a signature
needs a person.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Header, Query
from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from grimcoil.core.assessment import assess
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.lines import shown_as_such
from grimcoil.core.people import Action
from grimcoil.exchange.assessments import to_document
from grimcoil.exchange.jobs import Job, to_record
from grimcoil.exchange.motors import Motor, Position
from grimcoil.service import jobs as verbs
from grimcoil.service import motors, today
from grimcoil.service.bench import Bench
from grimcoil.service.motor_files import register_file
from grimcoil.web.again import Again
from grimcoil.web.routers.api_shapes import JobId, Tag, may_answer
from grimcoil.web.signed import TokenActor
from grimcoil.web.state import State

Key = Annotated[str, Header(alias="Idempotency-Key", min_length=8, max_length=40, pattern=r"^[A-Za-z0-9-]+$")]
router = APIRouter(route_class=Again, responses=may_answer())


class Me(BaseModel):
    """Whom the token acts for."""

    login: str
    name: str
    role: str
    scopes: list[str]


class MotorLine(BaseModel):
    """A motor as the register shows it."""

    tag: str
    power: str
    place: str | None
    area: str | None
    lead_scheme: str | None
    open_job_id: int | None
    verdict: str | None
    why: str | None
    next_on: str | None


class MotorBody(BaseModel):
    """A motor and its place, as a `grimcoil-job/1` writes them."""

    model_config = ConfigDict(extra="forbid")

    motor: Motor
    position: Position = Field(default_factory=Position)


class Added(BaseModel):
    """Where it stands now."""

    tag: str


class EntryBody(BaseModel):
    """An entry as the meter shows it."""

    model_config = ConfigDict(extra="forbid")

    place: Annotated[str, Field(max_length=60, examples=["winding_resistance.1-2"])]
    text: Annotated[str, AfterValidator(shown_as_such), Field(max_length=500, examples=["0.5344"])]


class StartBody(BaseModel):
    """A motor by its tag."""

    model_config = ConfigDict(extra="forbid")

    tag: Annotated[str, Field(max_length=60)]
    criteria: Annotated[str, Field(max_length=40)] = "field-general"


class Entry(BaseModel):
    """An entry as it was kept. A null `high` is open: over range."""

    seq: int
    place: str
    text: str
    unit: str | None
    low: float | None
    high: float | None
    bound_open: bool
    at: str
    who: str
    taken_back: bool


class JobState(BaseModel):
    """A job as it stands."""

    id: int
    tag: str
    state: str
    step: str
    next_place: str | None
    entries: list[Entry]
    findings: list[str]


@router.get("/me")
def me(actor: TokenActor) -> Me:
    """Whom this token acts for, and its scopes."""
    return Me(login=actor.login, name=actor.name, role=actor.role, scopes=sorted(actor.scopes or ()))


class MotorPage(BaseModel):
    """Some motors, and the cursor that goes on behind them; null at the end. narrow: a search that more match."""

    motors: list[MotorLine]
    after: str | None
    narrow: bool


@router.get("/motors", responses=may_answer(422))
def register(
    state: State,
    actor: TokenActor,
    q: Annotated[str, Query(max_length=100)] = "",
    sort: Literal["area", "worst", "due", "insulation"] = "area",
    after: Annotated[str, Query(max_length=200)] = "",
    most: Annotated[int, Query(ge=1, le=200)] = 50,
) -> MotorPage:
    """The register a page at a time; `q` searches tag, serial, place and plate, misspelt words too. Scope: read."""
    actor.need(Action.READ)
    asked = today.Asked(q, sort=f"by_{sort}", after=after, most=most)
    found = today.register(state.store, asked, state.clock().date())
    motors = [
        MotorLine(
            tag=row.tag, power=row.power_text, place=row.place, area=row.area, lead_scheme=row.lead_scheme,
            open_job_id=row.open_job_id, verdict=row.verdict, why=row.why,
            next_on=row.next_on.isoformat() if row.next_on else None,
        )
        for row in found.rows
    ]  # fmt: skip
    return MotorPage(motors=motors, after=found.after, narrow=found.narrow)


@router.post("/motors", status_code=201, responses=may_answer(422))
def add(state: State, actor: TokenActor, body: MotorBody) -> Added:
    """Put a motor on the register; a tag that is there already is refused. Scope: register."""
    return Added(tag=register_file(state.store, actor, body.motor, body.position, state.clock()))


@router.get("/motors/{tag:tag}", responses=may_answer(404, 422))
def motor(state: State, actor: TokenActor, tag: Tag) -> dict[str, Any]:
    """A motor with its signed jobs, oldest first; figures in MΩ, Ω and percent. Scope: read."""
    actor.need(Action.READ)
    view = motors.motor_view(state.store, tag)
    return {
        "tag": view.motor.tag,
        "open_job_id": view.open_job_id,
        "lead_scheme": view.winding.lead_scheme,
        "signed_jobs": [job._asdict() for job in view.jobs],
    }


@router.post("/jobs", status_code=201, responses=may_answer(404, 409, 422))
def start(state: State, actor: TokenActor, body: StartBody, key: Key) -> JobState:
    """Start a routine job, or get the one that is open on this motor. Scope: record."""
    wanted = verbs.Start(body.tag.strip(), key, criteria=body.criteria)
    job_id = verbs.start_job(state.store, actor, wanted, state.clock())
    return _job(verbs.open_bench(state.store, job_id, state.clock()))


@router.get("/jobs/{job_id}", responses=may_answer(404, 422))
def job(state: State, actor: TokenActor, job_id: JobId) -> JobState:
    """A job as it stands. Scope: read."""
    actor.need(Action.READ)
    return _job(verbs.open_bench(state.store, job_id, state.clock()))


@router.post("/jobs/{job_id}/entries", status_code=201, responses=may_answer(404, 409, 422))
def keep(state: State, actor: TokenActor, job_id: JobId, body: EntryBody, key: Key) -> JobState:
    """Keep one entry, and answer with it. The same key again changes nothing. Scope: record."""
    return _job(verbs.keep(state.store, job_id, body.place, body.text, actor, key, state.clock()))


@router.post("/assess", responses=may_answer(422))
def judge(body: Job) -> dict[str, Any]:
    """Judge a `grimcoil-job/1` document; nothing is stored. The same arithmetic as the pages."""
    try:
        return to_document(assess(to_record(body, {})))
    except RecursionError:
        raise RecordRefusal("document", "", "a document that isn't nested without end") from None


def _job(bench: Bench) -> JobState:
    return JobState(
        id=bench.job.id,
        tag=bench.on.named.tag,
        state=bench.job.state,
        step=bench.state.step.key,
        next_place=bench.state.place,
        entries=[
            Entry(
                seq=row.seq, place=row.place, text=row.text, unit=row.unit, low=row.low, high=row.high,
                bound_open=row.low is not None and row.high is None, at=row.at.isoformat(), who=row.who,
                taken_back=row.taken_back_at is not None,
            )
            for row in bench.rows
        ],
        findings=list(bench.told.codes),
    )  # fmt: skip
