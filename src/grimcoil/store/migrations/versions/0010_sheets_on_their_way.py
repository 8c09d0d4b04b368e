"""A sheet waits with its map while a person answers what it leaves open; a map that was used is remembered"""

import sqlalchemy as sa
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0010"
down_revision: str | None = "0009"

MOMENT = mysql.DATETIME(fsp=6)


def upgrade() -> None:
    """Apply."""
    again.create_table(
        "sheet_draft",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("token", sa.String(40), nullable=False),
        sa.Column("login", sa.String(40), nullable=False),
        sa.Column("who", sa.String(160), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("file_name", sa.String(200), nullable=False),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("raw", mysql.MEDIUMBLOB(), nullable=False),
        sa.Column("map", mysql.LONGTEXT(), nullable=False),
        sa.Column("left_rows", mysql.LONGTEXT(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_sheet_draft"),
        sa.UniqueConstraint("token", name="uq_sheet_draft_token"),
    )
    again.create_index("ix_sheet_draft_login", "sheet_draft", ["login"])
    again.create_table(
        "sheet_map",
        sa.Column("headings", sa.String(64), nullable=False),
        sa.Column("file_name", sa.String(200), nullable=False),
        sa.Column("who", sa.String(160), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("map", mysql.LONGTEXT(), nullable=False),
        sa.PrimaryKeyConstraint("headings", name="pk_sheet_map"),
    )
