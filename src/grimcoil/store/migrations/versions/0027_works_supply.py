"""The supply of the works, for positions that have none of their own on record"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0027"
down_revision: str | None = "0026"


def upgrade() -> None:
    """Apply."""
    again.add_column("site", sa.Column("supply_system", sa.String(30), nullable=True))
    again.add_column("site", sa.Column("system_voltage_v", sa.Numeric(12, 3), nullable=True))
