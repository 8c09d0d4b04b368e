"""One open job a motor by a key of the database, whoever asks at the same moment on whatever host"""

import sqlalchemy as sa
from alembic import op

from grimcoil.store.migrations import again

revision: str = "0031"
down_revision: str | None = "0030"


def upgrade() -> None:
    """Apply. Where a motor has several from before, the first holds the key until it is signed."""
    again.add_column("job", sa.Column("open_of", sa.Integer()))
    op.execute(
        "UPDATE job JOIN (SELECT MIN(id) AS first FROM job WHERE state = 'open' GROUP BY motor_id) AS firsts"
        " ON firsts.first = job.id SET job.open_of = job.motor_id WHERE job.open_of IS NULL"
    )
    op.create_index("uq_job_open_of", "job", ["open_of"], unique=True, if_not_exists=True)
