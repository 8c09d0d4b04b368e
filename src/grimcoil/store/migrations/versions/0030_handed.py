"""Whom an open job was handed to: it stands on that person's Today"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0030"
down_revision: str | None = "0029"


def upgrade() -> None:
    """Apply."""
    again.add_column("job", sa.Column("handed_to", sa.String(60)))
