"""Signed jobs with the documents they were judged on, some at a time."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import Any, NamedTuple

from sqlalchemy import bindparam, select

from grimcoil.store.engine import Store
from grimcoil.store.tables import Job, Motor, columns

_J = columns(Job)


class SignedRecord(NamedTuple):
    """A signed job, the documents it was judged on, and what was found."""

    job_id: int
    tag: str
    tested_on: date | None
    verdict: str | None
    subject: str
    record: str
    assessment: dict[str, Any]


# In the order of the numbers themselves: joined by motor, all that is left would be sorted anew for each batch.
_TAG = select(columns(Motor).tag).where(columns(Motor).id == _J.motor_id).scalar_subquery()
_BEHIND = (
    select(_J.id, _TAG, _J.tested_on, _J.verdict, _J.subject, _J.record, _J.assessment)
    .with_hint(Job.__table__, "FORCE INDEX (PRIMARY)")
    .where(_J.id > bindparam("after"), _J.state == "signed", _J.subject.is_not(None), _J.record.is_not(None))
    .order_by(_J.id)
)


def batches(store: Store, size: int) -> Iterator[list[SignedRecord]]:
    """By number; each batch by a transaction of its own, so that a long walk holds nothing back."""
    after = 0
    while True:
        with store() as session:
            found = session.execute(_BEHIND.limit(size), {"after": after}).all()
        if not found:
            return
        yield [SignedRecord(*row[:-1], row[-1] or {}) for row in found]
        after = found[-1][0]
