"""The isolation card: kept with what it was, and what was found live adds itself."""

import pytest
from sqlalchemy import select

from grimcoil.core.errors import FormRefused
from grimcoil.core.plan.entries import BEGIN_AGAIN
from grimcoil.service.details import keep_details
from grimcoil.service.isolation import Row, card, keep_card
from grimcoil.service.jobs import Start, keep, start_job, take_back
from grimcoil.service.starting import coming
from grimcoil.service.verifying import verify
from grimcoil.store.jobs import discharging
from grimcoil.store.people_tables import Signature
from grimcoil.store.tables import Position
from tests.support import MADE_SAFE, PROVED_DEAD, TO_HOLD


@pytest.fixture
def place(store, job):
    with store() as session:
        return session.scalar(select(Position.id))


def links(store):
    with store() as session:
        return len(list(session.scalars(select(Signature.seq))))


def test_a_card_is_kept_once_and_in_the_chain(store, place, electrician, clock):
    rows = [Row("main", "", "MCC 4", "Q4"), Row("control", "Lighting", "LP 2", "F7"), Row()]
    before = links(store)
    assert keep_card(store, electrician, place, rows, clock())
    assert not keep_card(store, electrician, place, rows, clock())
    assert links(store) == before + 1
    assert [(one.kind, one.lock_at) for one in card(store, place).sources] == [("main", "Q4"), ("control", "F7")]
    with pytest.raises(FormRefused) as refused:
        keep_card(store, electrician, place, [Row("steam")], clock())
    assert "main" in refused.value.fields["0"]
    assert verify(store).breaks == ()


def test_a_live_surprise_adds_itself_and_stays(store, place, put, clock, electrician):
    for at, text in (*MADE_SAFE, *PROVED_DEAD[:2]):
        put(at, text)
    put("prove_dead.L2-L3", "230")
    (main,) = card(store, place).sources
    assert (main.found_v, main.found_at, main.found_by) == (230, f"{clock().date()}", electrician.who)
    assert verify(store).breaks == ()
    keep_card(store, electrician, place, [Row("main", "", "", "Q9"), Row("control")], clock())
    assert [one.found_v for one in card(store, place).sources] == [230, None]
    with pytest.raises(FormRefused) as refused:
        keep_card(store, electrician, place, [Row("control")], clock())
    assert "230 V was found live on it" in refused.value.fields["0"]
    hazards = coming(store, "BW-1", "routine", "", "field-general", clock().date()).hazards
    assert any("Found live here" in words and "230 V" in words for words in hazards)


def test_the_record_page_leaves_the_card_alone(store, place, electrician, clock):
    keep_card(store, electrician, place, [Row("main", "", "MCC 4", "Q4")], clock())
    keep_details(store, electrician, "BW-1", {"position.starter": "direct"}, clock())
    assert card(store, place).sources[0].lock_at == "Q4"


def told(store):
    with store() as session:
        return [(one.danger, one.words) for one in discharging(session)]


def test_what_can_hurt_is_told_from_the_first_lock_to_the_last_volt(store, put, clock, electrician, job):
    assert told(store) == []
    put(*MADE_SAFE[0])
    put(*MADE_SAFE[1])
    assert told(store) == [("locked", f"locked by {electrician.who}")]
    for at, text in (*MADE_SAFE[2:], *PROVED_DEAD[:2]):
        put(at, text)
    put("prove_dead.L2-L3", "277")
    assert told(store) == [("live-found", "277 V found: not dead")]
    take_back(store, job, len(MADE_SAFE) + 3, electrician, clock())
    assert told(store)[0][0] == "live-found"  # the circuit doesn't know
    put(BEGIN_AGAIN, "")
    for at, text in (*MADE_SAFE[1:3], *TO_HOLD[len(MADE_SAFE) :]):
        put(at, text)
    assert told(store) == [("on-test", "500 V on the winding")]
    clock.pass_(60)
    put("insulation.1-2-3.60", "520M")
    put("discharge.1-2-3.off", "confirmed")
    assert told(store) == [("charged", "charged, no strap yet")]
    put("discharge.1-2-3.short", "confirmed")
    assert told(store) == [("shorted", "shorted to frame")]
    clock.pass_(300)
    put("discharge.1-2-3.volts", "0")
    assert told(store) == [("locked", f"locked by {electrician.who}")]


@pytest.mark.usefixtures("motor")
def test_of_several_of_a_kind_the_one_that_was_live_is_marked(store, electrician, clock):
    with store() as session:
        place = session.scalar(select(Position.id))
    keep_card(store, electrician, place, [Row("main"), Row("other", "UPS"), Row("other", "Lighting")], clock())
    number = start_job(store, electrician, Start("BW-1", "start-again-1"), clock())
    walked = (*MADE_SAFE[:2], ("isolate.lock-other-2", "confirmed"), ("isolate.lock-other-3", "confirmed"))
    points = (*walked, *MADE_SAFE[2:], *PROVED_DEAD[:-1], ("prove_dead.other-1", "0.1"), ("prove_dead.other-2", "48"))
    for count, (at, text) in enumerate(points):
        keep(store, number, at, text, electrician, f"find-token-{count}", clock())
    assert [(one.name, one.found_v) for one in card(store, place).sources] == [
        ("", None), ("UPS", None), ("Lighting", 48)
    ]  # fmt: skip
