"""The motor's own names, colours and limit; what an instrument shows, corrects and beeps below"""

import sqlalchemy as sa
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0039"
down_revision: str | None = "0038"


def upgrade() -> None:
    """Apply."""
    again.add_column("winding", sa.Column("own", sa.JSON(none_as_null=True), nullable=True))
    again.add_column("instrument_range", sa.Column("corrects_to_40c", sa.Boolean(), nullable=False, server_default="0"))
    again.add_column("instrument_range", sa.Column("shows", sa.String(12), nullable=False, server_default="megohms"))
    again.add_column("instrument_range", sa.Column("beep_below_ohm", mysql.DOUBLE(), nullable=True))
