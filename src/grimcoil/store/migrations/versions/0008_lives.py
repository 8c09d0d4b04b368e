"""Where motors stood and when, what happened to them with its cost and its way back, where each job was"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0008"
down_revision: str | None = "0007"

MOMENT = mysql.DATETIME(fsp=6)
COLUMNS = (
    ("life_event", sa.Column("cost", sa.Numeric(14, 2), nullable=True)),
    ("life_event", sa.Column("token", sa.String(40), nullable=True)),
    ("life_event", sa.Column("who", sa.String(160), nullable=True)),
    ("life_event", sa.Column("at", MOMENT, nullable=True)),
    ("life_event", sa.Column("undo", sa.JSON(), nullable=True)),
    ("life_event", sa.Column("taken_back_at", MOMENT, nullable=True)),
    ("life_event", sa.Column("taken_back_by", sa.String(160), nullable=True)),
    ("job", sa.Column("position_id", sa.Integer(), nullable=True)),
)


def upgrade() -> None:
    """Apply. Motors that have a position have stood there since their first winding, as far as anybody knows."""
    again.create_table(
        "stay",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("motor_id", sa.Integer(), nullable=False),
        sa.Column("position_id", sa.Integer(), nullable=True),
        sa.Column("since", sa.Date(), nullable=False),
        sa.Column("until", sa.Date(), nullable=True),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name="fk_stay_motor_id"),
        sa.ForeignKeyConstraint(["position_id"], ["position.id"], name="fk_stay_position_id"),
        sa.PrimaryKeyConstraint("id", name="pk_stay"),
    )
    again.create_index("ix_stay_motor_id_since", "stay", ["motor_id", "since"])
    again.create_index("ix_stay_position_id_since", "stay", ["position_id", "since"])
    for table, column in COLUMNS:
        again.add_column(table, column)
    again.create_unique("uq_life_event_token", "life_event", ["token"])
    again.create_index("ix_job_position_id_tested_on", "job", ["position_id", "tested_on"])
    again.create_foreign_key("fk_job_position_id", "job", "position", ["position_id"])
    op.execute(
        "INSERT INTO stay (motor_id, position_id, since) SELECT m.id, m.position_id,"
        " COALESCE((SELECT MIN(w.since) FROM winding w WHERE w.motor_id = m.id), DATE(m.created_at)) FROM motor m"
        " WHERE m.position_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM stay s WHERE s.motor_id = m.id)"
    )
    op.execute(
        "UPDATE job j JOIN motor m ON m.id = j.motor_id SET j.position_id = m.position_id WHERE j.position_id IS NULL"
    )
