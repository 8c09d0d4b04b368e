"""Alembic's operations for tables that may be there already: MariaDB keeps each step as it is made, so a migration that
was killed half-way finds its first steps done when it starts again.
"""

from __future__ import annotations

from typing import Any

import sqlalchemy as sa
from alembic import op


def create_table(name: str, *columns: Any) -> None:
    """Make a table where there is none of that name."""
    op.create_table(name, *columns, if_not_exists=True)


def create_index(name: str, table: str, columns: list[str]) -> None:
    """Make an index where the table has none of that name."""
    op.create_index(name, table, columns, unique=False, if_not_exists=True)


def add_column(table: str, column: sa.Column[Any]) -> None:
    """Add a column where there is none of that name."""
    if column.name not in {one["name"] for one in sa.inspect(op.get_bind()).get_columns(table)}:
        op.add_column(table, column)


def create_trigger(name: str, rest: str) -> None:
    """Make a trigger where there is none of that name."""
    op.execute(f"CREATE TRIGGER IF NOT EXISTS {name} {rest}")


def create_unique(name: str, table: str, columns: list[str]) -> None:
    """Make a unique key where the table has none of that name."""
    op.create_index(name, table, columns, unique=True, if_not_exists=True)


def create_foreign_key(name: str, table: str, other: str, columns: list[str]) -> None:
    """Tie columns to another table's id where no such tie has that name."""
    if name not in {one["name"] for one in sa.inspect(op.get_bind()).get_foreign_keys(table)}:
        op.create_foreign_key(name, table, other, columns, ["id"])
