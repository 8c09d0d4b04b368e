"""A job says what was the cause, and what is changed so that it doesn't come back"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0006"
down_revision: str | None = "0005"

COLUMNS = (
    ("job", sa.Column("root_causes", sa.JSON(), nullable=True)),
    ("job", sa.Column("changed", sa.String(500), nullable=True)),
)


def upgrade() -> None:
    """Apply."""
    for table, column in COLUMNS:
        again.add_column(table, column)
