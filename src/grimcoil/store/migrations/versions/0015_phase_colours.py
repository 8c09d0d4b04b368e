"""The works keep the colours of their three phases"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0015"
down_revision: str | None = "0014"


def upgrade() -> None:
    """Apply."""
    again.add_column("site", sa.Column("phase_colours", sa.String(40), nullable=False, server_default=""))
