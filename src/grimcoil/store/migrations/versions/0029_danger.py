"""What can hurt at a job now, on its row: every page tells it"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

from grimcoil.store.migrations import again

revision: str = "0029"
down_revision: str | None = "0028"


def upgrade() -> None:
    """Apply."""
    again.add_column("job", sa.Column("danger", sa.String(12)))
    again.add_column("job", sa.Column("danger_since", mysql.DATETIME(fsp=6)))
    again.add_column("job", sa.Column("danger_words", sa.String(200)))
    op.execute(
        "UPDATE job SET danger = 'shorted', danger_since = discharge_due_at, danger_words = 'shorted to frame'"
        " WHERE discharge_due_at IS NOT NULL AND state = 'open'"
    )
