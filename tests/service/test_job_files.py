"""Jobs out and in: an exported job is judged the same, an imported one is filed and never signed."""

import json
from datetime import date

import pytest

from grimcoil.cli.__main__ import main
from grimcoil.core.assessment import assess
from grimcoil.core.errors import GateClosed, Refusal
from grimcoil.core.people import Actor, Role
from grimcoil.exchange.jobs import read_job
from grimcoil.service.amendments import Amendment, amend
from grimcoil.service.closing import decide, sign
from grimcoil.service.job_files import export_job, import_job
from grimcoil.service.jobs import open_bench
from grimcoil.service.motors import motor_view
from grimcoil.service.verifying import verify
from tests.support import SECRET, WHOLE_JOB, walk

CLERK = Actor(None, "command line", Role.PLANNER, origin="command line")


@pytest.fixture
def signed(store, job, put, clock, electrician):
    walk(put, clock, WHOLE_JOB)
    decide(store, job, "return", "", electrician, clock())
    sign(store, job, electrician, SECRET, clock())
    return job


def document(**changed):
    made = {
        "format": "grimcoil-job/1",
        "motor": {"tag": "BW-1", "rated_voltage_v": 460, "lead_scheme": "three-lead-wye", "power": "15 hp"},
        "conditions": {"winding_temperature_c": 40, "ambient_temperature_c": 40, "date": "2026-09-01"},
        "occasion": "dead-only",
        "tests": [
            {"kind": "winding_resistance", "readings": {"1-2": "0.5344", "2-3": "0.5350", "3-1": "0.5347"}},
            {"kind": "insulation", "from": ["1", "2", "3"], "to": ["frame"], "test_voltage_v": 500,
             "series": [{"t_s": 60, "reading": "52M"}]},
        ],
    }  # fmt: skip
    return json.dumps(made | changed)


def test_a_signed_job_goes_out_as_kept_and_is_judged_the_same(store, signed, clock):
    out = export_job(store, signed, clock())
    told = out["decided"]
    assert (told["action"], told["by"]) == ("return", "A. Tester")
    kept = open_bench(store, signed, clock()).told
    again = assess(read_job(json.dumps(out)))
    assert (again.decision.action, again.decision.verdict) == (kept.action, kept.verdict)
    assert again.insulation[0].r_1min_40c_mohm == open_bench(store, signed, clock()).whole.insulation[0].r_1min_40c_mohm
    assert import_job(store, json.dumps(out), CLERK, clock()).job_id == signed


def test_an_open_job_goes_out_as_far_as_it_is(store, job, put, clock):
    walk(put, clock, WHOLE_JOB[:25])
    out = export_job(store, job, clock())
    assert "decided" not in out
    assert [test["kind"] for test in out["tests"]][-1] == "winding_resistance"


def test_a_file_stands_as_filed_with_the_same_assessment(store, motor, clock):
    done = import_job(store, document(), CLERK, clock())
    bench = open_bench(store, done.job_id, clock())
    same = assess(read_job(document()))
    assert not done.known
    assert bench.filed
    assert bench.told.action == same.decision.action
    assert bench.whole.decision == same.decision
    assert bench.job.r40_low_mohm == pytest.approx(52)
    assert motor_view(store, motor).state.last_on == date(2026, 9, 1)
    assert verify(store).breaks == ()


def test_the_same_content_again_changes_nothing(store, motor, clock):
    first = import_job(store, document(), CLERK, clock())
    links = verify(store).links
    spaced = json.dumps(json.loads(document(decided={"action": "return"})), indent=3)
    again = import_job(store, spaced, CLERK, clock())
    assert (again.job_id, again.known, verify(store).links) == (first.job_id, True, links)
    out = export_job(store, first.job_id, clock())
    assert import_job(store, json.dumps(out), CLERK, clock()).known


def test_an_older_file_moves_the_trend_and_not_the_last_reading(store, signed, motor, clock):
    before = motor_view(store, motor).state
    old = document(conditions={"winding_temperature_c": 40, "ambient_temperature_c": 40, "date": "2020-01-01"})
    import_job(store, old, CLERK, clock())
    after = motor_view(store, motor).state
    assert (after.last_job_id, after.r40_low_mohm) == (before.last_job_id, before.r40_low_mohm)
    assert after.trend["n"] == before.trend["n"] + 1


