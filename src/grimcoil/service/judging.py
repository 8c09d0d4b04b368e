"""Signed jobs judged anew by today's rules, or by other criteria: what would be decided otherwise. Nothing is changed;
a signed job stays as it was judged.
"""

from __future__ import annotations

import os
from collections import deque
from collections.abc import Iterator, Mapping, Sequence
from concurrent.futures import Future, ProcessPoolExecutor
from dataclasses import dataclass, replace
from datetime import date
from multiprocessing import get_context
from typing import Any

from grimcoil.core.assessment import assess
from grimcoil.core.catalogue import CATALOGUE
from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Verdict
from grimcoil.exchange.jobs import read_job
from grimcoil.exchange.subjects import read_subject
from grimcoil.service.criteria import criteria_named, own_of
from grimcoil.store import judging as rows
from grimcoil.store.engine import Store
from grimcoil.store.judging import SignedRecord

BATCH = 200
AHEAD = 3  # batches a worker, read and not yet judged: what is held in memory, whatever the number of jobs


@dataclass(frozen=True, slots=True)
class Anew:
    """A signed job with the verdict and the action it was signed with, and those it would have now."""

    job_id: int
    tag: str
    tested_on: date | None
    verdict: str
    action: str
    verdict_now: str
    action_now: str

    @property
    def differs(self) -> bool:
        """Whether it would be decided otherwise."""
        return (self.verdict, self.action) != (self.verdict_now, self.action_now)


def judged_anew(store: Store, criteria: str = "", workers: int | None = None) -> Iterator[Anew]:
    """Every signed job that keeps its own documents, in order of its number, judged on so many processors.

    criteria: the name of those to judge by; each job's own where it is empty. Raises RecordRefusal for a name that
    isn't known.
    """
    limits = None
    if criteria:
        with store() as session:
            limits = criteria_named(session, criteria)
    return _all(store, limits, workers or os.cpu_count() or 1)


def _all(store: Store, limits: Criteria | None, count: int) -> Iterator[Anew]:
    if count == 1:
        for batch in rows.batches(store, BATCH):
            yield from judge(batch, limits)
        return
    with ProcessPoolExecutor(count, get_context("spawn")) as pool:
        coming: deque[Future[list[Anew]]] = deque()
        for batch in rows.batches(store, BATCH):
            coming.append(pool.submit(judge, batch, limits))
            if len(coming) > count * AHEAD:
                yield from coming.popleft().result()
        for one in coming:
            yield from one.result()


def judge(batch: Sequence[SignedRecord], limits: Criteria | None) -> list[Anew]:
    """Some of them."""
    return [_anew(row, limits) for row in batch]


def _anew(row: SignedRecord, limits: Criteria | None) -> Anew:
    subject = read_subject(row.subject).subject
    record = read_job(row.record, own_of(subject.criteria))
    used = replace(subject, criteria=limits or subject.criteria)
    now = assess(replace(record, subject=used), _beside(row.assessment)).decision
    before = row.assessment.get("decision", {})
    return Anew(
        row.job_id, row.tag, row.tested_on, before.get("verdict", row.verdict or ""), before.get("action", ""),
        now.verdict.value, now.action,
    )  # fmt: skip


def _beside(document: Mapping[str, Any]) -> list[Finding]:
    """What the trend said when it was signed, of no test of its own: evidence that stands at no result."""
    decision = document.get("decision", {})
    of_tests = {
        found["code"]
        for results in document.values()
        if isinstance(results, list)
        for one in results
        if isinstance(one, dict)
        for found in (one, *one.get("findings", ()))
        if "code" in found
    }
    lines = [*decision.get("evidence_for", ()), *decision.get("evidence_against", ())]
    return [
        Finding(one["code"], Verdict(one["severity"]), one["text"])
        for one in lines
        if one["code"] not in of_tests and one["code"] in CATALOGUE
    ]
