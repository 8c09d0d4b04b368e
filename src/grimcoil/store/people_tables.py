"""Tables of people: sign-ins, devices, tokens, wrong tries; and of what they answer for: signatures and the trail.

Nothing secret is stored as it was given: passwords and PINs as argon2id, tokens as SHA-256 (they are random and long).
`signature` and `trail` are append-only: triggers refuse changes and deletions.
"""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import JSON, ForeignKey, Index, Integer, String, UniqueConstraint
from sqlalchemy.dialects.mysql import LONGTEXT, MEDIUMBLOB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from grimcoil.store.tables import WHO, Base, Job, Utc


class Person(Base):
    """Someone of the site. Removed people stay, as the record speaks of them. views: of the list of motors, the name
    and the address of each.
    """

    __tablename__ = "person"

    id: Mapped[int] = mapped_column(primary_key=True)
    login: Mapped[str] = mapped_column(String(40), unique=True)
    name: Mapped[str] = mapped_column(String(60), unique=True)
    role: Mapped[str] = mapped_column(String(20))
    works_under_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    password_hash: Mapped[str] = mapped_column(String(200))
    pin_hash: Mapped[str | None] = mapped_column(String(200))
    added_at: Mapped[datetime] = mapped_column(Utc)
    removed_at: Mapped[datetime | None] = mapped_column(Utc)
    views: Mapped[list[list[str]] | None] = mapped_column(JSON(none_as_null=True))

    works_under: Mapped[Person | None] = relationship(lazy="raise", remote_side="Person.id")


class Device(Base):
    """A shared tablet that an administrator has enrolled: PINs work there and nowhere else."""

    __tablename__ = "device"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(60), unique=True)
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    enrolled_at: Mapped[datetime] = mapped_column(Utc)
    enrolled_by: Mapped[str] = mapped_column(String(WHO))
    revoked_at: Mapped[datetime | None] = mapped_column(Utc)


class SignIn(Base):
    """A signed-in browser. `csrf` is no secret from its own pages and stands in each of their forms."""

    __tablename__ = "sign_in"

    id: Mapped[int] = mapped_column(primary_key=True)
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    csrf: Mapped[str] = mapped_column(String(43))
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"))
    device_id: Mapped[int | None] = mapped_column(ForeignKey("device.id"))
    by_pin: Mapped[bool] = mapped_column(default=False)
    began_at: Mapped[datetime] = mapped_column(Utc)
    seen_at: Mapped[datetime] = mapped_column(Utc)
    ends_at: Mapped[datetime] = mapped_column(Utc)
    ended_at: Mapped[datetime | None] = mapped_column(Utc)
    origin: Mapped[str] = mapped_column(String(80), default="")


class ApiToken(Base):
    """A key for another program, made by a person, never wider than that person's role."""

    __tablename__ = "api_token"

    id: Mapped[int] = mapped_column(primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"))
    name: Mapped[str] = mapped_column(String(60))
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    scopes: Mapped[str] = mapped_column(String(100))
    made_at: Mapped[datetime] = mapped_column(Utc)
    ends_at: Mapped[datetime] = mapped_column(Utc)
    revoked_at: Mapped[datetime | None] = mapped_column(Utc)


class WrongTry(Base):
    """Wrong secrets in a row, by what they were tried on (a digest: no address or name stands here)."""

    __tablename__ = "wrong_try"

    what: Mapped[str] = mapped_column(String(64), primary_key=True)
    times: Mapped[int] = mapped_column(Integer)
    last_at: Mapped[datetime] = mapped_column(Utc)


class Signature(Base):
    """A link of the chain: the canonical document of what was signed, its SHA-256, and the one before.

    kind: `job`, `amendment` with its reason and what it changed, or `register`: a lawful change of a row of the
    register (subject_key: `motor/7`), with the row before and after. Append-only.
    """

    __tablename__ = "signature"
    __table_args__ = (
        Index("ix_signature_job_id_seq", "job_id", "seq"),
        Index("ix_signature_subject_key_seq", "subject_key", "seq"),
    )

    seq: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    job_id: Mapped[int | None] = mapped_column(ForeignKey("job.id"))
    subject_key: Mapped[str | None] = mapped_column(String(60))
    kind: Mapped[str] = mapped_column(String(10))
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    who: Mapped[str] = mapped_column(String(WHO))
    at: Mapped[datetime] = mapped_column(Utc)
    token: Mapped[str | None] = mapped_column(String(40), unique=True)
    reason: Mapped[str] = mapped_column(String(500), default="")
    changed: Mapped[str] = mapped_column(String(300), default="")
    document: Mapped[str] = mapped_column(LONGTEXT)
    previous_hash: Mapped[str] = mapped_column(String(64))
    hash: Mapped[str] = mapped_column(String(64), unique=True)

    job: Mapped[Job | None] = relationship(lazy="raise")


class PhotoRow(Base):
    """A photo of a job, or of a motor's plate, as it was drawn anew. Never overwritten: a taken-back one is marked."""

    __tablename__ = "photo"

    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int | None] = mapped_column(ForeignKey("job.id"))
    motor_id: Mapped[int | None] = mapped_column(ForeignKey("motor.id"))
    token: Mapped[str] = mapped_column(String(40), unique=True)
    at: Mapped[datetime] = mapped_column(Utc)
    who: Mapped[str] = mapped_column(String(WHO))
    note: Mapped[str] = mapped_column(String(200), default="")
    width: Mapped[int] = mapped_column(Integer)
    height: Mapped[int] = mapped_column(Integer)
    sha256: Mapped[str] = mapped_column(String(64))
    data: Mapped[bytes] = mapped_column(MEDIUMBLOB, deferred=True)
    taken_back_at: Mapped[datetime | None] = mapped_column(Utc)
    taken_back_by: Mapped[str | None] = mapped_column(String(WHO))


class Trail(Base):
    """Who did what, when, to what, from where. Append-only. lane, n, digest: its place among the lines that a host
    wrote after one another, and the SHA-256 over it and what stands before it; none in lines of before there were.
    """

    __tablename__ = "trail"
    __table_args__ = (
        UniqueConstraint("lane", "n"),
        Index("ix_trail_motor_id_id", "motor_id", "id"),
        Index("ix_trail_job_id_id", "job_id", "id"),
        Index("ix_trail_person_id_id", "person_id", "id"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    at: Mapped[datetime] = mapped_column(Utc)
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    who: Mapped[str] = mapped_column(String(WHO))
    action: Mapped[str] = mapped_column(String(40))
    motor_id: Mapped[int | None] = mapped_column(ForeignKey("motor.id"))
    job_id: Mapped[int | None] = mapped_column(ForeignKey("job.id"))
    detail: Mapped[str] = mapped_column(String(600), default="")
    origin: Mapped[str] = mapped_column(String(80), default="")
    lane: Mapped[str | None] = mapped_column(String(40))
    n: Mapped[int | None] = mapped_column(Integer)
    digest: Mapped[str | None] = mapped_column(String(64))


class TrailHead(Base):
    """How far a lane of the trail is; its row is the lock under which the next line is written."""

    __tablename__ = "trail_head"

    lane: Mapped[str] = mapped_column(String(40), primary_key=True)
    n: Mapped[int] = mapped_column(Integer)
    digest: Mapped[str] = mapped_column(String(64))
