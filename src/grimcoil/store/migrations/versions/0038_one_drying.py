"""One drying of a motor at a time by a key of the database, whoever begins it on whatever host"""

import sqlalchemy as sa
from alembic import op

from grimcoil.store.migrations import again

revision: str = "0038"
down_revision: str | None = "0037"


def upgrade() -> None:
    """Apply. Where a motor has several from before, the first holds the key until it ends."""
    again.add_column("drying", sa.Column("open_of", sa.Integer()))
    op.execute(
        "UPDATE drying JOIN (SELECT MIN(id) AS first FROM drying WHERE state = 'open' GROUP BY motor_id) AS firsts"
        " ON firsts.first = drying.id SET drying.open_of = drying.motor_id WHERE drying.open_of IS NULL"
    )
    op.create_index("uq_drying_open_of", "drying", ["open_of"], unique=True, if_not_exists=True)
