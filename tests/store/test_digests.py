"""A digest of a job and its entries: another as soon as anything of them is."""

import pytest
from sqlalchemy import text

from grimcoil.service.signatures import SIGNED_OF_JOB
from grimcoil.store import digests as digests_
from grimcoil.store.digests import OF_ENTRY, digests
from grimcoil.store.tables import EntryRow, Job
from tests.service.conftest import job, motor, put  # noqa: F401
from tests.support import TO_RESISTANCE

AT = {"at": "'2020-01-01'", "taken_back_at": "'2020-01-01'"}
FIGURES = {"low", "high", "digit", "held_s", "seq"}


@pytest.fixture
def kept(job, put):  # noqa: F811
    for place, words in [("isolate.tag", "BW-1"), *TO_RESISTANCE[1:]]:
        put(place, words)
    return job


def digest(store, number) -> tuple[str, str]:
    with store() as session:
        return digests(session, [number], SIGNED_OF_JOB)[number]


def changed(store, number, statement) -> bool:
    """It differs while the statement holds, and is as before once it is taken back."""
    before = digest(store, number)
    assert len(before[0]) == 128
    with store() as session:
        session.execute(text("SET foreign_key_checks = 0"))
        session.execute(text(statement))
        now = digests(session, [number], SIGNED_OF_JOB).get(number, ("without a motor", ""))
        session.execute(text("SET foreign_key_checks = 1"))
        session.rollback()
    assert digest(store, number) == before
    return now[0] != before[0]


@pytest.mark.parametrize("name", OF_ENTRY)
def test_every_column_of_an_entry_goes_into_it(store, kept, name):
    value = AT.get(name) or ("77" if name in FIGURES else "'x'")
    assert changed(store, kept, f"UPDATE entry SET `{name}` = {value} WHERE seq = 2")


@pytest.mark.parametrize("name", SIGNED_OF_JOB)
def test_every_column_of_a_job_goes_into_it(store, kept, name):
    kind = str(Job.__table__.c[name].type).split("(")[0]
    value = {"DATETIME": "'2020-01-01'", "DATE": "'2020-01-01'", "INTEGER": "77", "DOUBLE": "7.7", "JSON": "'{}'"}
    assert changed(store, kept, f"UPDATE job SET `{name}` = {value.get(kind, chr(39) + 'x' + chr(39))}")


@pytest.mark.parametrize("name", [c.name for c in EntryRow.__table__.columns if c.nullable])
def test_nothing_is_not_an_empty_text_or_nought(store, kept, name):
    with store.begin() as session:
        session.execute(text(f"UPDATE entry SET `{name}` = NULL WHERE seq = 2"))
    value = "'0000-01-01'" if name in AT else "0" if name in FIGURES else "''"
    assert changed(store, kept, f"UPDATE entry SET `{name}` = {value} WHERE seq = 2")


def test_a_figure_goes_in_to_its_last_bit(store, kept):
    with store.begin() as session:
        session.execute(text("UPDATE entry SET low = 0.1 WHERE seq = 2"))
    assert changed(store, kept, "UPDATE entry SET low = 0.10000000000000002 WHERE seq = 2")


def test_one_entry_cannot_pass_for_two(store, kept):
    """Its last text holds what the next one would have said, signs between the columns and rows and all."""
    with store.begin() as session:
        session.execute(text("UPDATE entry SET who = '', taken_back_by = 'x' WHERE seq = 2"))
        session.execute(text("DELETE FROM entry WHERE seq > 3"))
        shown = [f"IFNULL(`{name}`, '')" for name in OF_ENTRY]
        empty = [f"ISNULL(`{c}`)" for c in OF_ENTRY if EntryRow.__table__.c[c].nullable]
        row = f"CONCAT_WS(CHAR(31), CONCAT({', '.join(empty)}), {', '.join(shown)})"
        third = session.scalar(text(f"SELECT {row} FROM entry WHERE seq = 3"))
    assert OF_ENTRY[-1] == "taken_back_by"
    with store() as session:
        before = digests(session, [kept], SIGNED_OF_JOB)
        session.execute(text("DELETE FROM entry WHERE seq = 3"))
        longer = text("UPDATE entry SET taken_back_by = CONCAT('x', CHAR(30), :third) WHERE seq = 2")
        session.execute(longer, {"third": third})
        assert digests(session, [kept], SIGNED_OF_JOB) != before


def test_a_job_of_too_many_entries_has_none(store, kept, monkeypatch):
    monkeypatch.setattr(digests_, "MOST_ENTRIES", 2)
    assert digest(store, kept) == ("", "BW-1")


def test_a_job_without_entries_has_one_of_its_own(store, kept):
    assert changed(store, kept, "DELETE FROM entry")
