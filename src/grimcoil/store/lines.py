"""Rows as plain values, named as their columns: what leaves store and service. A page or file made of them can't change
the database, ask it again, or show a secret.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from datetime import date, datetime
from decimal import Decimal
from typing import Any, TypeVar

from grimcoil.store.tables import Base, Motor

L = TypeVar("L")


@dataclass(frozen=True, slots=True)
class PlaceLine:
    """A position; works_…: what the works has where it has none of its own."""

    id: int
    name: str
    area: str
    supply_system: str | None
    system_voltage_v: Decimal | None
    criticality: str
    circuit: dict[str, Any] | None
    works_supply: str | None
    works_voltage_v: Decimal | None


@dataclass(frozen=True, slots=True)
class MotorLine:
    """A motor with its nameplate and the position it stands in."""

    id: int
    tag: str
    serial: str
    rated_voltage_v: Decimal | None
    rated_voltage_2_v: Decimal | None
    connected_voltage_v: Decimal | None
    full_load_current_a: Decimal | None
    full_load_current_2_a: Decimal | None
    frequency_hz: Decimal | None
    power_text: str
    speed_rpm: Decimal | None
    service_factor: Decimal
    insulation_class: str | None
    built_year: int | None
    mounting: str | None
    enclosure: str | None
    frame_size: str | None
    bearings: str | None
    efficiency_percent: Decimal | None
    power_factor: Decimal | None
    position: PlaceLine | None


@dataclass(frozen=True, slots=True)
class StateLine:
    """What the register shows of a motor."""

    verdict: str
    why: str
    r40_low_mohm: float | None
    r40_high_mohm: float | None
    unbalance_percent: float | None
    unbalance_percent_lowest: float | None
    unbalance_percent_highest: float | None
    balance: str | None
    minimum_mohm: float | None
    last_on: date
    last_job_id: int
    next_on: date
    next_why: str
    trend: dict[str, Any] | None


@dataclass(frozen=True, slots=True)
class SiteLine:
    """The works."""

    name: str
    zone: str
    criteria: str
    phase_colours: str = ""
    units: str = "°C, kW"
    areas: Sequence[str] | None = None
    supply_system: str | None = None
    system_voltage_v: Decimal | None = None
    backed_up_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class JobLine:
    """A job without its motor: who, when, decided what, and the documents it keeps."""

    id: int
    motor_id: int
    winding_id: int
    kind: str
    state: str
    criteria: str
    started_at: datetime
    started_by: str
    decided_action: str | None
    decided_reason: str | None
    decided_by: str | None
    decided_at: datetime | None
    signed_at: datetime | None
    signed_by: str | None
    tested_on: date | None
    r40_low_mohm: float | None
    r40_high_mohm: float | None
    unbalance_percent: float | None
    unbalance_percent_lowest: float | None
    unbalance_percent_highest: float | None
    r_reference_ohm: float | None
    compares: dict[str, Any] | None
    plan: str | None
    discharge_due_at: datetime | None
    danger: str | None
    danger_since: datetime | None
    danger_words: str | None
    subject: str | None
    assessment: dict[str, Any] | None
    root_causes: list[str] | None
    changed: str | None
    handed_to: str | None


@dataclass(frozen=True, slots=True)
class ListedJob:
    """A job in a list."""

    id: int
    tag: str
    place: str | None
    started_by: str
    started_at: datetime
    verdict: str | None
    decided_action: str | None
    signed_by: str | None
    tested_on: date | None
    handed_to: str | None = None


@dataclass(frozen=True, slots=True)
class PersonLine:
    """Someone on the list of people, without secrets."""

    id: int
    login: str
    name: str
    role: str
    under_login: str
    under_name: str
    has_pin: bool
    added_at: datetime
    removed_at: datetime | None


@dataclass(frozen=True, slots=True)
class DeviceLine:
    """A shared device."""

    id: int
    name: str
    enrolled_at: datetime
    enrolled_by: str
    revoked_at: datetime | None


@dataclass(frozen=True, slots=True)
class SignInLine:
    """Where a person is signed in."""

    id: int
    began_at: datetime
    seen_at: datetime
    origin: str
    by_pin: bool


@dataclass(frozen=True, slots=True)
class TokenLine:
    """A key for another program."""

    id: int
    name: str
    scopes: str
    made_at: datetime
    ends_at: datetime
    revoked_at: datetime | None


@dataclass(frozen=True, slots=True)
class PhotoShown:
    """A photo without its picture."""

    id: int
    at: datetime
    who: str
    note: str
    width: int
    height: int
    sha256: str
    taken_back_at: datetime | None
    taken_back_by: str | None


@dataclass(frozen=True, slots=True)
class RangeLine:
    """One range of an instrument, to be chosen from a list; SI."""

    id: int
    name: str
    function: str
    top: float | None
    resolution: float | None
    test_voltage_v: float | None
    calibration_due: date | None
    lamps: str = ""
    corrects_to_40c: bool = False
    shows: str = "megohms"
    beep_below_ohm: float | None = None


def line_of(kind: type[L], row: Base, **beside: Any) -> L:
    """A row as a value; `beside`: what stands in no column of it."""
    own = (field.name for field in fields(kind) if field.name not in beside)  # type: ignore[arg-type]
    return kind(**{name: getattr(row, name) for name in own}, **beside)


def names_of(kind: type[Any]) -> list[str]:
    """The columns a value of a kind is made of, in its order."""
    return [field.name for field in fields(kind)]


def motor_line(motor: Motor) -> MotorLine:
    """A motor whose position was loaded with it."""
    place = motor.position
    return line_of(MotorLine, motor, position=None if place is None else line_of(PlaceLine, place))
