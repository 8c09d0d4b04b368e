"""How much of the rounds falls due, by area and day"""

import sqlalchemy as sa
from alembic import op

from grimcoil.store.migrations import again

revision: str = "0025"
down_revision: str | None = "0024"


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "round_tally",
        sa.Column("area", sa.String(100), primary_key=True),
        sa.Column("next_on", sa.Date(), primary_key=True),
        sa.Column("n", sa.Integer(), nullable=False),
    )
    again.create_index("ix_round_tally_next_on", "round_tally", ["next_on"])
    again.add_column("round_task", sa.Column("counted_area", sa.String(100), nullable=True))
    again.add_column("round_task", sa.Column("counted_on", sa.Date(), nullable=True))
    op.execute("DELETE FROM round_tally")  # begun and killed before, it is counted anew
    op.execute(
        "UPDATE round_task t JOIN listing l ON l.motor_id = t.motor_id SET t.counted_area = l.area,"
        " t.counted_on = t.next_on"
    )
    op.execute(
        "INSERT INTO round_tally (area, next_on, n) SELECT counted_area, counted_on, COUNT(*) FROM round_task"
        " WHERE counted_on IS NOT NULL GROUP BY counted_area, counted_on"
    )
