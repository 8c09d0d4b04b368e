"""What the server works out of many entries is what the core says of each."""

import math
from itertools import product

from sqlalchemy import text

from demo.big import Size, fill
from grimcoil.core.amount import Amount, Bound
from grimcoil.store.jobs import EntryLine
from grimcoil.store.signatures import entries_told, misbound

ENDS = (0.0, 0.4, 550.0)
SAID = ("NULL", *(f"'{bound}'" for bound in Bound), "'other'")


def test_the_server_tells_a_bound_as_the_core_does(store):
    with store.begin() as session:
        fill(session, Size(3, 40, 4))
        ids = [row[0] for row in session.execute(text("SELECT id FROM entry ORDER BY id"))]
        cases = list(product(ENDS, (*ENDS, None), SAID))
        assert len(ids) >= len(cases)
        session.execute(text("UPDATE entry SET low = NULL"))
        wrong = set()
        for number, (low, high, said) in zip(ids, cases, strict=False):
            shown = "NULL" if high is None else high
            session.execute(text(f"UPDATE entry SET low = {low}, high = {shown}, bound = {said} WHERE id = {number}"))
            ends = low, math.inf if high is None else high
            if ends[0] > ends[1] or f"'{Amount(*ends).bound}'" != said:
                wrong.add(number)
        where = {row[1:]: row[0] for row in session.execute(text("SELECT id, job_id, seq FROM entry"))}
        assert {where[job, seq] for job, seq, _ in misbound(session, {job for job, _ in where})} == wrong
        assert len(wrong) < len(cases)


def test_the_server_writes_an_entry_as_a_link_tells_it(store):
    with store.begin() as session:
        fill(session, Size(2, 3, 4))
        job = session.execute(text("SELECT MIN(job_id) FROM entry")).scalar_one()
        session.execute(
            text("UPDATE entry SET at = '2026-11-24 08:12:00', taken_back_at = '2026-11-24 08:12:00.00025'")
        )
        told = entries_told(session, [job, 0])
    assert told[0] == []
    assert len(told[job]) > 1
    assert [entry["seq"] for entry in told[job]] == sorted(entry["seq"] for entry in told[job])
    assert list(told[job][0]) == list(EntryLine.__slots__)
    assert {entry["at"] for entry in told[job]} == {"2026-11-24T08:12:00+00:00"}
    assert {entry["taken_back_at"] for entry in told[job]} == {"2026-11-24T08:12:00.000250+00:00"}
