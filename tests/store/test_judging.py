"""Signed jobs with their documents: all of them once, and each batch reads no more than itself."""

from contextlib import nullcontext
from itertools import islice

import pytest
from sqlalchemy import text

from demo.big import Size, fill
from grimcoil.store import judging
from grimcoil.store.judging import batches

SIZE = 50


@pytest.fixture
def works(store):
    """2000 signed jobs of four motors, so that joining by motor looks cheap; one has no documents."""
    with store.begin() as session:
        fill(session, Size(4, 500, 0))
        session.execute(text("UPDATE job SET subject = '{}', record = '{}', assessment = '{}'"))
        session.execute(text("UPDATE job SET record = NULL ORDER BY id LIMIT 1"))
    return store


def test_each_stands_in_one_batch_in_the_order_of_its_number(works):
    with works() as session:
        numbers = [n for (n,) in session.execute(text("SELECT id FROM job WHERE record IS NOT NULL ORDER BY id"))]
    assert [row.job_id for batch in batches(works, SIZE) for row in batch] == numbers
    assert len(numbers) == 1999


def test_a_batch_reads_its_own_rows_and_no_others(works):
    with works() as session:
        counted = text("SHOW SESSION STATUS LIKE 'Handler_read%'")
        before = sum(int(n) for _, n in session.execute(counted))
        some = list(islice(batches(lambda: nullcontext(session), SIZE), 4))
        read = sum(int(n) for _, n in session.execute(counted)) - before
    assert [len(batch) for batch in some] == [SIZE] * 4
    assert read < 3 * 4 * SIZE


def test_no_plan_but_by_number_is_open_to_the_server(works):
    """With counts that lag behind it would join by motor, and sort all that is left for each batch."""
    with works() as session:
        asked = judging._BEHIND.params(after=0).limit(SIZE)
        statement = asked.compile(session.get_bind(), compile_kwargs={"literal_binds": True})
        plan = session.execute(text(f"EXPLAIN {statement}")).mappings().all()
    (jobs,) = [row for row in plan if row["table"] == "job"]
    assert (jobs["key"], jobs["possible_keys"]) == ("PRIMARY", "PRIMARY")
    assert not any("filesort" in (row["Extra"] or "") for row in plan)
