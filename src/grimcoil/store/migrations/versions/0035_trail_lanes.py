"""The trail's running digest, lane by lane"""

import sqlalchemy as sa
from alembic import op

from grimcoil.store.migrations import again

revision: str = "0035"
down_revision: str | None = "0034"


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "trail_head",
        sa.Column("lane", sa.String(40), nullable=False),
        sa.Column("n", sa.Integer(), nullable=False),
        sa.Column("digest", sa.String(64), nullable=False),
        sa.PrimaryKeyConstraint("lane", name=op.f("pk_trail_head")),
    )
    again.add_column("trail", sa.Column("lane", sa.String(40), nullable=True))
    again.add_column("trail", sa.Column("n", sa.Integer(), nullable=True))
    again.add_column("trail", sa.Column("digest", sa.String(64), nullable=True))
    again.create_unique("uq_trail_lane_n", "trail", ["lane", "n"])
