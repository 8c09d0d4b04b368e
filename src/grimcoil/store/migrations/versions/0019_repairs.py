"""Repairs under way, and what was promised of them"""

import sqlalchemy as sa

from grimcoil.store.migrations import again

revision: str = "0019"
down_revision: str | None = "0018"


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "repair",
        sa.Column("motor_id", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("state", sa.String(20), nullable=False),
        sa.Column("since", sa.Date(), nullable=False),
        sa.Column("due", sa.Date(), nullable=True),
        sa.Column("told", sa.String(200), nullable=False),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name="fk_repair_motor_id"),
        sa.PrimaryKeyConstraint("motor_id", name="pk_repair"),
    )
    again.create_index("ix_repair_due", "repair", ["due"])
    again.add_column("life_event", sa.Column("promised", sa.JSON(none_as_null=True), nullable=True))
