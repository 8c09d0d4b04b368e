"""What a fault walk found, by name: the next walk at the place begins with it"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0033"
down_revision: str | None = "0032"


def upgrade() -> None:
    """Apply."""
    again.add_column("life_event", sa.Column("found", sa.JSON(none_as_null=True), nullable=True))
