"""Tasks on a real database: what opens one, once; what closes it, and who; what is taken back takes it along."""

import json
from datetime import date, timedelta

import pytest
from sqlalchemy import select

from grimcoil.cli.__main__ import main
from grimcoil.core.errors import AlreadyKept, Forbidden, FormRefused, Unknown
from grimcoil.core.people import Role
from grimcoil.exchange.tasks import TaskList, tasks_document
from grimcoil.service import people, rounds, side_sheets, tasks
from grimcoil.service.closing import Cause, decide, sign
from grimcoil.service.job_files import export_job
from grimcoil.service.rounds import RoundKept
from grimcoil.store.people_tables import Trail
from tests.support import NOW, SECRET, WHOLE_JOB, add_person, at_box, walk

DAY = NOW.date()
GIVEN = {"what": "Grease it, then turn again", "by": "2026-12-01", "because": "It squeaked."}


def open_of(store, tag):
    return [one for one in tasks.tasks_of(store, tag) if one.state == "open"]


def test_a_person_opens_one_once(store, motor, electrician):
    assert tasks.add(store, electrician, motor, GIVEN, "task-token-1", NOW)
    assert not tasks.add(store, electrician, motor, GIVEN, "task-token-1", NOW)
    (one,) = open_of(store, motor)
    assert (one.what, one.by_day, one.whom, one.origin) == (GIVEN["what"], date(2026, 12, 1), "", "person")
    with pytest.raises(FormRefused, match="open at BW-1 already"):
        tasks.add(store, electrician, motor, GIVEN | {"what": GIVEN["what"].upper()}, "task-token-2", NOW)


@pytest.mark.parametrize(
    ("field", "text", "says"),
    [
        ("what", "", "needed"),
        ("by", "2026-11-23", "from today"),
        ("by", "soon", "a day"),
        ("by", "2036-01-01", "three years"),
        ("for", "nobody.here", "one of"),
        ("what", "x" * 201, "200"),
    ],
)
def test_what_cannot_be_a_task_says_why(store, motor, electrician, field, text, says):
    with pytest.raises(FormRefused) as refused:
        tasks.add(store, electrician, motor, GIVEN | {field: text}, "task-token-1", NOW)
    assert says in refused.value.fields[field]
    assert open_of(store, motor) == []


def test_whom_it_is_for_closes_it_with_a_word(store, motor, electrician):
    other = add_person(store, Role.ELECTRICIAN, "O. Ther")
    tasks.add(store, electrician, motor, GIVEN | {"for": other.login}, "task-token-1", NOW)
    (one,) = open_of(store, motor)
    with pytest.raises(Forbidden, match="it is for"):
        tasks.close(store, electrician, one.id, "done", "greased it", NOW)
    with pytest.raises(FormRefused, match="what was done"):
        tasks.close(store, other, one.id, "done", " ", NOW)
    with pytest.raises(FormRefused, match="done or dropped"):
        tasks.close(store, other, one.id, "finished", "greased it", NOW)
    later = NOW + timedelta(hours=1)
    assert tasks.close(store, other, one.id, "done", "greased it", later) == motor
    assert tasks.close(store, other, one.id, "done", "greased it", later) == motor
    with pytest.raises(AlreadyKept, match="done by O"):
        tasks.close(store, add_person(store, Role.PLANNER, "P. Lan"), one.id, "dropped", "no need", later)
    assert open_of(store, motor) == []
    (shut,) = tasks.tasks(store).closed
    assert (shut.state, shut.word, shut.closed_by, shut.closed_at) == ("done", "greased it", "O. Ther", later)
    with store() as session:
        told = session.scalars(select(Trail.detail).where(Trail.action == "task done")).all()
    assert told == [f"{GIVEN['what']}: greased it"]
    with pytest.raises(Unknown):
        tasks.close(store, other, 99999, "done", "greased it", NOW)
    assert tasks.add(store, electrician, motor, GIVEN, "task-token-3", NOW)  # closed, it may come again


