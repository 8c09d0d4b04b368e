"""A job says by what its insulation compares with others; a motor how it is mounted and enclosed"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0005"
down_revision: str | None = "0004"

COLUMNS = (
    ("job", sa.Column("compares", sa.JSON(), nullable=True)),
    ("motor_state", sa.Column("balance", sa.String(10), nullable=True)),
    ("motor", sa.Column("mounting", sa.String(60), nullable=True)),
    ("motor", sa.Column("enclosure", sa.String(60), nullable=True)),
)


def upgrade() -> None:
    """Apply."""
    for table, column in COLUMNS:
        again.add_column(table, column)