def test_a_filed_job_is_not_amended_as_if_it_were_signed(store, motor, clock, electrician):
    done = import_job(store, document(), CLERK, clock())
    with pytest.raises(GateClosed, match="filed from a document"):
        amend(store, done.job_id, electrician, Amendment("because so", token="t-00001"), SECRET, clock())


def test_what_a_job_carries_beside_its_tests_comes_out_again(store, motor, clock):
    beside = {
        "as_found": {"leads": {"1": "L1"}, "links": [["4", "5", "6"]], "rotation": "right", "note": "as on the plate"},
        "leads_readings": {
            "format": "grimcoil-leads/1",
            "leads": ["A", "B"],
            "ohms": [{"between": ["A", "B"], "reading": "0.5"}],
        },
        "decided": {"action": "return", "by": "A. Tester"},
        "root_causes": ["bearing"],
        "overruled": [{"place": "photo", "reason": "too dark", "by": "A. Tester"}],
        "photos": ["0" * 64],
    }
    try:
        done = import_job(store, document(**beside), CLERK, clock())
    except Refusal as refusal:
        pytest.fail(refusal.sentence())
    out = export_job(store, done.job_id, clock())
    assert {key: out[key] for key in beside} == beside


@pytest.mark.parametrize(
    ("changed", "where"),
    [
        ({"motor": {"rated_voltage_v": 460}}, "motor.tag"),
        ({"motor": {"tag": "NO-9", "rated_voltage_v": 460}}, "motor.tag"),
        ({"photos": ["short"]}, "photos"),
        ({"decided": {"reason": "x"}}, "decided.action"),
        ({"decided": {"action": "x" * 31}}, "decided.action"),
        ({"leads_readings": {"format": "grimcoil-leads/1", "leads": ["A"]}}, "leads_readings.leads"),
        ({"nonsense": 1}, "nonsense"),
    ],
)
def test_what_cannot_be_filed_is_refused_by_its_path_and_leaves_nothing(store, motor, clock, changed, where):
    links = verify(store).links
    with pytest.raises(Refusal) as refused:
        import_job(store, document(**changed), CLERK, clock())
    assert where in refused.value.where
    assert verify(store).links == links


@pytest.mark.parametrize(
    "scheme", ["six-lead", "nine-lead-wye", "twelve-lead", "part-winding", "two-speed-two-winding"]
)
def test_an_unknown_tag_makes_the_motor_only_where_told_to(store, clock, scheme):
    plate = {"tag": "NEW-7", "rated_voltage_v": [230, 460], "lead_scheme": scheme}
    done = import_job(store, document(motor=plate), CLERK, clock(), new=True)
    view = motor_view(store, "NEW-7")
    assert (view.winding.lead_scheme, view.motor.rated_voltage_2_v) == (scheme, 460)
    assert open_bench(store, done.job_id, clock()).filed
    assert verify(store).breaks == ()


def test_the_command_line(store, database_url, motor, monkeypatch, tmp_path, capsys):
    monkeypatch.setenv("GRIMCOIL_DATABASE_URL", database_url)
    path = tmp_path / "job.json"
    path.write_text(document())
    assert main(["job", "import", str(path)]) == 0
    number = capsys.readouterr().out.split()[-1]
    assert main(["job", "import", str(path)]) == 0
    assert "nothing changed" in capsys.readouterr().out
    assert main(["job", "export", number]) == 0
    assert json.loads(capsys.readouterr().out)["format"] == "grimcoil-job/1"
    path.write_text(document(motor={"tag": "NO-9", "rated_voltage_v": 460}))
    assert main(["job", "import", str(path)]) == 2
    told = capsys.readouterr().err
    assert "job.json: motor.tag" in told
    assert "--new" in told
    assert main(["job", "import", str(path), "--new"]) == 0
    assert main(["job", "import", str(tmp_path / "none.json")]) == 2
    assert main(["job", "export", "999999"]) == 2
