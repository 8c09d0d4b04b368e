"""Every table. Times are UTC; measured values are double (a meter's range runs from µΩ to TΩ and the text as
entered is the record), plate figures and money-like limits are decimal (they are exact as printed).
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import (
    JSON,
    Boolean,
    ColumnElement,
    Date,
    ForeignKey,
    Index,
    Integer,
    MetaData,
    Numeric,
    SmallInteger,
    String,
    Text,
    TypeDecorator,
    UniqueConstraint,
    func,
    select,
    text,
)
from sqlalchemy.dialects.mysql import DATETIME, DOUBLE, LONGTEXT
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import DeclarativeBase, Mapped, column_property, mapped_column, relationship


class Utc(TypeDecorator[datetime]):
    """A moment, stored as UTC to the microsecond, always aware in Python."""

    impl = DATETIME(fsp=6)
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Aware in, naive UTC stored."""
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Aware UTC out."""
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    """Names every constraint, so that migrations can speak of it."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s",
            "pk": "pk_%(table_name)s",
        }
    )


def columns(table: type[Base], names: Iterable[str] = ()) -> Any:
    """A table's plain columns, all by name or the named ones in order.

    Statements made of them skip the mapper: what is read in quantity and never written back goes that way.
    """
    plain = table.__table__.c
    return [plain[name] for name in names] if names else plain


Measured = DOUBLE(asdecimal=False)
Plate = Numeric(12, 3)
NOTE = 200  # of a life event; longer is refused, never cut
WHO = 160  # two names of 60 characters and what one is to the other


class Site(Base):
    """The works. One row. units: that degrees and power are typed in where none is said; areas: in the order they are
    walked; supply: of positions that have none of their own; backed_up_at: by the command of this installation.
    """

    __tablename__ = "site"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(100))
    zone: Mapped[str] = mapped_column(String(60), default="UTC")
    criteria: Mapped[str] = mapped_column(String(40), default="field-general")
    phase_colours: Mapped[str] = mapped_column(String(40), default="")
    units: Mapped[str] = mapped_column(String(10), default="°C, kW", server_default="°C, kW")
    areas: Mapped[list[str] | None] = mapped_column(JSON(none_as_null=True))
    supply_system: Mapped[str | None] = mapped_column(String(30))
    system_voltage_v: Mapped[Decimal | None] = mapped_column(Plate)
    backed_up_at: Mapped[datetime | None] = mapped_column(Utc)


WORKS_SUPPLY, WORKS_VOLTS = (
    select(Site.__table__.c[name]).limit(1).scalar_subquery() for name in ("supply_system", "system_voltage_v")
)


class Position(Base):
    """A place in the plant that a motor drives. circuit: the keys of the formats' position model that are on record;
    retired_…: used no more; works_…: what the works has where the position has none of its own.
    """

    __tablename__ = "position"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(100), unique=True)
    area: Mapped[str] = mapped_column(String(100), default="")
    supply_system: Mapped[str | None] = mapped_column(String(30))
    system_voltage_v: Mapped[Decimal | None] = mapped_column(Plate)
    criticality: Mapped[str] = mapped_column(String(20), default="routine")
    retired_on: Mapped[date | None] = mapped_column(Date)
    retired_by: Mapped[str | None] = mapped_column(String(WHO))
    retired_why: Mapped[str | None] = mapped_column(String(NOTE))
    circuit: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    works_supply: Mapped[str | None] = column_property(WORKS_SUPPLY)
    works_voltage_v: Mapped[Decimal | None] = column_property(WORKS_VOLTS)


