"""What a motor's trend plots, over a span of days: signed jobs with their assessments, figures of rounds, and the
insulation of its sisters.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Any, NamedTuple

from sqlalchemy import Date, bindparam, func, literal, select, text
from sqlalchemy.orm import Session

from grimcoil.store.jobs import ACCEPTED, FirstOhms, first_ohms
from grimcoil.store.motors import SignedJob
from grimcoil.store.rounds import FigureLine
from grimcoil.store.tables import Job, Utc, columns

_J = columns(Job)
MOST = 60  # tests of one picture; a longer life is looked at span by span
COUNTED = 1000  # so many are told apart; beyond it is "more than"
SISTERS = 8


@dataclass(frozen=True, slots=True)
class PlottedJobs:
    """Tests of a span, oldest first, each with the assessment it keeps; the first and last day of all there are; how
    many of the span there are, the newest of which are here; more than `COUNTED` are one more than that.
    """

    jobs: Sequence[SignedJob]
    assessments: Sequence[dict[str, Any] | None]
    first: date | None
    last: date | None
    in_span: int


def plotted_jobs(session: Session, motor_id: int, since: date | None, until: date | None) -> PlottedJobs:
    """The newest signed jobs of a span. One query, by the index of a motor's tests; two where the span has none."""
    mine = (_J.motor_id == motor_id) & (_J.state == "signed") & _J.tested_on.is_not(None)
    span = mine if since is None else mine & (_J.tested_on >= since)
    span = span if until is None else span & (_J.tested_on <= until)
    day = _J.tested_on
    ends = [select(day).where(mine).order_by(way).limit(1).scalar_subquery() for way in (day, day.desc())]
    some = select(literal(1)).select_from(Job.__table__).where(span).limit(COUNTED + 1).subquery()
    counted = select(func.count()).select_from(some).scalar_subquery()
    query = select(*columns(Job, SignedJob._fields), _J.assessment, *ends, counted).where(span)
    rows = session.execute(query.order_by(_J.tested_on.desc(), _J.id.desc()).limit(MOST)).all()[::-1]
    if not rows:
        first, last = session.execute(select(*ends)).one()
        return PlottedJobs((), (), first, last, 0)
    first, last, in_span = rows[-1][-3:]
    return PlottedJobs([SignedJob(*row[:-4]) for row in rows], [row[-4] for row in rows], first, last, in_span)


class SisterTest(NamedTuple):
    """A signed job's insulation of another motor, MΩ at 40 °C; a null high end is open."""

    tag: str
    on: date
    winding_id: int
    low: float
    high: float | None


@dataclass(frozen=True, slots=True)
class Beside:
    """What stands beside a motor's tests: tags of its sisters, the tests of those asked for, figures of rounds, and
    by winding the ohms of its first accepted job.
    """

    sisters: Sequence[str]
    tests: Sequence[SisterTest]
    figures: Sequence[FigureLine]
    firsts: Mapping[int, FirstOhms]


_BESIDE = text(
    "(SELECT 'k' AS what, s.id, s.tag AS name, NULL AS on_day, NULL AS at, NULL AS low, NULL AS high, NULL AS flag"
    " FROM motor m JOIN motor s ON s.power_text = m.power_text AND s.rated_voltage_v = m.rated_voltage_v"
    " AND s.speed_rpm = m.speed_rpm AND s.id <> m.id WHERE m.id = :motor_id AND m.power_text <> ''"
    " ORDER BY s.id LIMIT :sisters)"
    " UNION ALL (SELECT 's', j.winding_id, m.tag, j.tested_on, NULL, j.r40_low_mohm, j.r40_high_mohm, NULL"
    " FROM motor m JOIN job j ON j.motor_id = m.id WHERE m.tag IN :tags AND j.state = 'signed'"
    " AND j.tested_on BETWEEN :since AND :until AND j.r40_low_mohm IS NOT NULL"
    " ORDER BY j.tested_on DESC, j.id DESC LIMIT :tests)"
    " UNION ALL (SELECT 'r', id, task, NULL, at, value, NULL, loaded FROM round_entry"
    " WHERE motor_id = :motor_id AND value IS NOT NULL AND taken_back_at IS NULL AND at >= :begins AND at < :ends"
    " ORDER BY at DESC, id DESC LIMIT :figures)"
    " UNION ALL (SELECT 'f', w.id, (SELECT JSON_EXTRACT(j.assessment, '$.winding_resistance') FROM job j"
    " WHERE j.winding_id = w.id AND j.state = 'signed' AND j.r_reference_ohm IS NOT NULL"
    " AND j.decided_action LIKE :accepted ORDER BY j.tested_on, j.id LIMIT 1), NULL, NULL, NULL, NULL, NULL"
    " FROM winding w WHERE w.motor_id = :motor_id)"
).bindparams(bindparam("tags", expanding=True), bindparam("begins", type_=Utc), bindparam("ends", type_=Utc))
_BESIDE_ROWS = _BESIDE.columns(on_day=Date, at=Utc)


def beside(
    session: Session, motor_id: int, tags: Sequence[str], since: date, until: date, figures: int = 300
) -> Beside:
    """Sisters (the same power, volts and speed), the tests of the sisters named, and figures of rounds that stand, by
    the moment they were read; of each the newest, oldest of them first. One query.
    """
    given = {
        "motor_id": motor_id, "tags": list(tags) or [""], "since": since, "until": until, "sisters": SISTERS,
        "begins": datetime.combine(since, time.min, UTC), "tests": MOST * max(len(tags), 1), "figures": figures,
        "accepted": f"{ACCEPTED}%",
        "ends": datetime.combine(until + timedelta(days=1), time.min, UTC),
    }  # fmt: skip
    sisters, tests, read = [], [], []
    firsts: dict[int, FirstOhms] = {}
    for what, number, name, day, at, low, high, flag in session.execute(_BESIDE_ROWS, given):
        if what == "k":
            sisters.append(name)
        elif what == "s":
            tests.append(SisterTest(name, day, number, low, high))
        elif what == "f":
            first = first_ohms(json.loads(name)) if name else None
            firsts |= {} if first is None else {number: first}
        else:
            read.append(FigureLine(name, at, number, low, None if flag is None else bool(flag)))
    read.sort(key=lambda line: (line.at, line.id))
    return Beside(sisters, sorted(tests, key=lambda test: (test.tag, test.on)), read, firsts)
