"""A job keeps the walk it was handed over from, for the way back"""

import sqlalchemy as sa
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0014"
down_revision: str | None = "0013"


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "job_walk",
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("address", mysql.LONGTEXT(), nullable=False),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name="fk_job_walk_job_id"),
        sa.PrimaryKeyConstraint("job_id", name="pk_job_walk"),
    )
