"""Signed jobs judged anew: the same rules say the same, whatever decided otherwise is told, nothing is changed."""

from dataclasses import astuple

import pytest

from demo.scenario import seed
from demo.works import MOTORS
from grimcoil.core.errors import RecordRefusal
from grimcoil.service import judging
from grimcoil.service.judging import judged_anew
from grimcoil.store.tables import Job
from tests.support import NOW

TOLD = ("DD-207", "PP-118", "BY-041")


@pytest.fixture
def works(store):
    with store.begin() as session:
        seed(session, NOW, [made for made in MOTORS if made.tag in TOLD])
    return store


def test_the_rules_that_signed_them_say_the_same_again(works, monkeypatch):
    monkeypatch.setattr(judging, "BATCH", 4)
    found = list(judged_anew(works, workers=1))
    with works() as session:
        assert [one.job_id for one in found] == [
            n for (n,) in session.query(Job.id).filter_by(state="signed").order_by(Job.id)
        ]
    assert len(found) > 2 * judging.BATCH
    assert [one for one in found if one.differs] == []


def test_on_two_processors_the_same_in_the_same_order(works, monkeypatch):
    monkeypatch.setattr(judging, "BATCH", 5)
    assert list(map(astuple, judged_anew(works, workers=2))) == list(map(astuple, judged_anew(works, workers=1)))


def test_what_was_signed_otherwise_is_told_and_stays(works):
    with works.begin() as session:
        job = session.query(Job).filter_by(state="signed").order_by(Job.id).first()
        changed = job.assessment | {"decision": job.assessment["decision"] | {"action": "replace"}}
        number, job.assessment = job.id, changed
    (odd,) = [one for one in judged_anew(works, workers=1) if one.differs]
    assert (odd.job_id, odd.action) == (number, "replace")
    with works() as session:
        assert session.get(Job, number).assessment == changed


def test_by_other_criteria(works):
    strict = [one for one in judged_anew(works, "service-shop", 1) if one.differs]
    assert {one.tag for one in strict} == {"BY-041"}
    with pytest.raises(RecordRefusal, match="one of field-general"):
        judged_anew(works, "none")
