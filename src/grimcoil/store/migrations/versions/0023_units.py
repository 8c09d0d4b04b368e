"""The units that a works types degrees and power in, and its areas in walking order"""

import sqlalchemy as sa
from alembic import op

from grimcoil.store.migrations import again

revision: str = "0023"
down_revision: str | None = "0022"


def upgrade() -> None:
    """Apply."""
    again.add_column("site", sa.Column("units", sa.String(10), nullable=False, server_default="°C, kW"))
    again.add_column("site", sa.Column("areas", sa.JSON(), nullable=True))
    # Keys of the order by area begin with the area's place in the walk; no works has said one yet. Done twice, the
    # second time finds nothing.
    op.execute("UPDATE listing SET by_area = CONCAT('999', by_area) WHERE by_area NOT LIKE '999%'")
