"""Dryings with what was done and read while they lasted"""

import sqlalchemy as sa
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0012"
down_revision: str | None = "0011"

MOMENT = mysql.DATETIME(fsp=6)
FIGURE = mysql.DOUBLE(asdecimal=False)


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "drying",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("token", sa.String(40), nullable=False),
        sa.Column("motor_id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=True),
        sa.Column("state", sa.String(10), nullable=False),
        sa.Column("hookup", sa.String(20), nullable=False),
        sa.Column("cold_ohm", sa.String(40), nullable=False),
        sa.Column("cold_c", FIGURE, nullable=False),
        sa.Column("other_meter", sa.Boolean(), nullable=False),
        sa.Column("current_limit_a", FIGURE, nullable=True),
        sa.Column("started_at", MOMENT, nullable=False),
        sa.Column("started_by", sa.String(160), nullable=False),
        sa.Column("due_at", MOMENT, nullable=True),
        sa.Column("doing", sa.String(40), nullable=False),
        sa.Column("ended_at", MOMENT, nullable=True),
        sa.Column("ended_by", sa.String(160), nullable=True),
        sa.Column("end_why", sa.String(200), nullable=True),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name="fk_drying_motor_id"),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name="fk_drying_job_id"),
        sa.PrimaryKeyConstraint("id", name="pk_drying"),
        sa.UniqueConstraint("token", name="uq_drying_token"),
    )
    again.create_index("ix_drying_state", "drying", ["state"])
    again.create_table(
        "drying_entry",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("drying_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("token", sa.String(40), nullable=False),
        sa.Column("act", sa.String(10), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("kept_at", MOMENT, nullable=False),
        sa.Column("who", sa.String(160), nullable=False),
        sa.Column("amps", sa.String(40), nullable=True),
        sa.Column("volts", sa.String(40), nullable=True),
        sa.Column("insulation", sa.String(40), nullable=True),
        sa.Column("t_s", FIGURE, nullable=True),
        sa.Column("ends", sa.String(60), nullable=True),
        sa.Column("rotated_to", sa.String(10), nullable=True),
        sa.Column("taken_back_at", MOMENT, nullable=True),
        sa.Column("taken_back_by", sa.String(160), nullable=True),
        sa.ForeignKeyConstraint(["drying_id"], ["drying.id"], name="fk_drying_entry_drying_id"),
        sa.PrimaryKeyConstraint("id", name="pk_drying_entry"),
        sa.UniqueConstraint("drying_id", "seq", name="uq_drying_entry_drying_id_seq"),
        sa.UniqueConstraint("drying_id", "token", name="uq_drying_entry_drying_id_token"),
    )
