"""Positions used no more; more of a plate; the last backup; lists anew, the worst by verdict, then criticality"""

import sqlalchemy as sa
from alembic import op

from grimcoil.store.migrations import again
from grimcoil.store.tables import Utc

revision: str = "0037"
down_revision: str | None = "0036"
COLUMNS = (
    ("position", "retired_on", sa.Date()),
    ("position", "retired_by", sa.String(160)),
    ("position", "retired_why", sa.String(200)),
    ("motor", "frame_size", sa.String(30)),
    ("motor", "bearings", sa.String(60)),
    ("motor", "efficiency_percent", sa.Numeric(12, 3)),
    ("motor", "power_factor", sa.Numeric(12, 3)),
    ("site", "backed_up_at", Utc()),
)


def upgrade() -> None:
    """Apply."""
    for table, name, kind in COLUMNS:
        again.add_column(table, sa.Column(name, kind, nullable=True))
    for table in ("search_key", "search_tally", "listing_tally", "listing"):  # who starts next makes them anew
        op.execute(sa.table(table).delete())
