"""How a job is done, the motor's own names and limit, and what an instrument shows: in a document, out of it again."""

import json

import pytest

from grimcoil.core.assessment import assess
from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.jobs import read_job
from grimcoil.exchange.planned import planned
from grimcoil.exchange.records import job_document
from grimcoil.exchange.subjects import Named
from tests.core.decision.test_standing import whole

LEADS = ("1", "2", "3")


def document(**more):
    made = whole("three-lead-wye") | {"occasion": "dead-only"} | more
    return made | {"tests": more.get("tests", made["tests"])}


def without(kind, **more):
    made = document(**more)
    return made | {"tests": [test for test in made["tests"] if test["kind"] != kind]}


def hold(reading, leads=LEADS, volts=500, t_s=60, **more):
    series = [{"t_s": t_s, "reading": reading}]
    return {
        "kind": "insulation",
        "from": list(leads),
        "to": ["frame"],
        "test_voltage_v": volts,
        "series": series,
    } | more


def decision_of(made):
    return assess(read_job(json.dumps(made))).decision


def order_of(made):
    return [step["step"] for step in planned(json.dumps(made))["steps"]]


@pytest.mark.parametrize(
    ("first", "before", "after"),
    [
        ("insulation", "insulation", "winding_resistance"),
        ("insulation", "continuity", "insulation"),
        ("ohms", "winding_resistance", "insulation"),
        ("shaft", "by_hand", "winding_resistance"),
    ],
)
def test_the_first_test_is_a_choice(first, before, after):
    steps = order_of(without("insulation", first_test=first))
    assert steps.index(before) < steps.index(after)
    more = {"continuity"} if first == "insulation" else set()
    assert set(steps) == set(order_of(without("insulation"))) | more
    assert steps.index("discharge") == steps.index("insulation") + 1


def test_each_of_three_leads_by_itself_is_asked_and_missing_until_it_is_held():
    made = without("insulation", insulation_by="lead")
    places = [f"insulation.{lead}.60" for lead in LEADS]
    assert list(decision_of(made).missing) == places
    wanted = [r["place"] for s in planned(json.dumps(made))["steps"] for r in s["readings"] if not r["optional"]]
    assert [place for place in wanted if place.startswith("insulation")] == places
    made["tests"] += [hold("500M", ("1",)), hold("480M", ("3",))]
    assert list(decision_of(made).missing) == ["insulation.2.60"]
    made["tests"].append(hold("3M", ("2",)))
    assert decision_of(made).action == "clean-dry"
    joined = without("insulation", insulation_by="lead")
    joined["tests"].append(hold("500M"))
    assert decision_of(joined).missing == ()


@pytest.mark.parametrize(
    ("reading", "action", "verdict"),
    [("OL", "return-retest", "unproven"), ("0.05M", "rewind-or-replace", "act"), ("1.5M", "return-retest", "watch")],
)
def test_without_an_insulation_tester_an_ohmmeter_reads_and_the_verdict_says_what_it_rests_on(reading, action, verdict):
    made = without("insulation", at_hand=["ohmmeter", "lamps", "clamp"])
    assert list(decision_of(made).missing) == ["insulation.1-2-3@ohmmeter"]
    made["tests"].append(hold(reading, volts=9, t_s=5))
    found = decision_of(made)
    assert (found.action, found.verdict.value) == (action, verdict)
    assert [one.why for one in found.left_out] == ["no insulation tester at hand"]
    if verdict == "unproven":
        assert found.why == "no insulation tester at hand: insulation to frame stays unproven"


def test_without_a_clamp_no_amps_are_asked_and_they_stay_unproven_by_name():
    made = without("line_current", occasion="routine", at_hand=["insulation-tester", "ohmmeter"])
    found = decision_of(made)
    assert not [place for place in found.missing if place.startswith("line_current")]
    assert ("line_current", "no clamp meter at hand") in [(one.step, one.why) for one in found.left_out]
    assert "line_current" not in order_of(made)
    assert [p for p in decision_of(without("line_current", occasion="routine")).missing if p.startswith("line_current")]


