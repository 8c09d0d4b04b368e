"""A repair carried through: each stage in its order, undone by its life, the promise held against the acceptance."""

import pytest

from grimcoil.core.errors import AlreadyKept, Forbidden, FormRefused
from grimcoil.core.people import Role
from grimcoil.service.bench import load
from grimcoil.service.closing import decide, sign
from grimcoil.service.jobs import Start, start_job
from grimcoil.service.lives import life, take_back
from grimcoil.service.repairs import go_on, promises_of, repair, under_way
from grimcoil.service.verifying import verify
from tests.support import NOW, SECRET, add_person
from tests.walker import Walker

ORDER = {
    "stage": "ordered", "on": "2026-11-02", "what": "rewind", "whom": "Winder at the lock", "back": "2026-11-20",
    "ohm": "0.5", "mohm": "100", "note": "",
}  # fmt: skip


def stage(name, on, **more):
    return {"stage": name, "on": on} | more


@pytest.fixture
def ordered(store, electrician, motor, clock):
    assert go_on(store, electrician, motor, ORDER, "order-token-1", clock())
    return motor


def test_ordered_away_and_back_each_once_and_listed_until_it_is_back(store, electrician, ordered, clock):
    assert not go_on(store, electrician, ordered, ORDER, "order-token-1", clock())
    (line,) = under_way(store)
    assert (line.tag, line.state, line.due.isoformat()) == ("BW-1", "ordered", "2026-11-20")
    go_on(store, electrician, ordered, stage("away", "2026-11-03"), "away-token-1", clock())
    assert (under_way(store)[0].state, life(store, ordered).place) == ("away", "the store")
    go_on(store, electrician, ordered, stage("back", "2026-11-21"), "back-token-1", clock())
    assert under_way(store) == []
    view = repair(store, ordered)
    assert (view.state, view.promise.ohm, view.promise.mohm) == ("back", 0.5, 100)
    assert [event.kind for event in life(store, ordered).events][:3] == ["back", "away", "ordered"]
    assert verify(store).breaks == ()


def test_a_stage_taken_back_is_not_and_it_stands_at_its_position_again(store, electrician, ordered, clock):
    go_on(store, electrician, ordered, stage("away", "2026-11-03"), "away-token-1", clock())
    event = life(store, ordered).events[0]
    assert event.can_go
    with pytest.raises(AlreadyKept, match="away was saved since"):
        take_back(store, electrician, ordered, life(store, ordered).events[1].id, clock())
    take_back(store, electrician, ordered, event.id, clock())
    assert (repair(store, ordered).state, life(store, ordered).place) == ("ordered", "Beet wash")
    assert under_way(store)[0].state == "ordered"
    take_back(store, electrician, ordered, life(store, ordered).events[1].id, clock())
    assert (repair(store, ordered).state, under_way(store)) == ("", [])


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"stage": "away"}, "stage"), ({"stage": "gone"}, "stage"), ({"on": "2027-01-01"}, "on"), ({"on": ""}, "on"),
        ({"whom": ""}, "whom"), ({"ohm": "-1"}, "ohm"), ({"mohm": "much"}, "mohm"), ({"back": "soon"}, "back"),
        ({"note": "x" * 190}, "note"), ({"what": "magic"}, "what"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_said_at_its_field(store, electrician, motor, change, field):
    with pytest.raises(FormRefused) as refused:
        go_on(store, electrician, motor, ORDER | change, "order-token-1", NOW)
    assert set(refused.value.fields) == {field}
    assert under_way(store) == []


def test_stages_come_in_their_order_and_by_those_who_may(store, electrician, ordered, clock):
    for wrong in (ORDER, stage("back", "2026-11-05"), stage("away", "2026-11-01")):
        with pytest.raises(FormRefused):
            go_on(store, electrician, ordered, wrong, "wrong-token-1", clock())
    reader = add_person(store, Role.READER, "R. Eader", electrician)
    with pytest.raises(Forbidden):
        go_on(store, reader, ordered, stage("away", "2026-11-03"), "away-token-1", clock())


def test_the_acceptance_holds_the_promise_against_what_is_measured(store, electrician, clock):
    walker = Walker(store, electrician, clock, "PR-1", "three-lead-wye")
    promised = ORDER | {"ohm": "0.2611", "mohm": "5000"}
    for text in (promised, stage("away", "2026-11-03"), stage("back", "2026-11-04")):
        go_on(store, electrician, "PR-1", text, f"token-{text['stage']}", clock())
    assert promises_of(store, walker.start("acceptance").bench)[0].verdict.value == "unproven"
    kept, broken = promises_of(store, walker.to())
    assert (kept.verdict.value, broken.verdict.value) == ("sound", "act")
    assert "promised 0.2611 Ω, measured 0.26" in kept.text
    assert "promised 5000 MΩ, measured" in broken.text
    decide(store, walker.job, "return", "as agreed", electrician, clock())
    sign(store, walker.job, electrician, SECRET, clock())
    clock.pass_(2 * 86400)
    again = stage("ordered", clock().date().isoformat(), what="repair", whom="Another")
    go_on(store, electrician, "PR-1", again, "token-again", clock())
    assert [held.text for held in promises_of(store, walker.bench)] == [kept.text, broken.text]
    routine = start_job(store, electrician, Start("PR-1", "routine-token-1"), clock())
    with store() as session:  # a routine job asks nothing of it
        assert promises_of(store, load(session, routine, clock())) == []
