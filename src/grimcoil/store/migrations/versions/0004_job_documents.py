"""A job keeps its plan, its subject, and once signed its record; the register knows what the formats know"""

from pathlib import Path

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0004"
down_revision: str | None = "0003"

ROUTINE_1 = Path(__file__).parents[1] / "routine_1.json"
DOUBLE = mysql.DOUBLE(asdecimal=False)
COLUMNS = (
    ("job", sa.Column("plan", mysql.LONGTEXT(), nullable=True)),
    ("job", sa.Column("subject", mysql.LONGTEXT(), nullable=True)),
    ("job", sa.Column("record", mysql.LONGTEXT(), nullable=True)),
    ("entry", sa.Column("held_s", DOUBLE, nullable=True)),
    ("winding", sa.Column("ratings", sa.JSON(), nullable=True)),
    ("winding", sa.Column("accessories", sa.JSON(), nullable=True)),
    ("winding", sa.Column("brake", sa.JSON(), nullable=True)),
    ("winding", sa.Column("maker_plate", sa.JSON(), nullable=True)),
    ("winding", sa.Column("baseline", sa.JSON(), nullable=True)),
    ("position", sa.Column("circuit", sa.JSON(), nullable=True)),
    ("signature", sa.Column("subject_key", sa.String(60), nullable=True)),
)


def upgrade() -> None:
    """Apply."""
    for table, column in COLUMNS:
        again.add_column(table, column)
    inspector = sa.inspect(op.get_bind())
    signature = {one["name"]: one for one in inspector.get_columns("signature")}
    if not signature["job_id"]["nullable"]:
        op.alter_column("signature", "job_id", existing_type=sa.Integer(), nullable=True)
    again.create_index("ix_signature_subject_key_seq", "signature", ["subject_key", "seq"])
    # Jobs begun before there were plans were walked by the routine of that time; this file is never edited.
    op.get_bind().execute(
        sa.text("UPDATE job SET plan = :plan WHERE plan IS NULL"), {"plan": ROUTINE_1.read_text("utf-8")}
    )
