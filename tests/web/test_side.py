"""Other tests on pages: judged as typed, kept with the motor, taken back; every kind, and what can't be."""

import re

import pytest

from grimcoil.core.people import Role
from grimcoil.core.side.kinds import SIDE_KINDS
from grimcoil.core.side.notes import NOTES, Machine
from grimcoil.web.views.side import SHEETS, WORDS
from tests.service.conftest import PLATE
from tests.support import add_person

TYPED = {
    "single_phase": ({"readings.A-B": "2.1", "readings.B-C": "5.0", "readings.C-A": "7.1"}, "start"),
    "capacitor_ohms": ({"start": "0.4k", "end": "OL"}, "alive"),
    "centrifugal_switch": ({"reading": "0.1", "opens": "yes"}, "open"),
    "rotation": ({"wanted": "clockwise", "seen": "anticlockwise", "coupled": "no"}, "turns"),
    "brushes": ({"new_mm": "32", "holders.1": "15.5", "holders.2": "22", "state.2": "ok"}, "Brush 1 is at half"),
    "grease": ({"outside_mm": "85", "width_mm": "19"}, "8.07 g"),
    "brake_disc": ({"thickness_mm": "4", "least_mm": "4.5"}, "4.5"),
    "brake_gap": ({"gap_mm": "1,2", "most_mm": "1", "lift_v": "150", "coil_v": "205"}, "73 % of its coil"),
    "capacitor_replaced": ({"old_uf": "35", "new_uf": "30", "old_v": "370", "new_v": "370"}, "30 µF for 35 µF"),
    "overhaul": ({"parts.fan": "cleaned", "cleaned_with": "solvent"}, "softens the varnish"),
    "brush_holders": ({"square": "yes", "free": "no", "distance_mm": "4"}, "1.5 to 3 mm"),
    "star_delta": ({"timer_s": "4", "run_up_s": "9"}, "too early"),
    "autotransformer": ({"tap": "65", "full_voltage_a": "100"}, "42.2"),
    "starts": ({"per_hour": "11", "trip_class": "10", "run_up_s": "6"}, "too many"),
    "surge": ({"result": "fail", "difference_percent": "22"}, "22"),
    "vibration": ({"words": ["grinding"]}, "breaks up"),
    "observation": ({"words": ["water in the box", "dried tape"]}, "dry and seal"),
}


@pytest.fixture
def side(client):
    client.post("/motors/new", data=PLATE)
    return "/motors/BW-1/other-tests"


def test_every_kind_has_its_form():
    assert set(TYPED) == set(SHEETS) == set(SIDE_KINDS)


@pytest.mark.parametrize("kind", TYPED)
def test_each_sheet_asks_for_all_that_it_judges(client, side, kind):
    page = client.get(f"{side}?kind={kind}").text
    asked = [field.name for field in SHEETS[kind].fields] + (["words"] if kind in WORDS else [])
    assert asked
    assert [name for name in asked if f'name="{name}"' not in page] == []


def test_velocity_and_what_was_heard_are_judged_as_typed_and_a_word_that_is_none_stays_typed(client, side):
    form = {"token": "side-token-2", "mm_s.DE-H": "5,2", "listening.NDE": "rough"}
    judged = client.post(f"{side}/vibration", data=form)
    assert "DE-H 5.2 mm/s: zone D" in judged.text
    assert "NDE rough: grease it" in judged.text
    refused = client.post(f"{side}/vibration", data=form | {"mm_s.DE-H": "much"})
    assert refused.status_code == 422
    assert 'value="much"' in refused.text
    greased = client.post(
        f"{side}/grease", data={"token": "side-token-3", "outside_mm": "85", "width_mm": "19", "type": "EP2"}
    )
    assert "of EP2, never mixed with another" in greased.text


@pytest.mark.parametrize("kind", TYPED)
def test_judged_as_typed_then_kept_once_and_taken_back(client, side, kind):
    texts, said = TYPED[kind]
    form = texts | {"token": "side-token-1"}
    assert client.get(f"{side}?kind={kind}").status_code == 200
    judged = client.post(f"{side}/{kind}", data=form)
    assert judged.status_code == 200
    assert said in judged.text
    assert "No other test is saved yet" in judged.text
    for _ in range(2):
        assert client.post(f"{side}/{kind}", data=form | {"keep": "yes"}).status_code == 303
    page = client.get(side).text
    assert page.count("Undo") == 1
    assert said in page
    number = re.search(r'name="id" value="(\d+)"', page)[1]
    for _ in range(2):
        assert client.post(f"{side}/take-back", data={"id": number}).status_code == 303
    page = client.get(side).text
    assert "Taken back by A. Tester" in page
    assert page.count("Undo") == 0
    trail = client.get("/audit-trail").text
    assert (trail.count("other test saved"), trail.count("other test undone")) == (1, 1)


@pytest.mark.parametrize(
    ("kind", "texts", "field", "said"),
    [
        ("brushes", {"holders.1": "-3", "new_mm": "32"}, "holders.1", "greater"),
        ("brushes", {"new_mm": "long"}, "new_mm", "number"),
        ("capacitor_ohms", {"start": "much"}, "start", "much"),
        ("starts", {"trip_class": "7"}, "trip_class", "10"),
        ("grease", {"outside_mm": "nan"}, "outside_mm", "finite"),
    ],
)
def test_what_cant_be_is_told_at_its_field_and_nothing_is_lost(client, side, kind, texts, field, said):
    answer = client.post(f"{side}/{kind}", data=texts | {"token": "side-token-1", "keep": "yes"})
    assert answer.status_code == 422
    assert f'id="e-{field}"' in answer.text
    assert said in answer.text
    assert all(f'value="{text}"' in answer.text for name, text in texts.items() if name != "trip_class")
    assert "No other test is saved yet" in client.get(side).text


def test_nothing_typed_strange_words_and_what_isnt_there(client, side):
    empty = client.post(f"{side}/grease", data={"token": "side-token-1", "keep": "yes"})
    assert (empty.status_code, "Nothing is typed yet" in empty.text) == (422, True)
    strange = client.post(f"{side}/vibration", data={"token": "side-token-1", "words": "humming along"})
    assert (strange.status_code, "one of smooth" in strange.text) == (422, True)
    assert client.post(f"{side}/brushes", data={"token": "side-token-1", "x" * 40: "1"}).status_code == 422
    for path in (f"{side}?kind=none", f"{side}?notes=none", "/motors/NO-1/other-tests"):
        assert client.get(path).status_code == 404
    assert client.post(f"{side}/none", data={"token": "side-token-1"}).status_code == 404
    assert client.post(f"{side}/take-back", data={"id": 99}).status_code == 404


@pytest.mark.parametrize("machine", Machine)
def test_notes_are_a_plan_dead_before_live(client, side, machine):
    page = client.get(side, params={"notes": machine.value}).text
    assert [page.index(f"<b>{check.title}</b>") for check in NOTES[machine]] == sorted(
        page.index(f"<b>{check.title}</b>") for check in NOTES[machine]
    )
    dead = [check.dead for check in NOTES[machine]]
    assert dead == sorted(dead, reverse=True)
    assert NOTES[machine][0].key == "isolate"


def test_a_reader_judges_and_keeps_nothing(client, side, sign_in, store):
    reader = sign_in(add_person(store, Role.READER, "R. Reader"))
    form = {"outside_mm": "85", "width_mm": "19", "token": "side-token-1"}
    page = reader.post(f"{side}/grease", data=form).text
    assert "8.07 g" in page
    assert 'name="keep"' not in page
    assert reader.post(f"{side}/grease", data=form | {"keep": "yes"}).status_code == 403
