"""What came under a form's key: the same key with other content is told so, on every form"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision: str = "0032"
down_revision: str | None = "0031"


def upgrade() -> None:
    """Apply."""
    op.create_table(
        "sent_form",
        sa.Column("token", sa.String(40), primary_key=True),
        sa.Column("digest", sa.CHAR(64), nullable=False),
        sa.Column("at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Index("ix_sent_form_at", "at"),
        if_not_exists=True,
    )
