"""Lists are read from narrow rows with an index for every filter in every order; the last signed jobs have theirs"""

import sqlalchemy as sa
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0007"
down_revision: str | None = "0006"

SORTS = ("by_area", "by_worst", "by_due", "by_insulation")
FILTERS = ("area", "verdict", "standing", "scheme", "due_month")
JOB_INDEXES = (
    ("ix_job_state_signed_at", ["state", "signed_at"]),
    ("ix_job_motor_id_state_tested_on", ["motor_id", "state", "tested_on"]),
)


def _bin(length: int) -> sa.String:
    return sa.String(length, collation="utf8mb4_bin")


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "listing",
        sa.Column("motor_id", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("tag_bare", sa.String(40), nullable=False),
        sa.Column("area", sa.String(100), nullable=False),
        sa.Column("verdict", sa.String(10), nullable=False),
        sa.Column("standing", sa.String(10), nullable=False),
        sa.Column("scheme", sa.String(30), nullable=False),
        sa.Column("due", sa.Date(), nullable=True),
        sa.Column("due_month", sa.String(7), nullable=False),
        sa.Column("r40_mohm", mysql.DOUBLE(asdecimal=False), nullable=True),
        *(sa.Column(sort, _bin(200), nullable=False) for sort in SORTS),
        sa.Column("words", sa.String(600), nullable=False),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name="fk_listing_motor_id"),
        sa.PrimaryKeyConstraint("motor_id", name="pk_listing"),
    )
    again.create_index("ix_listing_tag_bare", "listing", ["tag_bare"])
    for sort in SORTS:
        again.create_index(f"ix_listing_{sort}", "listing", [sort])
        for one in FILTERS:
            again.create_index(f"ix_listing_{one}_{sort}", "listing", [one, sort])
    again.create_table(
        "listing_tally",
        sa.Column("field", sa.String(20), nullable=False),
        sa.Column("value", sa.String(100), nullable=False),
        sa.Column("n", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("field", "value", name="pk_listing_tally"),
    )
    again.create_table(
        "search_key",
        sa.Column("piece", _bin(8), nullable=False),
        sa.Column("motor_id", sa.Integer(), autoincrement=False, nullable=False),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name="fk_search_key_motor_id"),
        sa.PrimaryKeyConstraint("piece", "motor_id", name="pk_search_key"),
    )
    again.create_index("ix_search_key_motor_id", "search_key", ["motor_id"])
    again.create_table(
        "search_tally",
        sa.Column("piece", _bin(8), nullable=False),
        sa.Column("n", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("piece", name="pk_search_tally"),
    )
    for name, columns in JOB_INDEXES:
        again.create_index(name, "job", columns)
