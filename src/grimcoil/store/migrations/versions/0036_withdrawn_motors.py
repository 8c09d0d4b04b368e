"""Motors that were registered by mistake"""

import sqlalchemy as sa

from grimcoil.store.migrations import again
from grimcoil.store.tables import Utc

revision: str = "0036"
down_revision: str | None = "0035"
COLUMNS = (("withdrawn_tag", sa.String(40)), ("withdrawn_at", Utc()), ("withdrawn_by", sa.String(160)),
           ("withdrawn_why", sa.String(200)))  # fmt: skip


def upgrade() -> None:
    """Apply."""
    for name, kind in COLUMNS:
        again.add_column("motor", sa.Column(name, kind, nullable=True))
    again.create_index("ix_motor_withdrawn_tag", "motor", ["withdrawn_tag"])
