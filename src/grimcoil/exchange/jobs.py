"""`grimcoil-job/1`: JSON text to a core JobRecord. Every refusal names the JSON path."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal, get_args

from pydantic import AfterValidator, Field, StringConstraints, ValidationError

from grimcoil.core.choices import Occasion, School, SupplySystem
from grimcoil.core.criteria import CRITERIA, FIELD_GENERAL, Criteria
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.measured import JobRecord
from grimcoil.core.subject import Subject
from grimcoil.core.wishes import AtHand, FirstTest, InsulationBy, TestVolts, Wishes
from grimcoil.exchange.kinds import Conditions, MainTest
from grimcoil.exchange.measured import to_core
from grimcoil.exchange.motors import (
    Instrument,
    Motor,
    Position,
    fittings_of,
    maker_plate_of,
    meter_of,
    plate_of,
    position_of,
    speeds_of,
    winding_of,
)
from grimcoil.exchange.side import SideTest
from grimcoil.exchange.strict import MOST_NAMES, MOST_TESTS, Positive, Strict, Text, first_refusal, load_json, no_hidden

FORMAT = "grimcoil-job/1"
Words = Annotated[str, StringConstraints(max_length=500), AfterValidator(no_hidden)]
Sha256 = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]


class LeadSeen(Strict):
    """What a lead was on: its terminal, or the leads it was joined with; its colour, the kind of joint, its state."""

    terminal: Text | None = None
    joined: Annotated[list[Text], Field(max_length=MOST_NAMES)] = Field(default_factory=list)
    colour: Words = ""
    joint: Literal["stud", "crimp", "twist", "lever", "splice"] | None = None
    state: Words = ""
    photo: Sha256 | None = None


class Seen(Strict):
    """How the motor was connected: each lead's line or joint, links, which way it turned."""

    leads: Annotated[dict[Text, Text | LeadSeen], Field(max_length=MOST_NAMES)] = Field(default_factory=dict)
    links: Annotated[list[list[Text] | Text], Field(max_length=MOST_NAMES)] = Field(default_factory=list)
    rotation: Text | None = None
    note: Words | None = None


class Decided(Strict):
    """What was decided, by whom."""

    action: Annotated[str, StringConstraints(min_length=1, max_length=30)]
    reason: Words = ""
    by: Text = ""
    at: Text | None = None


class Overruled(Strict):
    """A gate or step that was passed with a reason."""

    place: Text
    reason: Words = ""
    by: Text = ""


_NOWHERE, _NOT_SAID = Position(), Conditions()


TestModel = Annotated[MainTest | SideTest, Field(discriminator="kind")]


class Job(Strict):
    """`grimcoil-job/1`: one visit to one motor."""

    format: Literal["grimcoil-job/1"]
    motor: Motor
    position: Position = Field(default_factory=lambda: _NOWHERE)  # one for all: nothing changes a model once read
    instruments: Annotated[list[Instrument], Field(max_length=MOST_NAMES)] = Field(default_factory=list)
    criteria: Text | None = None
    conditions: Conditions = Field(default_factory=lambda: _NOT_SAID)
    supply_system: SupplySystem | None = None
    supply_v: Positive | None = None
    occasion: Occasion = Occasion.ROUTINE
    school: School | None = None
    first_test: FirstTest | None = None
    insulation_by: InsulationBy | None = None
    at_hand: Annotated[list[AtHand], Field(max_length=len(AtHand))] = Field(default_factory=list)
    test_volts: TestVolts | None = None
    tests: Annotated[list[TestModel], Field(max_length=MOST_TESTS)] = Field(default_factory=list)
    as_found: Seen | None = None
    as_left: Seen | None = None
    leads_readings: dict[str, Any] | None = None  # a grimcoil-leads/1; read as one where it is filed
    decided: Decided | None = None
    root_causes: Annotated[list[Words], Field(max_length=MOST_NAMES)] = Field(default_factory=list)
    changed: Annotated[list[Words], Field(max_length=MOST_NAMES)] | Words = Field(default_factory=list)
    overruled: Annotated[list[Overruled], Field(max_length=MOST_NAMES)] = Field(default_factory=list)
    photos: Annotated[list[Sha256], Field(max_length=MOST_NAMES)] = Field(default_factory=list)


# What a job carries beside its tests: kept with it, judged by nobody.
BESIDE = ("as_found", "as_left", "leads_readings", "decided", "root_causes", "changed", "overruled", "photos")

KINDS = frozenset(get_args(model.model_fields["kind"].annotation)[0] for model in get_args(get_args(TestModel)[0]))


def read_job(text: str | bytes, site_criteria: Mapping[str, Criteria] | None = None) -> JobRecord:
    """Read one job document. site_criteria: criteria known beside the ones that ship.

    Raises RecordRefusal with path, what was found and what is accepted.
    """
    return to_record(validated(load_json(text)), site_criteria or {})


def validated(document: Any) -> Job:
    """A document as the model. Raises RecordRefusal."""
    try:
        return Job.model_validate(document)
    except ValidationError as error:
        raise first_refusal(error, FORMAT, KINDS) from None


def to_record(job: Job, site_criteria: Mapping[str, Criteria]) -> JobRecord:
    """A validated document to the core's record."""
    wishes = Wishes(job.first_test, job.insulation_by, tuple(dict.fromkeys(job.at_hand)), job.test_volts)
    criteria = wishes.limits(_criteria(job, site_criteria))
    meters = {m.id: meter_of(m, f"instruments.{i}") for i, m in enumerate(job.instruments)}
    base = job.conditions.to_core()
    subject = Subject(
        plate_of(job.motor),
        winding_of(job.motor, criteria.reference_temperature_c.value),
        criteria,
        job.supply_system or job.position.supply_system,
        job.position.system_voltage_v or job.supply_v,
        position_of(job.position),
        fittings_of(job.motor),
        maker_plate_of(job.motor),
        speeds_of(job.motor),
    )
    tests = tuple(to_core(t, f"tests.{i}", base, meters) for i, t in enumerate(job.tests))
    return JobRecord(subject, base, tests, tuple(meters.values()), job.occasion, wishes)


def _criteria(job: Job, site_criteria: Mapping[str, Criteria]) -> Criteria:
    """What is written is obeyed; else acceptance goes by the service shop, the rest by the works' own."""
    if job.criteria is None:
        if job.occasion is Occasion.ACCEPTANCE:
            return CRITERIA["service-shop"]
        return next(iter(site_criteria.values()), FIELD_GENERAL)
    criteria = site_criteria.get(job.criteria) or CRITERIA.get(job.criteria)
    if criteria is None:
        known = ", ".join([*CRITERIA, *site_criteria])
        raise RecordRefusal("criteria", job.criteria, f"one of {known}; a site's own come by --criteria FILE")
    return criteria
