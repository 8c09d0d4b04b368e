"""The fleet at a glance: who fell most, is worst where it matters, oldest, rewound most; sisters; lists anew"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0018"
down_revision: str | None = "0017"

ORDERS = ("by_matter", "by_fall", "by_age", "by_rewinds")


def upgrade() -> None:
    """Apply."""
    again.add_column("listing", sa.Column("criticality", sa.String(20), nullable=False, server_default=""))
    again.add_column("listing", sa.Column("built_year", sa.Integer(), nullable=True))
    again.add_column("listing", sa.Column("rewinds", sa.Integer(), nullable=False, server_default="0"))
    again.add_column("listing", sa.Column("r40_high_mohm", mysql.DOUBLE(asdecimal=False), nullable=True))
    again.add_column("listing", sa.Column("r40_before_mohm", mysql.DOUBLE(asdecimal=False), nullable=True))
    for order in ORDERS:
        key = sa.String(200, collation="utf8mb4_bin")
        again.add_column("listing", sa.Column(order, key, nullable=False, server_default="~"))
        again.create_index(f"ix_listing_{order}", "listing", [order])
    again.create_index("ix_motor_plate", "motor", ["power_text", "rated_voltage_v", "speed_rpm"])
    for table in ("search_key", "search_tally", "listing_tally", "listing"):  # who starts next makes them anew
        op.execute(sa.table(table).delete())
