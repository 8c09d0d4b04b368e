"""Rounds kept: put on once, done and next in its time, skipped with a reason, seen, taken back, entered afterwards."""

from datetime import date, timedelta

import pytest
from sqlalchemy import select, text

from grimcoil.core.errors import Forbidden, FormRefused, Unknown
from grimcoil.core.people import Role
from grimcoil.service import rounds as verbs
from grimcoil.service.rounds import RoundKept
from grimcoil.store.listing import relist
from grimcoil.store.round_tables import RoundTask
from grimcoil.store.tables import Position, Site
from tests.support import add_person


@pytest.fixture
def on_round(store, electrician, clock, motor):
    verbs.put_on(store, electrician, "BW-1", clock())
    verbs.put_on(store, electrician, "BW-1", clock())


@pytest.fixture
def keep(store, electrician, clock, on_round):
    tokens = iter(range(100))

    def one(task, outcome="done", text="", words="", **more):
        return verbs.keep(
            store,
            electrician,
            "BW-1",
            RoundKept(task, outcome, text, words, **more),
            f"token-{next(tokens):04}",
            clock(),
        )

    return one


def tasks(store, clock):
    return {one.task: one for one in verbs.stop(store, "BW-1", clock().date()).tasks}


def test_what_is_due_is_done_and_comes_again_in_its_time(store, clock, keep):
    today = clock().date()
    (area,) = verbs.rounds(store, today).areas
    assert (area.tasks, area.oldest) == (len(tasks(store, clock)), today)
    assert [one.tag for one in verbs.walk(store, area.area, today)] == ["BW-1"]
    keep("listen")
    assert tasks(store, clock)["listen"].next_on == date(2026, 12, 24)
    assert verbs.rounds(store, today).areas[0].tasks == area.tasks - 1
    assert (date(2026, 12, 24), area.area, 1) in verbs.rounds(store, today).month


def test_a_figure_is_judged_by_the_motors_own_past(store, clock, keep):
    for value in ("46", "47 C", "48", "61"):
        keep("frame temperature", text=value, loaded=True)
        clock.pass_(86400)
    said = verbs.stop(store, "BW-1", clock().date()).said
    assert [one.finding.code for one in said] == ["round-hotter", "round-usual", "round-no-past", "round-no-past"]
    assert [one.line.value for one in said] == [61.0, 48.0, 47.0, 46.0]


def test_taken_back_it_is_due_as_it_was_once(store, electrician, clock, keep):
    before = tasks(store, clock)["frame temperature"].next_on
    keep("frame temperature", text="46", loaded=True)
    (said,) = verbs.stop(store, "BW-1", clock().date()).said
    for _ in range(2):
        verbs.take_back(store, electrician, "BW-1", said.line.id, clock())
    assert tasks(store, clock)["frame temperature"].next_on == before
    assert verbs.stop(store, "BW-1", clock().date()).said[0].finding is None
    with pytest.raises(Unknown):
        verbs.take_back(store, electrician, "BW-1", 9999, clock())


def test_entered_afterwards_it_counts_from_its_own_day(store, clock, keep):
    keep("listen", at=clock() - timedelta(days=10))
    assert tasks(store, clock)["listen"].next_on == date(2026, 12, 14)


def test_paper_entered_late_calls_no_task_back_and_is_judged_by_what_was_before_it(store, clock, keep):
    for value in ("46", "47", "61"):
        keep("frame temperature", text=value, loaded=True)
        clock.pass_(86400)
    due = tasks(store, clock)["frame temperature"].next_on
    keep("frame temperature", text="48", loaded=True, at=clock() - timedelta(days=20))
    assert tasks(store, clock)["frame temperature"].next_on == due
    said = {one.line.value: one.finding.code for one in verbs.stop(store, "BW-1", clock().date()).said}
    assert said == {61.0: "round-hotter", 47.0: "round-usual", 46.0: "round-no-past", 48.0: "round-no-past"}


