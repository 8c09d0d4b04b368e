"""Side sheets kept with a motor"""

import sqlalchemy as sa

from grimcoil.store.migrations import again
from grimcoil.store.tables import Utc

revision: str = "0020"
down_revision: str | None = "0019"


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "side_sheet",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("motor_id", sa.Integer(), nullable=False),
        sa.Column("token", sa.String(40), nullable=False),
        sa.Column("kind", sa.String(30), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("verdict", sa.String(10), nullable=False),
        sa.Column("at", Utc(), nullable=False),
        sa.Column("who", sa.String(160), nullable=False),
        sa.Column("taken_back_at", Utc(), nullable=True),
        sa.Column("taken_back_by", sa.String(160), nullable=True),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name="fk_side_sheet_motor_id"),
        sa.PrimaryKeyConstraint("id", name="pk_side_sheet"),
        sa.UniqueConstraint("token", name="uq_side_sheet_token"),
    )
    again.create_index("ix_side_sheet_motor_id_at", "side_sheet", ["motor_id", "at"])
