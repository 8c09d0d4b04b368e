"""Tasks of a round by running hours or season"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0021"
down_revision: str | None = "0020"


def upgrade() -> None:
    """Apply."""
    again.add_column("round_task", sa.Column("every_h", sa.Integer(), nullable=True))
    again.add_column("round_task", sa.Column("hours_a_month", sa.Integer(), nullable=True))
    again.add_column("round_task", sa.Column("season", sa.String(5), nullable=True))