def test_what_is_seen_on_a_round_opens_one_and_taken_back_drops_it(store, motor, electrician):
    rounds.put_on(store, electrician, motor, NOW)
    rounds.keep(
        store, electrician, motor, RoundKept("vents and fan", "observed", words="blocked vents"), "r-1-token", NOW
    )
    rounds.keep(
        store, electrician, motor, RoundKept("vents and fan", "observed", words="blocked vents"), "r-2-token", NOW
    )
    (one,) = open_of(store, motor)
    assert (one.what, one.origin, one.by_day) == (
        "Clean the vents, then take the frame's temperature",
        "round",
        DAY + timedelta(days=7),
    )
    assert [line.what for line in rounds.stop(store, motor, DAY).todo] == [one.what]
    first = min(said.line.id for said in rounds.stop(store, motor, DAY).said)
    rounds.take_back(store, electrician, motor, first, NOW)
    assert open_of(store, motor) == []
    assert "was undone" in tasks.tasks(store).closed[0].word


def test_a_figure_far_from_its_usual_asks_why(store, motor, electrician):
    rounds.put_on(store, electrician, motor, NOW)
    for at, text in enumerate(("60", "61", "60", "74")):
        given = RoundKept("frame temperature", "done", text, loaded=True)
        rounds.keep(store, electrician, motor, given, f"round-token-{at}", NOW + timedelta(days=at))
    (one,) = open_of(store, motor)
    assert one.what == "Find out why the frame is hotter than usual"
    assert "14 K over its usual 60" in one.because


def test_a_side_sheet_opens_one_and_taken_back_drops_it(store, motor, electrician):
    worn = {"new_mm": "32", "holders.1": "14", "holders.2": "29"}
    side_sheets.keep_side(store, electrician, motor, "brushes", worn, (), "side-token-1", NOW)
    (one,) = open_of(store, motor)
    assert (one.what, one.origin) == ("Change the set of brushes", "side sheet")
    (kept,) = side_sheets.side_view(store, motor).kept
    side_sheets.take_back_side(store, electrician, motor, kept.line.id, NOW)
    assert open_of(store, motor) == []


def test_rumbling_asks_for_the_play_to_be_checked(store, motor, electrician):
    heard = {"listening.DE": "rumbling", "listening.NDE": "even"}
    side_sheets.keep_side(store, electrician, motor, "vibration", heard, (), "side-token-1", NOW)
    assert [one.what for one in open_of(store, motor)] == ["Have the play checked at standstill"]


def test_a_signed_job_opens_what_it_found_and_what_is_changed(store, job, put, clock, electrician, motor):
    stiff = [(place, "stiff" if place == "by_hand.shaft" else text, s) for place, text, s in WHOLE_JOB]
    walk(put, clock, stiff)
    assert open_of(store, motor) == []
    decide(
        store, job, "repair-on-site", "the bearing first", electrician, clock(), Cause(("bearing",), "drain  opened")
    )
    assert open_of(store, motor) == []
    sign(store, job, electrician, SECRET, clock())
    sign(store, job, electrician, SECRET, clock())
    by_origin = {one.origin: one for one in open_of(store, motor)}
    assert by_origin["decision"].what == "drain opened"
    assert by_origin["finding"].what == "Uncouple, turn motor and load each by hand; grease, then turn again"
    assert len(by_origin) == len(open_of(store, motor)) == 2


def test_the_format_says_all_of_them(store, motor, electrician):
    tasks.add(store, electrician, motor, GIVEN | {"for": electrician.login}, "task-token-1", NOW)
    (one,) = open_of(store, motor)
    tasks.close(store, electrician, one.id, "dropped", "it was the belt", NOW)
    document = json.loads(json.dumps(tasks_document(tasks.every_task(store))))
    assert document == {
        "format": "grimcoil-tasks/1",
        "tasks": [
            {
                "id": one.id,
                "tag": motor,
                "what": GIVEN["what"],
                "because": "It squeaked.",
                "by": "2026-12-01",
                "for": electrician.login,
                "state": "dropped",
                "word": "it was the belt",
            }
        ],
    }
    assert TaskList.model_validate(document).tasks[0].for_ == electrician.login


