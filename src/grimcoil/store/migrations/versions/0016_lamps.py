"""A range of an instrument that has lamps instead of digits"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0016"
down_revision: str | None = "0015"


def upgrade() -> None:
    """Apply."""
    again.add_column("instrument_range", sa.Column("lamps", sa.String(120), nullable=False, server_default=""))