@pytest.mark.parametrize(
    ("given", "field"),
    [
        (RoundKept("frame temperature", "done", "hot"), "text"),
        (RoundKept("frame temperature", "done", ""), "text"),
        (RoundKept("frame temperature", "done", ">60"), "text"),
        (RoundKept("listen", "skipped", words=" "), "words"),
        (RoundKept("", "observed", words="a ghost"), "words"),
        (RoundKept("dance", "done"), "task"),
        (RoundKept("listen", "forgotten"), "outcome"),
        (RoundKept("listen", "done", words="x" * 201), "words"),
    ],
)
def test_what_can_not_be_kept_is_said_at_its_field(store, electrician, clock, on_round, given, field):
    with pytest.raises(FormRefused) as refused:
        verbs.keep(store, electrician, "BW-1", given, "token-9999", clock())
    assert list(refused.value.fields) == [field]
    ahead = RoundKept("listen", "done", at=clock() + timedelta(hours=1))
    with pytest.raises(FormRefused, match="up to now"):
        verbs.keep(store, electrician, "BW-1", ahead, "token-9998", clock())
    assert verbs.stop(store, "BW-1", clock().date()).said == []


def test_a_token_twice_is_once_and_what_was_seen_moves_no_day(store, electrician, clock, on_round):
    before = tasks(store, clock)
    given = RoundKept("", "observed", words="local burn")
    assert verbs.keep(store, electrician, "BW-1", given, "token-0001", clock())
    assert not verbs.keep(store, electrician, "BW-1", given, "token-0001", clock())
    assert tasks(store, clock) == before


def test_how_often_and_of_what_size(store, electrician, clock, on_round):
    def set_task(**texts):
        verbs.set_task(store, electrician, "BW-1", texts, clock())

    set_task(task="grease", months="4", bearing_drive="85 x 19 x 45")
    grease = tasks(store, clock)["grease"]
    assert (grease.months, grease.bearings["drive"]["bore_mm"]) == (4, 45.0)
    set_task(task="brushes", months="2")
    assert tasks(store, clock)["brushes"].next_on == clock().date()
    set_task(task="listen", off="yes")
    assert "listen" not in tasks(store, clock)
    for texts, field in (
        ({"task": "grease", "months": "0"}, "months"),
        ({"task": "grease", "months": "often"}, "months"),
        ({"task": "grease", "bearing_drive": "85 x 19"}, "bearing_drive"),
        ({"task": "grease", "bearing_other": "19 x 85 x 45"}, "bearing_other"),
        ({"task": "dance"}, "task"),
    ):
        with pytest.raises(FormRefused) as refused:
            set_task(**texts)
        assert list(refused.value.fields) == [field]


def test_by_running_hours_and_before_a_season(store, electrician, clock, on_round):
    def set_task(**texts):
        verbs.set_task(store, electrician, "BW-1", {"task": "grease"} | texts, clock())
        return tasks(store, clock)["grease"]

    by_hours = set_task(months="6", every_h="2000", hours_a_month="500")
    assert (by_hours.months, by_hours.every_h, by_hours.season) == (4, 2000, None)
    seasonal = set_task(season="15 Aug")
    assert (seasonal.season, seasonal.every_h, seasonal.next_on.month, seasonal.next_on.day) == ("08-15", None, 8, 15)
    verbs.keep(store, electrician, "BW-1", RoundKept("grease", "done"), "token-0001", clock())
    with store() as session:
        kept = session.scalar(select(RoundTask).where(RoundTask.task == "grease"))
        assert (kept.next_on.month, kept.next_on.day) == (8, 15)
        assert (kept.next_on - clock().date()).days > 120
    plain = set_task(months="3")
    assert (plain.months, plain.season, plain.every_h) == (3, None, None)
    for texts, field in (
        ({"every_h": "2000"}, "hours_a_month"), ({"every_h": "0", "hours_a_month": "5"}, "every_h"),
        ({"season": "31 Apr"}, "season"), ({"every_h": "9", "hours_a_month": "9", "season": "1 May"}, "season"),
        ({"every_h": "2000", "hours_a_month": "800"}, "hours_a_month"),
    ):  # fmt: skip
        with pytest.raises(FormRefused) as refused:
            set_task(**texts)
        assert list(refused.value.fields) == [field]


def test_a_season_that_is_set_comes_next_and_one_that_is_overdue_stays_so(store, electrician, clock, on_round):
    def set_task(**texts):
        verbs.set_task(store, electrician, "BW-1", {"task": "grease"} | texts, clock())
        return tasks(store, clock)["grease"].next_on

    soon = clock().date() + timedelta(days=20)
    assert set_task(season=f"{soon.month:02}-{soon.day:02}") == soon
    clock.pass_(40 * 86400)
    assert set_task(bearing_drive="85 x 19 x 45") == soon