def test_what_was_heard_at_a_bearing_is_judged_and_asks_for_its_task(store, motor, electrician):
    rounds.put_on(store, electrician, motor, NOW)
    given = RoundKept("listen", "done", ends={"drive": "rumbling", "other": "even"})
    rounds.keep(store, electrician, motor, given, "round-token-1", NOW)
    (said,) = rounds.stop(store, motor, DAY).said
    assert said.line.words == "drive end rumbling, other end even"
    assert (said.finding.severity, said.finding.text[:19]) == ("watch", "Drive end rumbling:")
    assert [one.what for one in open_of(store, motor)] == ["Have the play checked at standstill"]
    with pytest.raises(FormRefused) as refused:
        rounds.keep(
            store, electrician, motor, RoundKept("listen", "done", ends={"drive": "funny"}), "round-token-2", NOW
        )
    assert "even, rough, rumbling, rubbing" in refused.value.fields["heard"]


def test_grams_and_kind_of_grease_are_kept(store, motor, electrician):
    rounds.put_on(store, electrician, motor, NOW)
    given = RoundKept("grease", "done", ends={"drive": "8,1", "other": ""}, grease="EP2")
    rounds.keep(store, electrician, motor, given, "round-token-1", NOW)
    assert rounds.stop(store, motor, DAY).said[0].line.words == "drive end 8.1 g, of EP2"
    with pytest.raises(FormRefused) as refused:
        rounds.keep(
            store, electrician, motor, RoundKept("grease", "done", ends={"other": "a lot"}), "round-token-2", NOW
        )
    assert "8" in refused.value.fields["grams_other"]


@pytest.mark.at_box
def test_a_joint_that_was_hot_is_kept_with_its_lead_and_asks_to_be_remade(store, job, put, clock, electrician, motor):
    seen = {"as_found.joint": "twist-on", "as_found.state": "was hot"}
    walk(put, clock, [(place, seen.get(place, text), s) for place, text, s in at_box(WHOLE_JOB)])
    decide(store, job, "return", "", electrician, clock())
    sign(store, job, electrician, SECRET, clock())
    (one,) = [one for one in open_of(store, motor) if "joint" in one.what]
    assert (one.what, one.because) == ("Remake the joint in the motor box that was hot", "As found: was hot.")
    found = export_job(store, job, clock())["as_found"]["leads"]["1"]
    assert found == {"terminal": "L1", "joint": "twist", "state": "was hot"}


def test_the_command_prints_all_or_those_of_a_motor_that_are_open(
    store, motor, electrician, database_url, monkeypatch, capsys
):
    monkeypatch.setenv("GRIMCOIL_DATABASE_URL", database_url)
    for number, what in enumerate(("Grease it", "Turn it again")):
        tasks.add(store, electrician, motor, GIVEN | {"what": what}, f"task-token-{number}", NOW)
    tasks.close(store, electrician, open_of(store, motor)[0].id, "done", "greased it", NOW)

    def told(*words):
        assert main(["tasks", *words]) == 0
        return [one["what"] for one in json.loads(capsys.readouterr().out)["tasks"]]

    assert told() == ["Grease it", "Turn it again"]
    assert told("--open") == told("--tag", motor, "--open") == ["Turn it again"]
    assert main(["tasks", "--tag", "NO-9"]) == 2
    assert "NO-9" in capsys.readouterr().err


def test_nobody_who_is_removed_is_asked(store, motor, electrician):
    keeper, gone = add_person(store, Role.ADMINISTRATOR, "K. Eeper"), add_person(store, Role.ELECTRICIAN, "G. One")
    assert gone.login in dict(tasks.may_do(store))
    people.remove_person(store, keeper, gone.login, NOW)
    assert gone.login not in dict(tasks.may_do(store))
    with pytest.raises(FormRefused):
        tasks.add(store, electrician, motor, GIVEN | {"for": gone.login}, "task-token-1", NOW)
