"""Whether what register and Today show of a motor follows from its last signed job, looked at by the server itself."""

from __future__ import annotations

from collections.abc import Iterator

from sqlalchemy import ColumnElement, Date, and_, case, cast, exists, func, or_, select
from sqlalchemy.orm import Session, aliased

from grimcoil.store.list_tables import Listing
from grimcoil.store.listing import RANKS
from grimcoil.store.tables import Job, Motor, MotorState, columns

_M, _S, _J, _L = columns(Motor), columns(MotorState), columns(Job), columns(Listing)
FIGURES = (
    "r40_low_mohm", "r40_high_mohm", "unbalance_percent", "unbalance_percent_lowest", "unbalance_percent_highest",
)  # fmt: skip


def shown_breaks(session: Session) -> Iterator[str]:
    """What is shown milder than the last signed job or the motor's trend says, or with other figures; lists that say
    otherwise than the motor's own line.
    """
    yield from _of_jobs(session)
    yield from _of_lists(session)


def _rank(verdict: ColumnElement[str]) -> ColumnElement[int]:
    return case(RANKS, value=verdict, else_=-1)


def _of_jobs(session: Session) -> Iterator[str]:
    newer = aliased(Job)
    trend = func.json_value(_S.trend, "$.verdict")
    same = _S.winding_id == _J.winding_id
    day = func.coalesce(_J.tested_on, cast(_J.started_at, Date))
    later = exists().where(newer.motor_id == _S.motor_id, newer.state == "signed", newer.tested_on > _S.last_on)
    query = (
        select(
            _M.tag, _J.id, _S.verdict, _J.verdict,
            and_(same, _rank(_S.verdict) > _rank(_J.verdict)),
            and_(same, trend.is_not(None), _rank(_S.verdict) > _rank(trend)),
            and_(~same, _S.verdict != "unproven"),
            and_(same, or_(*(getattr(_S, name).is_distinct_from(getattr(_J, name)) for name in FIGURES))),
            or_(_J.state != "signed", _J.motor_id != _S.motor_id, _S.last_on != day, later),
        )
        .join(Motor.__table__, _M.id == _S.motor_id)
        .join(Job.__table__, _J.id == _S.last_job_id)
        .order_by(_M.id)
    )  # fmt: skip
    for tag, job, shown, says, milder, than_trend, rewound, other, wrong in session.execute(query):
        if wrong:
            yield f"{tag}: job {job} is shown as its last, and isn't"
        elif milder or rewound:
            yield f"{tag}: shown as {shown}, {'its new winding is untested' if rewound else f'job {job} says {says}'}"
        elif than_trend:
            yield f"{tag}: shown as {shown}, and its trend says otherwise"
        elif other:
            yield f"{tag}: its figures are not those of job {job}"
    lacking = exists().where(_J.motor_id == _M.id, _J.state == "signed") & ~exists().where(_S.motor_id == _M.id)
    for tag in session.scalars(select(_M.tag).where(lacking).order_by(_M.id)):
        yield f"{tag}: signed jobs, and nothing of them is shown"


def _of_lists(session: Session) -> Iterator[str]:
    stands = func.coalesce(_S.verdict, "unproven")
    query = (
        select(_M.tag, _L.verdict, stands)
        .outerjoin(MotorState.__table__, _S.motor_id == _M.id)
        .outerjoin(Listing.__table__, _L.motor_id == _M.id)
        .where(
            _M.withdrawn_at.is_(None),
            or_(
                _L.verdict.is_distinct_from(stands),
                _L.due.is_distinct_from(_S.next_on),
                func.substr(_L.by_worst, 1, 1) != cast(_rank(stands), _L.by_worst.type),
            ),
        )
        .order_by(_M.id)
    )
    for tag, listed, shown in session.execute(query):
        yield f"{tag}: listed as {listed or 'nothing'}, it stands as {shown}, or with another day"
