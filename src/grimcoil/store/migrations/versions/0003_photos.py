"""Photos of a job"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0003"
down_revision: str | None = "0002"

MOMENT = mysql.DATETIME(fsp=6)


def upgrade() -> None:
    """Apply."""

    again.create_table(
        "photo",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("token", sa.String(length=40), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("who", sa.String(length=160), nullable=False),
        sa.Column("note", sa.String(length=200), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("sha256", sa.String(length=64), nullable=False),
        sa.Column("data", mysql.MEDIUMBLOB(), nullable=False),
        sa.Column("taken_back_at", MOMENT, nullable=True),
        sa.Column("taken_back_by", sa.String(length=160), nullable=True),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name=op.f("fk_photo_job_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_photo")),
        sa.UniqueConstraint("token", name=op.f("uq_photo_token")),
    )
