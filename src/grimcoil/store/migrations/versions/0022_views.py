"""Views of the list of motors that a person keeps"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0022"
down_revision: str | None = "0021"


def upgrade() -> None:
    """Apply."""
    again.add_column("person", sa.Column("views", sa.JSON(), nullable=True))