def test_who_may(store, clock, motor):
    reader = add_person(store, Role.READER, "schwaden")
    for verb in (
        lambda: verbs.put_on(store, reader, "BW-1", clock()),
        lambda: verbs.keep(store, reader, "BW-1", RoundKept("listen", "done"), "token-0001", clock()),
        lambda: verbs.set_task(store, reader, "BW-1", {"task": "listen"}, clock()),
    ):
        with pytest.raises(Forbidden):
            verb()
    assert verbs.due_days(store, reader, clock().date(), clock().date()) == []


def tallied(store):
    with store() as session:
        kept = session.execute(text("SELECT area, next_on, n FROM round_tally WHERE n <> 0 ORDER BY 1, 2")).all()
        true = session.execute(
            text(
                "SELECT l.area, t.next_on, COUNT(*) FROM round_task t JOIN listing l ON l.motor_id = t.motor_id"
                " WHERE t.next_on IS NOT NULL GROUP BY 1, 2 ORDER BY 1, 2"
            )
        ).all()
    return [tuple(row) for row in kept], [tuple(row) for row in true]


def test_what_falls_due_is_counted_with_every_change(store, electrician, clock, on_round, keep):
    def same():
        kept, true = tallied(store)
        assert kept == true
        return true

    begun = same()
    assert sum(n for *_, n in begun) > 3
    keep("listen")
    done = same()
    assert done != begun
    with store() as session:
        number = session.execute(text("SELECT id FROM round_entry ORDER BY id DESC LIMIT 1")).scalar()
    verbs.take_back(store, electrician, "BW-1", number, clock())
    assert same() == begun
    verbs.set_task(store, electrician, "BW-1", {"task": "vents and fan", "months": "5"}, clock())
    same()
    with store.begin() as session:
        session.query(Position).first().area = "Lime kiln"
    assert {area for area, *_ in same()} == {"Lime kiln"}
    with store.begin() as session:
        session.execute(text("DELETE FROM round_tally"))
        session.execute(text("UPDATE round_task SET counted_on = NULL"))
        relist(session)
    same()


def test_areas_come_in_the_order_they_are_walked(store, electrician, clock, on_round):
    with store.begin() as session:
        session.query(Site).one().areas = ["Nowhere", "Yard"]
    assert [one.area for one in verbs.rounds(store, clock().date() + timedelta(days=400)).areas] == ["Yard"]


def test_someone_elses_entry_goes_by_an_electrician_with_a_reason_alone(store, electrician, clock, keep):
    keep("frame temperature", text="46", loaded=True)
    (said,) = verbs.stop(store, "BW-1", clock().date()).said
    clock.pass_(28 * 86400)
    apprentice = add_person(store, Role.APPRENTICE, "A. Prentice", electrician)
    with pytest.raises(Forbidden):
        verbs.take_back(store, apprentice, "BW-1", said.line.id, clock(), "it looks wrong")
    other = add_person(store, Role.ELECTRICIAN, "O. Ther")
    with pytest.raises(FormRefused, match=r"A\. Tester kept it"):
        verbs.take_back(store, other, "BW-1", said.line.id, clock(), "  ")
    assert verbs.stop(store, "BW-1", clock().date()).said[0].line.taken_back_at is None
    verbs.take_back(store, other, "BW-1", said.line.id, clock(), "read on BW-2")
    line = verbs.stop(store, "BW-1", clock().date()).said[0].line
    assert (line.taken_back_by, line.taken_back_why) == ("O. Ther", "read on BW-2")


@pytest.mark.parametrize(("after_s", "may"), [(86400, True), (86401, False)])
def test_an_apprentice_takes_back_what_is_his_own_within_a_day(store, electrician, clock, on_round, after_s, may):
    apprentice = add_person(store, Role.APPRENTICE, "A. Prentice", electrician)
    verbs.keep(store, apprentice, "BW-1", RoundKept("listen", "done", "", ""), "token-own-1", clock())
    (said,) = verbs.stop(store, "BW-1", clock().date()).said
    clock.pass_(after_s)
    if may:
        verbs.take_back(store, apprentice, "BW-1", said.line.id, clock())
    else:
        with pytest.raises(Forbidden):
            verbs.take_back(store, apprentice, "BW-1", said.line.id, clock())
    gone = verbs.stop(store, "BW-1", clock().date()).said[0].line.taken_back_at is not None
    assert gone == may
