"""Values of a sheet as they were understood, and the hash each test was filed with"""

import sqlalchemy as sa
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0026"
down_revision: str | None = "0025"


def upgrade() -> None:
    """Apply."""
    figure = mysql.DOUBLE(asdecimal=False)
    again.create_table(
        "sheet_reading",
        sa.Column("import_id", sa.Integer(), sa.ForeignKey("sheet_import.id"), primary_key=True),
        sa.Column("number", sa.Integer(), primary_key=True, autoincrement=False),
        sa.Column("motor_id", sa.Integer(), sa.ForeignKey("motor.id"), nullable=False),
        sa.Column("on_day", sa.Date(), nullable=False),
        sa.Column("field", sa.String(30), nullable=False),
        sa.Column("points", sa.String(120), nullable=False),
        sa.Column("t_s", figure, nullable=True),
        sa.Column("text", sa.String(300), nullable=False),
        sa.Column("shown", sa.String(12), nullable=True),
        sa.Column("low", figure, nullable=True),
        sa.Column("high", figure, nullable=True),
        sa.Column("sheet", sa.String(100), nullable=True),
        sa.Column("row", sa.Integer(), nullable=False),
        sa.Column("cell", sa.String(12), nullable=False),
    )
    again.create_index("ix_sheet_reading_motor_id_on_day", "sheet_reading", ["motor_id", "on_day"])
    again.add_column("job", sa.Column("filed_hash", sa.String(64), nullable=True))