class Motor(Base):
    """A motor with its nameplate. Second voltage and current are null on a single-voltage plate; a motor that came with
    a sheet may have its tag alone. withdrawn_…: registered by mistake and off every list; its tag is free again, and
    what stands in `tag` is none that can be typed.
    """

    __tablename__ = "motor"
    __table_args__ = (Index("ix_motor_plate", "power_text", "rated_voltage_v", "speed_rpm"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    tag: Mapped[str] = mapped_column(String(40), unique=True)
    serial: Mapped[str] = mapped_column(String(60), default="")
    position_id: Mapped[int | None] = mapped_column(ForeignKey("position.id"))
    rated_voltage_v: Mapped[Decimal | None] = mapped_column(Plate)
    rated_voltage_2_v: Mapped[Decimal | None] = mapped_column(Plate)
    connected_voltage_v: Mapped[Decimal | None] = mapped_column(Plate)
    full_load_current_a: Mapped[Decimal | None] = mapped_column(Plate)
    full_load_current_2_a: Mapped[Decimal | None] = mapped_column(Plate)
    frequency_hz: Mapped[Decimal | None] = mapped_column(Plate)
    power_text: Mapped[str] = mapped_column(String(20), default="")
    speed_rpm: Mapped[Decimal | None] = mapped_column(Plate)
    service_factor: Mapped[Decimal] = mapped_column(Plate, default=Decimal(1))
    insulation_class: Mapped[str | None] = mapped_column(String(2))
    built_year: Mapped[int | None] = mapped_column(SmallInteger)
    mounting: Mapped[str | None] = mapped_column(String(60))
    enclosure: Mapped[str | None] = mapped_column(String(60))
    frame_size: Mapped[str | None] = mapped_column(String(30))
    bearings: Mapped[str | None] = mapped_column(String(60))
    efficiency_percent: Mapped[Decimal | None] = mapped_column(Plate)
    power_factor: Mapped[Decimal | None] = mapped_column(Plate)
    created_at: Mapped[datetime] = mapped_column(Utc)
    withdrawn_tag: Mapped[str | None] = mapped_column(String(40), index=True)
    withdrawn_at: Mapped[datetime | None] = mapped_column(Utc)
    withdrawn_by: Mapped[str | None] = mapped_column(String(WHO))
    withdrawn_why: Mapped[str | None] = mapped_column(String(NOTE))

    position: Mapped[Position | None] = relationship(lazy="raise")


def known_by() -> ColumnElement[str]:
    """The tag by which a motor is known in what was signed of it and in the trail, withdrawn or not."""
    return func.coalesce(Motor.__table__.c.withdrawn_tag, Motor.__table__.c.tag)


class WindingRow(Base):
    """The winding in a motor since a day; a rewind starts a new row. The documents are as in the open formats; own:
    names and colours of its leads, and the maker's own limit, by the formats' names.
    """

    __tablename__ = "winding"
    __table_args__ = (UniqueConstraint("motor_id", "since"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"))
    since: Mapped[date] = mapped_column(Date)
    reason: Mapped[str] = mapped_column(String(40), default="built")
    winding: Mapped[str] = mapped_column(String(10), default="random")
    insulation_system: Mapped[str] = mapped_column(String(20), default="thermosetting")
    conductor: Mapped[str] = mapped_column(String(10), default="copper")
    lead_scheme: Mapped[str] = mapped_column(String(30), default="three-lead")
    insulation_test_forbidden: Mapped[bool] = mapped_column(Boolean, default=False)
    ratings: Mapped[list[Any] | None] = mapped_column(JSON(none_as_null=True))
    accessories: Mapped[list[Any] | None] = mapped_column(JSON(none_as_null=True))
    brake: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    maker_plate: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    baseline: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    own: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))


class Stay(Base):
    """A motor at a position, or in the store (null), from a day until another that isn't in it; open: there now."""

    __tablename__ = "stay"
    __table_args__ = (
        Index("ix_stay_motor_id_since", "motor_id", "since"),
        Index("ix_stay_position_id_since", "position_id", "since"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"))
    position_id: Mapped[int | None] = mapped_column(ForeignKey("position.id"))
    since: Mapped[date] = mapped_column(Date)
    until: Mapped[date | None] = mapped_column(Date)


class LifeEvent(Base):
    """Something that happened to a motor: built, moved, rewound, dried, cleaned, repaired.

    undo: what taking it back has to put right; promised: by the repairer, of an order; found: of a walk's
    end suspect, line and how long it is watched. `who` is null where it came with
    the motor.
    """

    __tablename__ = "life_event"
    __table_args__ = (Index("ix_life_event_motor_id_on_day", "motor_id", "on_day"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"))
    on_day: Mapped[date] = mapped_column(Date)
    kind: Mapped[str] = mapped_column(String(20))
    note: Mapped[str] = mapped_column(String(NOTE), default="")
    cost: Mapped[Decimal | None] = mapped_column(Numeric(14, 2))
    token: Mapped[str | None] = mapped_column(String(40), unique=True)
    who: Mapped[str | None] = mapped_column(String(WHO))
    at: Mapped[datetime | None] = mapped_column(Utc)
    undo: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    promised: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    found: Mapped[dict[str, str] | None] = mapped_column(JSON(none_as_null=True))
    taken_back_at: Mapped[datetime | None] = mapped_column(Utc)
    taken_back_by: Mapped[str | None] = mapped_column(String(WHO))


class Instrument(Base):
    """A meter or tester."""

    __tablename__ = "instrument"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(60), unique=True)
    calibration_due: Mapped[date | None] = mapped_column(Date)


class InstrumentRangeRow(Base):
    """One range of an instrument, in SI. lamps: where each of its lamps lights, Ω, blanks between."""

    __tablename__ = "instrument_range"

    id: Mapped[int] = mapped_column(primary_key=True)
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instrument.id"))
    function: Mapped[str] = mapped_column(String(20))
    top: Mapped[float | None] = mapped_column(Measured)
    resolution: Mapped[float | None] = mapped_column(Measured)
    accuracy_percent: Mapped[float] = mapped_column(Measured, default=0.0)
    counts: Mapped[float] = mapped_column(Measured, default=0.0)
    test_voltage_v: Mapped[float | None] = mapped_column(Measured)
    lamps: Mapped[str] = mapped_column(String(120), default="")
    corrects_to_40c: Mapped[bool] = mapped_column(Boolean, default=False)
    shows: Mapped[str] = mapped_column(String(12), default="megohms")
    beep_below_ohm: Mapped[float | None] = mapped_column(Measured)

    instrument: Mapped[Instrument] = relationship(lazy="raise")


class SheetImport(Base):
    """A sheet that came in as a whole. taken: values."""

    __tablename__ = "sheet_import"

    id: Mapped[int] = mapped_column(primary_key=True)
    file_name: Mapped[str] = mapped_column(String(200))
    sha256: Mapped[str] = mapped_column(String(64))
    who: Mapped[str] = mapped_column(String(WHO))
    at: Mapped[datetime] = mapped_column(Utc)
    taken: Mapped[int] = mapped_column(Integer)
    undone_at: Mapped[datetime | None] = mapped_column(Utc)
    undone_by: Mapped[str | None] = mapped_column(String(WHO))


class Job(Base):
    """One visit to one motor. Key figures are kept beside the whole assessment, for lists and trends.

    r40 and unbalance: low and high ends; a null high end is open (over-range). compares: where, with which voltage and
    tester the insulation was read (`at`, `test_voltage_v`, `instrument`), as trends tell like from unlike by it.
    filed_hash: SHA-256 of its rows as a sheet's import filed them; the import's link tells the hash of all of them.
    """

    __tablename__ = "job"
    __table_args__ = (
        Index("ix_job_winding_id_tested_on", "winding_id", "tested_on"),
        Index("ix_job_state_started_at", "state", "started_at"),
        Index("ix_job_state_signed_at", "state", "signed_at"),
        Index("ix_job_motor_id_state_tested_on", "motor_id", "state", "tested_on"),
        Index("ix_job_position_id_tested_on", "position_id", "tested_on"),
        Index("ix_job_discharge_due_at", "discharge_due_at"),
        Index("uq_job_open_of", "open_of", unique=True),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    token: Mapped[str] = mapped_column(String(40), unique=True)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"))
    winding_id: Mapped[int] = mapped_column(ForeignKey("winding.id"))
    position_id: Mapped[int | None] = mapped_column(ForeignKey("position.id"))
    kind: Mapped[str] = mapped_column(String(20), default="routine")
    state: Mapped[str] = mapped_column(String(10), default="open")
    criteria: Mapped[str] = mapped_column(String(40), default="field-general")
    criteria_version: Mapped[int | None]
    started_at: Mapped[datetime] = mapped_column(Utc)
    started_by: Mapped[str] = mapped_column(String(WHO))
    ohm_range_id: Mapped[int | None] = mapped_column(ForeignKey("instrument_range.id"))
    insulation_range_id: Mapped[int | None] = mapped_column(ForeignKey("instrument_range.id"))
    discharge_due_at: Mapped[datetime | None] = mapped_column(Utc)
    danger: Mapped[str | None] = mapped_column(String(12))
    danger_since: Mapped[datetime | None] = mapped_column(Utc)
    danger_words: Mapped[str | None] = mapped_column(String(200))
    handed_to: Mapped[str | None] = mapped_column(String(60))
    open_of: Mapped[int | None]
    decided_action: Mapped[str | None] = mapped_column(String(30))
    decided_reason: Mapped[str | None] = mapped_column(String(500))
    decided_by: Mapped[str | None] = mapped_column(String(WHO))
    decided_at: Mapped[datetime | None] = mapped_column(Utc)
    signed_at: Mapped[datetime | None] = mapped_column(Utc)
    signed_by: Mapped[str | None] = mapped_column(String(WHO))
    tested_on: Mapped[date | None] = mapped_column(Date)
    verdict: Mapped[str | None] = mapped_column(String(10))
    r40_low_mohm: Mapped[float | None] = mapped_column(Measured)
    r40_high_mohm: Mapped[float | None] = mapped_column(Measured)
    unbalance_percent: Mapped[float | None] = mapped_column(Measured)
    unbalance_percent_lowest: Mapped[float | None] = mapped_column(Measured)
    unbalance_percent_highest: Mapped[float | None] = mapped_column(Measured)
    r_reference_ohm: Mapped[float | None] = mapped_column(Measured)
    compares: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    assessment: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    core_version: Mapped[str | None] = mapped_column(String(20))
    plan: Mapped[str | None] = mapped_column(LONGTEXT)
    subject: Mapped[str | None] = mapped_column(LONGTEXT)
    record: Mapped[str | None] = mapped_column(LONGTEXT)
    root_causes: Mapped[list[str] | None] = mapped_column(JSON(none_as_null=True))
    changed: Mapped[str | None] = mapped_column(String(500))
    import_id: Mapped[int | None] = mapped_column(ForeignKey("sheet_import.id"))
    filed_hash: Mapped[str | None] = mapped_column(String(64))

    motor: Mapped[Motor] = relationship(lazy="raise")
    winding: Mapped[WindingRow] = relationship(lazy="raise")
    ohm_range: Mapped[InstrumentRangeRow | None] = relationship(lazy="raise", foreign_keys=[ohm_range_id])
    insulation_range: Mapped[InstrumentRangeRow | None] = relationship(lazy="raise", foreign_keys=[insulation_range_id])


class EntryRow(Base):
    """One kept entry, as typed. Never overwritten: a taken-back one is marked. A null `high` is open."""

    __tablename__ = "entry"
    __table_args__ = (UniqueConstraint("job_id", "seq"), UniqueConstraint("job_id", "token"))

    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"))
    seq: Mapped[int] = mapped_column(Integer)
    token: Mapped[str] = mapped_column(String(40))
    place: Mapped[str] = mapped_column(String(60))
    kind: Mapped[str] = mapped_column(String(10))
    text: Mapped[str] = mapped_column(String(500))
    unit: Mapped[str | None] = mapped_column(String(4))
    shown: Mapped[str | None] = mapped_column(String(12))
    low: Mapped[float | None] = mapped_column(Measured)
    high: Mapped[float | None] = mapped_column(Measured)
    bound: Mapped[str | None] = mapped_column(String(8))
    digit: Mapped[float | None] = mapped_column(Measured)
    at: Mapped[datetime] = mapped_column(Utc)
    who: Mapped[str] = mapped_column(String(WHO))
    instrument: Mapped[str | None] = mapped_column(String(60))
    held_s: Mapped[float | None] = mapped_column(Measured)
    taken_back_at: Mapped[datetime | None] = mapped_column(Utc)
    taken_back_by: Mapped[str | None] = mapped_column(String(WHO))


class MotorState(Base):
    """What the register shows of a motor: worked out when a job is signed, so that lists stay quick.

    soon: what asks for action does so soon, not now. balance: the verdict on the resistances' balance, by the limits
    the job was judged by. spark: figures of the small trend as JSON, `[day, low, high or null, winding]` each.
    """

    __tablename__ = "motor_state"

    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"), primary_key=True, autoincrement=False)
    winding_id: Mapped[int] = mapped_column(ForeignKey("winding.id"))
    verdict: Mapped[str] = mapped_column(String(10))
    soon: Mapped[bool] = mapped_column(default=False, server_default=text("0"))
    why: Mapped[str] = mapped_column(String(300))
    r40_low_mohm: Mapped[float | None] = mapped_column(Measured)
    r40_high_mohm: Mapped[float | None] = mapped_column(Measured)
    unbalance_percent: Mapped[float | None] = mapped_column(Measured)
    unbalance_percent_lowest: Mapped[float | None] = mapped_column(Measured)
    unbalance_percent_highest: Mapped[float | None] = mapped_column(Measured)
    balance: Mapped[str | None] = mapped_column(String(10))
    r_reference_ohm: Mapped[float | None] = mapped_column(Measured)
    minimum_mohm: Mapped[float | None] = mapped_column(Measured)
    last_on: Mapped[date] = mapped_column(Date)
    last_job_id: Mapped[int] = mapped_column(ForeignKey("job.id"))
    next_on: Mapped[date] = mapped_column(Date)
    next_why: Mapped[str] = mapped_column(String(200))
    spark: Mapped[str] = mapped_column(Text)
    trend: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    core_version: Mapped[str] = mapped_column(String(20))
