"""Photos of a motor's plate, beside those of jobs"""

import sqlalchemy as sa
from alembic import op

from grimcoil.store.migrations import again

revision: str = "0024"
down_revision: str | None = "0023"


def upgrade() -> None:
    """Apply."""
    op.alter_column("photo", "job_id", existing_type=sa.Integer(), nullable=True)
    again.add_column("photo", sa.Column("motor_id", sa.Integer(), nullable=True))
    again.create_foreign_key("fk_photo_motor_id", "photo", "motor", ["motor_id"])
