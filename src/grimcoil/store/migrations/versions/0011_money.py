"""What was reckoned between rewinding and replacing is kept with the motor and its job"""

import sqlalchemy as sa
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0011"
down_revision: str | None = "0010"


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "money",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("token", sa.String(40), nullable=False),
        sa.Column("motor_id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=True),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("who", sa.String(160), nullable=False),
        sa.Column("says", sa.String(10), nullable=False),
        sa.Column("given", mysql.LONGTEXT(), nullable=False),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name="fk_money_motor_id"),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name="fk_money_job_id"),
        sa.PrimaryKeyConstraint("id", name="pk_money"),
        sa.UniqueConstraint("token", name="uq_money_token"),
    )
