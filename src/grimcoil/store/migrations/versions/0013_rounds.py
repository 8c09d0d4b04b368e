"""Rounds: each motor's tasks with their next day, and what was done, skipped or seen on them"""

import sqlalchemy as sa
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0013"
down_revision: str | None = "0012"

MOMENT = mysql.DATETIME(fsp=6)


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "round_task",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("motor_id", sa.Integer(), nullable=False),
        sa.Column("task", sa.String(20), nullable=False),
        sa.Column("months", sa.Integer(), nullable=False),
        sa.Column("next_on", sa.Date(), nullable=True),
        sa.Column("bearings", sa.JSON(), nullable=True),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name="fk_round_task_motor_id"),
        sa.PrimaryKeyConstraint("id", name="pk_round_task"),
        sa.UniqueConstraint("motor_id", "task", name="uq_round_task_motor_id_task"),
    )
    again.create_index("ix_round_task_next_on_motor_id", "round_task", ["next_on", "motor_id"])
    again.create_table(
        "round_entry",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("motor_id", sa.Integer(), nullable=False),
        sa.Column("task", sa.String(20), nullable=False),
        sa.Column("token", sa.String(40), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("kept_at", MOMENT, nullable=False),
        sa.Column("who", sa.String(160), nullable=False),
        sa.Column("outcome", sa.String(10), nullable=False),
        sa.Column("text", sa.String(40), nullable=False),
        sa.Column("value", mysql.DOUBLE(asdecimal=False), nullable=True),
        sa.Column("loaded", sa.Boolean(), nullable=True),
        sa.Column("words", sa.String(200), nullable=False),
        sa.Column("was_next", sa.Date(), nullable=True),
        sa.Column("taken_back_at", MOMENT, nullable=True),
        sa.Column("taken_back_by", sa.String(160), nullable=True),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name="fk_round_entry_motor_id"),
        sa.PrimaryKeyConstraint("id", name="pk_round_entry"),
        sa.UniqueConstraint("token", name="uq_round_entry_token"),
    )
    again.create_index("ix_round_entry_motor_id_task_at", "round_entry", ["motor_id", "task", "at"])
