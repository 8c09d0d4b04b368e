"""First tables"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0001"
down_revision: str | None = None


def upgrade() -> None:
    """Apply."""

    again.create_table(
        "instrument",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("calibration_due", sa.Date(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_instrument")),
        sa.UniqueConstraint("name", name=op.f("uq_instrument_name")),
    )
    again.create_table(
        "position",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=100), nullable=False),
        sa.Column("area", sa.String(length=100), nullable=False),
        sa.Column("supply_system", sa.String(length=30), nullable=True),
        sa.Column("system_voltage_v", sa.Numeric(precision=12, scale=3), nullable=True),
        sa.Column("criticality", sa.String(length=20), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_position")),
        sa.UniqueConstraint("name", name=op.f("uq_position_name")),
    )
    again.create_table(
        "site",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=100), nullable=False),
        sa.Column("zone", sa.String(length=60), nullable=False),
        sa.Column("criteria", sa.String(length=40), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_site")),
    )
    again.create_table(
        "instrument_range",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("instrument_id", sa.Integer(), nullable=False),
        sa.Column("function", sa.String(length=20), nullable=False),
        sa.Column("top", mysql.DOUBLE(), nullable=True),
        sa.Column("resolution", mysql.DOUBLE(), nullable=True),
        sa.Column("accuracy_percent", mysql.DOUBLE(), nullable=False),
        sa.Column("counts", mysql.DOUBLE(), nullable=False),
        sa.Column("test_voltage_v", mysql.DOUBLE(), nullable=True),
        sa.ForeignKeyConstraint(["instrument_id"], ["instrument.id"], name=op.f("fk_instrument_range_instrument_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_instrument_range")),
    )
    again.create_table(
        "motor",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("tag", sa.String(length=40), nullable=False),
        sa.Column("serial", sa.String(length=60), nullable=False),
        sa.Column("position_id", sa.Integer(), nullable=True),
        sa.Column("rated_voltage_v", sa.Numeric(precision=12, scale=3), nullable=False),
        sa.Column("rated_voltage_2_v", sa.Numeric(precision=12, scale=3), nullable=True),
        sa.Column("connected_voltage_v", sa.Numeric(precision=12, scale=3), nullable=True),
        sa.Column("full_load_current_a", sa.Numeric(precision=12, scale=3), nullable=True),
        sa.Column("full_load_current_2_a", sa.Numeric(precision=12, scale=3), nullable=True),
        sa.Column("frequency_hz", sa.Numeric(precision=12, scale=3), nullable=True),
        sa.Column("power_text", sa.String(length=20), nullable=False),
        sa.Column("speed_rpm", sa.Numeric(precision=12, scale=3), nullable=True),
        sa.Column("service_factor", sa.Numeric(precision=12, scale=3), nullable=False),
        sa.Column("insulation_class", sa.String(length=2), nullable=True),
        sa.Column("built_year", sa.SmallInteger(), nullable=True),
        sa.Column("created_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(["position_id"], ["position.id"], name=op.f("fk_motor_position_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_motor")),
        sa.UniqueConstraint("tag", name=op.f("uq_motor_tag")),
    )
    again.create_table(
        "life_event",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("motor_id", sa.Integer(), nullable=False),
        sa.Column("on_day", sa.Date(), nullable=False),
        sa.Column("kind", sa.String(length=20), nullable=False),
        sa.Column("note", sa.String(length=200), nullable=False),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name=op.f("fk_life_event_motor_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_life_event")),
    )
    again.create_index("ix_life_event_motor_id_on_day", "life_event", ["motor_id", "on_day"])
    again.create_table(
        "winding",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("motor_id", sa.Integer(), nullable=False),
        sa.Column("since", sa.Date(), nullable=False),
        sa.Column("reason", sa.String(length=40), nullable=False),
        sa.Column("winding", sa.String(length=10), nullable=False),
        sa.Column("insulation_system", sa.String(length=20), nullable=False),
        sa.Column("conductor", sa.String(length=10), nullable=False),
        sa.Column("lead_scheme", sa.String(length=30), nullable=False),
        sa.Column("insulation_test_forbidden", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name=op.f("fk_winding_motor_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_winding")),
        sa.UniqueConstraint("motor_id", "since", name=op.f("uq_winding_motor_id_since")),
    )
    again.create_table(
        "job",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("token", sa.String(length=40), nullable=False),
        sa.Column("motor_id", sa.Integer(), nullable=False),
        sa.Column("winding_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(length=20), nullable=False),
        sa.Column("state", sa.String(length=10), nullable=False),
        sa.Column("criteria", sa.String(length=40), nullable=False),
        sa.Column("started_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("started_by", sa.String(length=80), nullable=False),
        sa.Column("ohm_range_id", sa.Integer(), nullable=True),
        sa.Column("insulation_range_id", sa.Integer(), nullable=True),
        sa.Column("discharge_due_at", mysql.DATETIME(fsp=6), nullable=True),
        sa.Column("decided_action", sa.String(length=30), nullable=True),
        sa.Column("decided_reason", sa.String(length=500), nullable=True),
        sa.Column("decided_by", sa.String(length=80), nullable=True),
        sa.Column("decided_at", mysql.DATETIME(fsp=6), nullable=True),
        sa.Column("signed_at", mysql.DATETIME(fsp=6), nullable=True),
        sa.Column("signed_by", sa.String(length=80), nullable=True),
        sa.Column("tested_on", sa.Date(), nullable=True),
        sa.Column("verdict", sa.String(length=10), nullable=True),
        sa.Column("r40_low_mohm", mysql.DOUBLE(), nullable=True),
        sa.Column("r40_high_mohm", mysql.DOUBLE(), nullable=True),
        sa.Column("unbalance_percent", mysql.DOUBLE(), nullable=True),
        sa.Column("unbalance_percent_lowest", mysql.DOUBLE(), nullable=True),
        sa.Column("unbalance_percent_highest", mysql.DOUBLE(), nullable=True),
        sa.Column("r_reference_ohm", mysql.DOUBLE(), nullable=True),
        sa.Column("assessment", sa.JSON(), nullable=True),
        sa.Column("core_version", sa.String(length=20), nullable=True),
        sa.ForeignKeyConstraint(
            ["insulation_range_id"], ["instrument_range.id"], name=op.f("fk_job_insulation_range_id")
        ),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name=op.f("fk_job_motor_id")),
        sa.ForeignKeyConstraint(["ohm_range_id"], ["instrument_range.id"], name=op.f("fk_job_ohm_range_id")),
        sa.ForeignKeyConstraint(["winding_id"], ["winding.id"], name=op.f("fk_job_winding_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_job")),
        sa.UniqueConstraint("token", name=op.f("uq_job_token")),
    )
    again.create_index("ix_job_discharge_due_at", "job", ["discharge_due_at"])
    again.create_index("ix_job_state_started_at", "job", ["state", "started_at"])
    again.create_index("ix_job_winding_id_tested_on", "job", ["winding_id", "tested_on"])
    again.create_table(
        "entry",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("token", sa.String(length=40), nullable=False),
        sa.Column("place", sa.String(length=60), nullable=False),
        sa.Column("kind", sa.String(length=10), nullable=False),
        sa.Column("text", sa.String(length=500), nullable=False),
        sa.Column("unit", sa.String(length=4), nullable=True),
        sa.Column("shown", sa.String(length=12), nullable=True),
        sa.Column("low", mysql.DOUBLE(), nullable=True),
        sa.Column("high", mysql.DOUBLE(), nullable=True),
        sa.Column("bound", sa.String(length=8), nullable=True),
        sa.Column("digit", mysql.DOUBLE(), nullable=True),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("who", sa.String(length=80), nullable=False),
        sa.Column("instrument", sa.String(length=60), nullable=True),
        sa.Column("taken_back_at", mysql.DATETIME(fsp=6), nullable=True),
        sa.Column("taken_back_by", sa.String(length=80), nullable=True),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name=op.f("fk_entry_job_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_entry")),
        sa.UniqueConstraint("job_id", "seq", name=op.f("uq_entry_job_id_seq")),
        sa.UniqueConstraint("job_id", "token", name=op.f("uq_entry_job_id_token")),
    )
    again.create_table(
        "motor_state",
        sa.Column("motor_id", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("winding_id", sa.Integer(), nullable=False),
        sa.Column("verdict", sa.String(length=10), nullable=False),
        sa.Column("why", sa.String(length=300), nullable=False),
        sa.Column("r40_low_mohm", mysql.DOUBLE(), nullable=True),
        sa.Column("r40_high_mohm", mysql.DOUBLE(), nullable=True),
        sa.Column("unbalance_percent", mysql.DOUBLE(), nullable=True),
        sa.Column("unbalance_percent_lowest", mysql.DOUBLE(), nullable=True),
        sa.Column("unbalance_percent_highest", mysql.DOUBLE(), nullable=True),
        sa.Column("r_reference_ohm", mysql.DOUBLE(), nullable=True),
        sa.Column("minimum_mohm", mysql.DOUBLE(), nullable=True),
        sa.Column("last_on", sa.Date(), nullable=False),
        sa.Column("last_job_id", sa.Integer(), nullable=False),
        sa.Column("next_on", sa.Date(), nullable=False),
        sa.Column("next_why", sa.String(length=200), nullable=False),
        sa.Column("spark", sa.Text(), nullable=False),
        sa.Column("trend", sa.JSON(), nullable=True),
        sa.Column("core_version", sa.String(length=20), nullable=False),
        sa.ForeignKeyConstraint(["last_job_id"], ["job.id"], name=op.f("fk_motor_state_last_job_id")),
        sa.ForeignKeyConstraint(["motor_id"], ["motor.id"], name=op.f("fk_motor_state_motor_id")),
        sa.ForeignKeyConstraint(["winding_id"], ["winding.id"], name=op.f("fk_motor_state_winding_id")),
        sa.PrimaryKeyConstraint("motor_id", name=op.f("pk_motor_state")),
    )