def test_a_tester_that_shows_microamps_gives_ohms():
    made = without("insulation", instruments=[{"id": "T", "function": "insulation", "shows": "microamps"}])
    for reading, value, bound in (("2.5", 200.0, "exact"), ("<1", 500.0, "above"), (">5 µA", 100.0, "below")):
        test = hold(reading, instrument="T")
        result = assess(read_job(json.dumps(made | {"tests": [test]}))).insulation[0]
        assert (result.r_1min_mohm.value, result.r_1min_mohm.bound.value) == (pytest.approx(value), bound)
    by_itself = assess(read_job(json.dumps(made | {"tests": [hold("2.5 µA at 1 kV")]}))).insulation[0]
    assert by_itself.r_1min_mohm.value == pytest.approx(400)
    for bad, volts in (("OL", 500), ("2.5", None), ("2 µA at 1.2.3 V", 500), ("1..2 µA at 1 kV", 500)):
        test = hold(bad, instrument="T", volts=volts)
        with pytest.raises(RecordRefusal) as refused:
            read_job(json.dumps(made | {"tests": [test]}))
        assert refused.value.where == "tests.0.series.0.reading"


OWN = {
    "lead_names": {"1": "U1", "2": "V1", "3": "W1"},
    "lead_colours": {"1": "brown", "T2": "black"},
    "neutral_lead": "N",
    "insulation_minimum_mohm": 20,
    "insulation_minimum_source": "maker's sheet",
}


def test_all_of_it_goes_out_as_it_came():
    chosen = {"first_test": "insulation", "insulation_by": "lead", "at_hand": ["ohmmeter"], "test_volts": "twice"}
    meters = [{"id": "T", "function": "insulation", "shows": "microamps", "corrects_to_40c": True},
              {"id": "O", "function": "ohm", "beep_below_ohm": 30}]  # fmt: skip
    made = document(**chosen, instruments=meters)
    made["motor"] = made["motor"] | OWN
    record = read_job(json.dumps(made))
    again = job_document(record, Named(tag="X"))
    assert {key: again[key] for key in chosen} == chosen
    assert {key: again["motor"][key] for key in OWN} == OWN | {"lead_colours": {"1": "brown", "2": "black"}}
    assert [
        {k: v for k, v in one.items() if k not in ("counts", "accuracy_percent")} for one in again["instruments"]
    ] == [
        meters[0],
        meters[1] | {"beep_below_ohm": 30.0},
    ]
    assert read_job(json.dumps(again)).wishes == record.wishes


@pytest.mark.parametrize(
    ("changes", "where"),
    [
        ({"motor": {"lead_names": {"9": "U9"}}}, "motor.lead_names.9"),
        ({"motor": {"lead_names": {"1": "U1", "2": "u1"}}}, "motor.lead_names.2"),
        ({"motor": {"lead_names": {"1": "N"}, "neutral_lead": "N"}}, "motor.lead_names.1"),
        ({"motor": {"insulation_minimum_mohm": 0}}, "motor.insulation_minimum_mohm"),
        ({"first_test": "smell"}, "first_test"),
        ({"at_hand": ["hammer"]}, "at_hand.0"),
        ({"test_volts": "thrice"}, "test_volts"),
        ({"instruments": [{"id": "T", "function": "insulation", "shows": "bars"}]}, "instruments.0.shows"),
        ({"tests": [hold("5M", taken_from="M9")]}, "tests.0.taken_from"),
    ],
)
def test_what_can_not_be_is_refused_by_its_path(changes, where):
    made = document(**{key: value for key, value in changes.items() if key != "motor"})
    made["motor"] = made["motor"] | changes.get("motor", {})
    with pytest.raises(RecordRefusal) as refused:
        read_job(json.dumps(made))
    assert refused.value.where == where


def test_sheets_and_places_take_what_is_felt_and_what_feeds_them():
    sheets = [
        {"kind": "vibration", "mm_s": {"DE-H": 5.2}, "listening": {"NDE": "rough"}},
        {"kind": "grease", "outside_mm": 85, "width_mm": 19, "type": "lithium complex"},
    ]
    found = {"leads": {"1": {"terminal": "T1", "colour": "brown", "joint": "crimp", "state": "hot"}, "2": "T2"}}
    place = {"fed_from": "MCC 3", "relays": ["phase-loss"], "generators": 2, "feed_colours": {"L1": "brown"}}
    made = document(as_found=found, as_left=found, position=place)
    record = read_job(json.dumps(made | {"tests": made["tests"] + sheets}))
    assert [r.verdict.value for r in assess(record).by_kind["vibration"]] == ["act"]
    assert job_document(record, Named(tag="X"))["tests"][-2:] == sheets
    for bad, where in (
        ({"as_found": {"leads": {"1": {"joint": "glue"}}}}, "as_found.leads.1"),
        ({"position": {"relays": ["earth"]}}, "position.relays.0"),
        ({"tests": [{"kind": "vibration", "listening": {"DE": "loud"}}]}, "tests.0.listening.DE"),
    ):
        with pytest.raises(RecordRefusal) as refused:
            read_job(json.dumps(made | bad))
        assert refused.value.where.startswith(where)
