"""Whether what asks for action does so soon or now: lists have what is urgent first"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0028"
down_revision: str | None = "0027"


def upgrade() -> None:
    """Apply."""
    again.add_column("motor_state", sa.Column("soon", sa.Boolean(), server_default=sa.text("0"), nullable=False))
