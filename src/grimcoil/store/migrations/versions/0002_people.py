"""People, their sign-ins and tokens; signatures and the trail, which nobody changes"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0002"
down_revision: str | None = "0001"

MOMENT = mysql.DATETIME(fsp=6)
WIDER = (
    ("job", "started_by", False),
    ("job", "decided_by", True),
    ("job", "signed_by", True),
    ("entry", "who", False),
    ("entry", "taken_back_by", True),
)
APPEND_ONLY = ("signature", "trail")


def upgrade() -> None:
    """Apply."""

    for table, column, nullable in WIDER:
        op.alter_column(table, column, existing_type=sa.String(80), type_=sa.String(160), existing_nullable=nullable)
    again.create_table(
        "person",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("login", sa.String(length=40), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("role", sa.String(length=20), nullable=False),
        sa.Column("works_under_id", sa.Integer(), nullable=True),
        sa.Column("password_hash", sa.String(length=200), nullable=False),
        sa.Column("pin_hash", sa.String(length=200), nullable=True),
        sa.Column("added_at", MOMENT, nullable=False),
        sa.Column("removed_at", MOMENT, nullable=True),
        sa.ForeignKeyConstraint(["works_under_id"], ["person.id"], name=op.f("fk_person_works_under_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_person")),
        sa.UniqueConstraint("login", name=op.f("uq_person_login")),
        sa.UniqueConstraint("name", name=op.f("uq_person_name")),
    )
    again.create_table(
        "device",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("token_hash", sa.String(length=64), nullable=False),
        sa.Column("enrolled_at", MOMENT, nullable=False),
        sa.Column("enrolled_by", sa.String(length=160), nullable=False),
        sa.Column("revoked_at", MOMENT, nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_device")),
        sa.UniqueConstraint("name", name=op.f("uq_device_name")),
        sa.UniqueConstraint("token_hash", name=op.f("uq_device_token_hash")),
    )
    again.create_table(
        "sign_in",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("token_hash", sa.String(length=64), nullable=False),
        sa.Column("csrf", sa.String(length=43), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.Column("device_id", sa.Integer(), nullable=True),
        sa.Column("by_pin", sa.Boolean(), nullable=False),
        sa.Column("began_at", MOMENT, nullable=False),
        sa.Column("seen_at", MOMENT, nullable=False),
        sa.Column("ends_at", MOMENT, nullable=False),
        sa.Column("ended_at", MOMENT, nullable=True),
        sa.Column("origin", sa.String(length=80), nullable=False),
        sa.ForeignKeyConstraint(["device_id"], ["device.id"], name=op.f("fk_sign_in_device_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_sign_in_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sign_in")),
        sa.UniqueConstraint("token_hash", name=op.f("uq_sign_in_token_hash")),
    )
    again.create_table(
        "api_token",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("token_hash", sa.String(length=64), nullable=False),
        sa.Column("scopes", sa.String(length=100), nullable=False),
        sa.Column("made_at", MOMENT, nullable=False),
        sa.Column("ends_at", MOMENT, nullable=False),
        sa.Column("revoked_at", MOMENT, nullable=True),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_api_token_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_api_token")),
        sa.UniqueConstraint("token_hash", name=op.f("uq_api_token_token_hash")),
    )
    again.create_table(
        "wrong_try",
        sa.Column("what", sa.String(length=64), nullable=False),
        sa.Column("times", sa.Integer(), nullable=False),
        sa.Column("last_at", MOMENT, nullable=False),
        sa.PrimaryKeyConstraint("what", name=op.f("pk_wrong_try")),
    )
    again.create_table(
        "signature",
        sa.Column("seq", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(length=10), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.Column("who", sa.String(length=160), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("token", sa.String(length=40), nullable=True),
        sa.Column("reason", sa.String(length=500), nullable=False),
        sa.Column("changed", sa.String(length=300), nullable=False),
        sa.Column("document", mysql.LONGTEXT(), nullable=False),
        sa.Column("previous_hash", sa.String(length=64), nullable=False),
        sa.Column("hash", sa.String(length=64), nullable=False),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name=op.f("fk_signature_job_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_signature_person_id")),
        sa.PrimaryKeyConstraint("seq", name=op.f("pk_signature")),
        sa.UniqueConstraint("hash", name=op.f("uq_signature_hash")),
        sa.UniqueConstraint("token", name=op.f("uq_signature_token")),
    )
    again.create_index("ix_signature_job_id_seq", "signature", ["job_id", "seq"])
    again.create_table(
        "trail",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.Column("who", sa.String(length=160), nullable=False),
        sa.Column("action", sa.String(length=40), nullable=False),
        sa.Column("motor_id", sa.Integer(), nullable=True),
        sa.Column("job_id", sa.Integer(), nullable=True),
        sa.Column("detail", sa.String(length=600), nullable=False),
        sa.Column("origin", sa.String(length=80), nullable=False),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name=op.f("fk_trail_job_id")),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name=op.f("fk_trail_motor_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_trail_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_trail")),
    )
    for column in ("motor_id", "job_id", "person_id"):
        again.create_index(f"ix_trail_{column}_id", "trail", [column, "id"])
    for table in APPEND_ONLY:
        for verb in ("UPDATE", "DELETE"):
            again.create_trigger(
                f"{table}_no_{verb.lower()}",
                f"BEFORE {verb} ON `{table}` FOR EACH ROW"
                f" SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = '{table} is append-only'",
            )
