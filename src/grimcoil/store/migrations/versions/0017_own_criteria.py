"""The works' own criteria, and which version of them a job is judged by"""

import sqlalchemy as sa
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0017"
down_revision: str | None = "0016"


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "own_criteria",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(40), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("based_on", sa.String(40), nullable=False),
        sa.Column("document", mysql.LONGTEXT(), nullable=False),
        sa.Column("kept_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("kept_by", sa.String(160), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_own_criteria"),
        sa.UniqueConstraint("name", "version", name="uq_own_criteria_name_version"),
    )
    again.add_column("job", sa.Column("criteria_version", sa.Integer(), nullable=True))
