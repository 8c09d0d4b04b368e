"""Alembic's entry: runs the migrations on the connection handed over by `store.schema`."""

from alembic import context
from sqlalchemy.engine import Connection

from grimcoil.store.all_tables import METADATA

connection: Connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=METADATA)
with context.begin_transaction():
    context.run_migrations()
