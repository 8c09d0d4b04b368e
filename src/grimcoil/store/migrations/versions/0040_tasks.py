"""What a finding, a decision, a round or a person asks to be done afterwards"""

import sqlalchemy as sa
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0040"
down_revision: str | None = "0039"


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "follow_up_task",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("motor_id", sa.Integer(), sa.ForeignKey("motor.id"), nullable=False),
        sa.Column("token", sa.String(40)),
        sa.Column("open_of", sa.String(80)),
        sa.Column("what", sa.String(200), nullable=False),
        sa.Column("because", sa.String(500), nullable=False),
        sa.Column("by_day", sa.Date(), nullable=False),
        sa.Column("whom", sa.String(40), nullable=False),
        sa.Column("origin", sa.String(20), nullable=False),
        sa.Column("origin_id", sa.Integer()),
        sa.Column("opened_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("opened_by", sa.String(160), nullable=False),
        sa.Column("state", sa.String(10), nullable=False),
        sa.Column("closed_at", mysql.DATETIME(fsp=6)),
        sa.Column("closed_by", sa.String(160)),
        sa.Column("word", sa.String(200), nullable=False),
    )
    again.create_unique("uq_follow_up_task_token", "follow_up_task", ["token"])
    again.create_unique("uq_follow_up_task_open_of", "follow_up_task", ["open_of"])
    again.create_index("ix_follow_up_task_motor_id", "follow_up_task", ["motor_id"])
    again.create_index("ix_follow_up_task_state_by_day", "follow_up_task", ["state", "by_day"])
