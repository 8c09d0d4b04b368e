"""Whom an open job was handed to: it stands on that person's Today"""

import sqlalchemy as sa
from alembic import op

from grimcoil.store.migrations import again

revision: str = "0030"
down_revision: str | None = "0029"


def upgrade() -> None:
    """Apply."""
    again.add_column("job", sa.Column("handed_to", sa.String(60)))


def downgrade() -> None:
    """Take back."""
    op.drop_column("job", "handed_to")
