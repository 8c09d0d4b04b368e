"""Every table, for what has to know all of them: migrations, backups, tests. A new module of tables is named here."""

from __future__ import annotations

from grimcoil.store import (
    criteria_tables,
    drying_tables,
    list_tables,
    money_tables,
    people_tables,
    repair_tables,
    round_tables,
    sent_tables,
    sheet_tables,
    side_tables,
    task_tables,
    walk_tables,
)

MODULES = (
    criteria_tables,
    drying_tables,
    list_tables,
    money_tables,
    people_tables,
    repair_tables,
    round_tables,
    sent_tables,
    sheet_tables,
    side_tables,
    task_tables,
    walk_tables,
)
METADATA = people_tables.Person.metadata
