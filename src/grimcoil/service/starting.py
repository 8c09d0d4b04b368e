"""What a job would be before it is started: its plan, what to bring, what last time showed, hazards of the place."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from grimcoil.core.choices import BrakeFeed, ControlSupply, Occasion, Reset, School, Starter
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.findings import Finding, telling
from grimcoil.core.insulation.hold import DISCHARGE_TIMES
from grimcoil.core.isolation import found_words, source_words
from grimcoil.core.plan.brief import EXTRAS, Brief, brief_of
from grimcoil.core.plan.recipes import RECIPES, build
from grimcoil.core.plan.steps import Act, Plan, Step
from grimcoil.core.position import check_position
from grimcoil.core.subject import Subject
from grimcoil.core.wishes import AS_USUAL, Wishes
from grimcoil.exchange import motors as formats
from grimcoil.exchange.motors import position_of
from grimcoil.service.criteria import criteria_named
from grimcoil.service.registered import found, winding_of
from grimcoil.service.subjects import position_file, subject_of
from grimcoil.store import instruments as instrument_rows
from grimcoil.store.engine import Store
from grimcoil.store.lines import MotorLine, RangeLine, StateLine, line_of, motor_line

HOLD_S = 60.0
ROOM = 1.1  # a range has this much above what is expected; common practice without source


@dataclass(frozen=True, slots=True)
class Coming:
    """A job that could be started. ranges: every instrument's, those that can't show this winding last.

    expected_ohm: by pair, what this winding read before at the reference temperature.
    findings: what its plate says against what the position calls for.
    last: what the register shows of the motor's last job; open_job_id: of one that is open already.
    """

    motor: MotorLine
    plan: Plan
    brief: Brief
    ranges: Sequence[RangeLine]
    last: StateLine | None
    open_job_id: int | None
    hazards: Sequence[str]
    today: date
    expected_ohm: Mapping[str, float]
    findings: Sequence[Finding] = ()

    @property
    def rows(self) -> list[tuple[Step, str]]:
        """The steps as they will be walked, with what they ask."""
        return [(step, _asks(step)) for step in self.plan.steps]

    @property
    def waits_s(self) -> float:
        """Seconds that holds of one minute and their discharges take at least."""
        holds = sum(step.does(Act.APPLY) for step in self.plan.steps)
        return holds * HOLD_S * (1 + DISCHARGE_TIMES)

    def enough(self, one: RangeLine) -> bool | None:
        """Whether an ohmmeter resolves what this winding needs; None where that isn't known."""
        needed = self.brief.resolution_ohm
        return None if needed is None or one.resolution is None else one.resolution <= needed

    def fits(self, one: RangeLine) -> bool:
        """Whether a range takes what this motor is expected to read: ohms within its top and its digits fine enough,
        the test voltage the one to be set.
        """
        if one.function == "insulation":
            return self.brief.test_voltage_v is None or one.test_voltage_v == self.brief.test_voltage_v
        most = max(self.expected_ohm.values(), default=None)
        return most is not None and self.enough(one) is not False and (one.top is None or one.top >= ROOM * most)

    def preset(self, functions: Collection[str]) -> int | None:
        """The range to begin with: of those that fit the one with the least top; None where none does, or nothing is
        known.
        """
        fitting = [one for one in self.ranges if one.function in functions and self.fits(one)]
        return min(fitting, key=lambda one: math.inf if one.top is None else one.top).id if fitting else None

    def due(self, one: RangeLine) -> bool:
        """Whether its calibration is past."""
        return one.calibration_due is not None and one.calibration_due < self.today


def _asks(step: Step) -> str:
    if step.does(Act.APPLY):
        return "1 minute"
    if step.does(Act.RESIDUAL):
        return "4 minutes shorted to frame"
    count = sum(bool(slot.part) for slot in step.slots)
    return f"{count} readings" if count > 1 else ""


def instruments(store: Store) -> Sequence[RangeLine]:
    """Every range of every instrument."""
    with store() as session:
        return instrument_rows.ranges(session)


def coming(
    store: Store,
    tag: str,
    occasion: str,
    school: str,
    criteria: str,
    today: date,
    also: Sequence[str] = (),
    wishes: Wishes = AS_USUAL,
) -> Coming:
    """A job of this kind on a motor. Three queries. Raises Unknown, RecordRefusal."""
    if occasion not in RECIPES:
        raise RecordRefusal("kind of job", occasion, f"one of {', '.join(RECIPES)}", Occasion.ROUTINE)
    if school not in ("", *School):
        raise RecordRefusal("school", school, f"one of {', '.join(School)}")
    with store() as session:
        row, state, open_job = found(session, tag)
        motor, winding = motor_line(row), winding_of(session, row)
        subject = subject_of(motor, winding, motor.position, wishes.limits(criteria_named(session, criteria)))
        beside, begins = set(also) & set(EXTRAS), School(school) if school else None
        brief = brief_of(subject, Occasion(occasion), begins, beside, wishes)
        ranges = instrument_rows.ranges(session)
    last = None if state is None else line_of(StateLine, state)
    return Coming(
        motor, build(brief), brief, ranges, last, open_job, hazards_of(motor), today,
        _expected(subject, None if state is None else state.r_reference_ohm), telling(check_position(subject)),
    )  # fmt: skip


def _expected(subject: Subject, last_ohm: float | None) -> Mapping[str, float]:
    if subject.winding.baseline_ohm or last_ohm is None:
        return subject.winding.baseline_ohm
    return {"mean": last_ohm}


def hazards_of(motor: MotorLine) -> list[str]:
    """What the record of the position says that can hurt; common practice, local rules come first."""
    place = position_file(motor.position)
    out = []
    if place.control_supply == ControlSupply.SEPARATE:
        out.append("The control circuit has a supply of its own: lock it too.")
    if place.brake == BrakeFeed.SEPARATE:
        out.append("The brake has a feed of its own: lock it too, and block the load.")
    elif place.brake not in (None, BrakeFeed.NONE):
        out.append("A brake holds the load: block it before the leads come off.")
    if place.starter in (Starter.DRIVE, Starter.SOFT):
        out.append(
            "A drive or soft starter stays charged after switch-off. Wait the time on its label."
            " Its stop input does not isolate."
        )
    if place.overload is not None and (place.overload.reset == Reset.AUTOMATIC or place.overload.automatic_reset):
        out.append("The overload resets by itself. The motor could start without warning.")
    if place.disconnect == "local":
        out.append("The disconnect is at the motor. The panel stays live when it is open.")
    out += _of_the_board(place)
    for one in position_of(place).sources:
        if found := found_words(one):
            out.append(f"{source_words(one)}. {found}.")
    return out


def _of_the_board(place: formats.Position) -> list[str]:
    """What several feeding generators and relays that watch the supply mean for those who work there."""
    out = []
    if (place.generators or 0) > 1:
        out.append(
            f"{place.generators} generators feed this board: no one switch makes it dead."
            " Lock each, and prove dead with all of them running and stopped."
        )
    if "undervoltage" in place.relays:
        out.append("An undervoltage relay drops the starter: a dead coil may be a dip, not a fault.")
    if "phase-loss" in place.relays:
        out.append("A phase-loss relay stands in the control chain: it opens on a lost line, and by its own fault.")
    return out
