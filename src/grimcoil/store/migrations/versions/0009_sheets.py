"""Sheets that were kept so far come in as a whole and go again as a whole; a motor may stand there by its tag alone"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0009"
down_revision: str | None = "0008"

MOMENT = mysql.DATETIME(fsp=6)


def upgrade() -> None:
    """Apply."""
    op.alter_column("motor", "rated_voltage_v", existing_type=sa.Numeric(12, 3), nullable=True)
    again.create_table(
        "sheet_import",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("file_name", sa.String(200), nullable=False),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("who", sa.String(160), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("taken", sa.Integer(), nullable=False),
        sa.Column("undone_at", MOMENT, nullable=True),
        sa.Column("undone_by", sa.String(160), nullable=True),
        sa.PrimaryKeyConstraint("id", name="pk_sheet_import"),
    )
    again.add_column("job", sa.Column("import_id", sa.Integer(), nullable=True))
    again.create_foreign_key("fk_job_import_id", "job", "sheet_import", ["import_id"])
