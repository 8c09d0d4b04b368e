"""The works' own criteria: a copy with a limit changed, tried on signed jobs, kept as a version, obeyed then."""

import json

import pytest

from grimcoil.core.criteria import CRITERIA
from grimcoil.core.errors import Forbidden, FormRefused, RecordRefusal, Unknown
from grimcoil.core.people import Role
from grimcoil.service.bench import load
from grimcoil.service.closing import decide, sign
from grimcoil.service.criteria import drafted, keep_criteria, known_criteria, preview
from grimcoil.service.job_files import export_job, import_job
from grimcoil.service.jobs import Start, start_job
from grimcoil.service.motors import motor_view
from grimcoil.service.site import keep_site, site_of
from grimcoil.service.verifying import verify
from tests.support import NOW, SECRET, WHOLE_JOB, add_person, walk

COPY = {
    "before": "field-general", "name": "sugar-works", "title": "Sugar works", "limit": "insulation_random_mohm",
    "value": "2000", "source": "Works engineer, after the flood", "standing": "set by the site", "version": "1",
}  # fmt: skip


@pytest.fixture
def signed(store, job, put, clock, electrician):
    walk(put, clock, WHOLE_JOB)
    decide(store, job, "return", "", electrician, clock())
    sign(store, job, electrician, SECRET, clock())
    return job


@pytest.fixture
def planner(store, electrician):
    return add_person(store, Role.PLANNER, "P. Lanner")


def test_a_copy_names_the_signed_jobs_it_would_judge_otherwise_and_changes_none(store, signed, planner, clock):
    found = preview(store, drafted(store, COPY))
    (one,) = found.otherwise
    assert (found.looked_at, found.most, one.job_id, one.tag) == (1, False, signed, "BW-1")
    assert one.before.startswith("sound")
    assert one.after.startswith("act")
    assert preview(store, drafted(store, COPY | {"value": "6"})).otherwise == ()
    keep_criteria(store, planner, COPY, clock())
    with store() as session:
        bench = load(session, signed, clock())
    assert (bench.criteria.name, bench.told.verdict.value) == ("field-general", "sound")
    assert verify(store).breaks == ()


def test_a_version_is_kept_once_and_the_next_follows_it(store, planner, clock):
    made = [keep_criteria(store, planner, COPY, clock()) for _ in range(2)]
    assert [one.version for one in made] == [1, 1]
    assert made[0].insulation_random_mohm.source == "Works engineer, after the flood"
    following = COPY | {"before": "sugar-works", "name": "", "title": "", "value": "7", "version": "2"}
    assert [keep_criteria(store, planner, following, clock()).version for _ in range(2)] == [2, 2]
    assert known_criteria(store)["sugar-works"].insulation_random_mohm.value == 7
    with pytest.raises(FormRefused, match="Nothing differs"):
        keep_criteria(store, planner, following | {"version": "3"}, clock())
    assert verify(store).breaks == ()


def test_a_job_is_judged_by_the_version_it_was_begun_with(store, planner, electrician, motor, clock):
    keep_criteria(store, planner, COPY, clock())
    keep_site(store, planner, {"works_name": "Fen", "zone": "UTC", "criteria": "sugar-works"}, clock())
    assert site_of(store).criteria == "sugar-works"
    job = start_job(store, electrician, Start(motor, "own-token-1", criteria="sugar-works"), clock())
    following = COPY | {"before": "sugar-works", "value": "7", "version": "2"}
    keep_criteria(store, planner, following, clock())
    with store() as session:
        bench = load(session, job, clock())
    assert (bench.criteria.version, bench.criteria.insulation_random_mohm.value) == (1, 2000)
    with pytest.raises(RecordRefusal, match="one of"):
        start_job(store, electrician, Start(motor, "own-token-2", criteria="gone"), clock())


def test_a_job_by_own_criteria_goes_out_and_comes_in(store, planner, electrician, motor, put, job, clock):
    keep_criteria(store, planner, COPY, clock())
    walk(put, clock, WHOLE_JOB)
    decide(store, job, "return", "", electrician, clock())
    sign(store, job, electrician, SECRET, clock())
    out = export_job(store, job, clock()) | {"criteria": "sugar-works"}
    taken = import_job(store, json.dumps(out), planner, clock())
    with store() as session:
        bench = load(session, taken.job_id, clock())
    assert (bench.criteria.name, bench.criteria.version) == ("sugar-works", 1)
    assert bench.whole.criteria == "sugar-works"
    assert motor_view(store, motor).limits.name in ("sugar-works", "field-general")


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": ""}, "name"), ({"name": "Sugar Works"}, "name"), ({"name": "service-shop"}, "name"),
        ({"title": ""}, "title"), ({"limit": "none"}, "limit"), ({"value": "much"}, "value"),
        ({"value": "0.5"}, "value"),
        ({"value": "nan"}, "value"), ({"value": "-5"}, "value"), ({"source": " "}, "source"),
        ({"standing": "hearsay"}, "standing"), ({"limit": "dead_below_v", "value": "6"}, "value"),
        ({"limit": "live_above_v", "value": "49"}, "value"), ({"limit": "proof_hours", "value": "24"}, "value"),
    ],
)  # fmt: skip
def test_what_cannot_be_used_is_said_at_its_field(store, planner, change, field):
    with pytest.raises(FormRefused) as refused:
        keep_criteria(store, planner, COPY | change, NOW)
    assert set(refused.value.fields) == {field}
    assert known_criteria(store) == CRITERIA


def test_who_may_and_what_there_is(store, electrician, planner):
    reader = add_person(store, Role.READER, "R. Eader", electrician)
    with pytest.raises(Forbidden):
        keep_criteria(store, reader, COPY, NOW)
    with pytest.raises(Unknown):
        drafted(store, COPY | {"before": "gone"})
