"""Why somebody else's entry of a round was taken back"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0034"
down_revision: str | None = "0033"


def upgrade() -> None:
    """Apply."""
    again.add_column("round_entry", sa.Column("taken_back_why", sa.String(200), nullable=True))
