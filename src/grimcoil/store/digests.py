"""What jobs and their entries stand as, as one SHA-512 each that the server works out: two that are the same needn't be
read. A signature keeps it beside the rows themselves; where it differs, after a change or after a migration that
brought another column, the rows say what differs.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from typing import Any

from sqlalchemy import bindparam, func, literal_column, select
from sqlalchemy.orm import Session

from grimcoil.store.jobs import EntryLine
from grimcoil.store.tables import EntryRow, Job, Motor, columns, known_by

OF_ENTRY = ("bound", *EntryLine.__slots__)
MOST_ENTRIES = 5000  # their longest texts together stay under what the server puts together (`engine`)
# Neither is ever typed, and as the count of rows stands in front, a text that holds one can't pass for two.
_BETWEEN: Any = literal_column(f"'{chr(31)}'")
_BETWEEN_ROWS: Any = literal_column(f"'{chr(30)}'")


def _said(shown: Sequence[Any]) -> Any:
    """Columns one after another, with which of them are without a value in front."""
    empty = [func.isnull(column) for column in shown if column.nullable]
    return func.concat_ws(_BETWEEN, func.concat(*empty), *(func.ifnull(c, "") if c.nullable else c for c in shown))


def digests(session: Session, job_ids: Sequence[int], names: Sequence[str]) -> dict[int, tuple[str, str]]:
    """Of several jobs, by named columns and everything of their entries: digest (empty where there are more than
    `MOST_ENTRIES`, or more text than the server puts together) and the tag of the motor. One query.
    """
    found = session.execute(_query(tuple(sorted(names))), {"jobs": list(job_ids), "most": MOST_ENTRIES})
    return {number: (digest or "", tag) for number, digest, tag in found}


@cache
def _query(names: tuple[str, ...]) -> Any:
    j, e, m = columns(Job), columns(EntryRow), columns(Motor)
    ordered = _said(columns(EntryRow, OF_ENTRY)).op("ORDER BY", precedence=2)(e.seq)
    rows = func.group_concat(ordered.op("SEPARATOR", precedence=1)(_BETWEEN_ROWS))
    told = func.if_(
        func.count() > bindparam("most"), None, func.concat(func.count(), _BETWEEN_ROWS, func.ifnull(rows, ""))
    )
    entries = select(told).where(e.job_id == j.id).scalar_subquery()
    digest = func.sha2(func.concat(_said(columns(Job, names)), _BETWEEN_ROWS, entries), 512)
    query = select(j.id, digest, known_by()).join(Motor.__table__, m.id == j.motor_id)
    return query.where(j.id.in_(bindparam("jobs", expanding=True)))
