"""`grimcoil plan`: what is to do, from what a job document knows; the plan and what a verdict misses agree."""

import json
import subprocess
import sys
from itertools import product

import pytest

from grimcoil.cli.__main__ import main
from grimcoil.core.assessment import assess
from grimcoil.core.choices import LeadScheme, Occasion, School
from grimcoil.core.fields import FIELDS
from grimcoil.exchange.assessments import to_document
from grimcoil.exchange.jobs import read_job
from grimcoil.exchange.planned import QUANTITY, planned

BEFORE = ["isolate", "prove_dead", "as_found", "separate", "instrument_check", "temperature"]
WINDING = {"continuity", "winding_resistance", "winding_to_winding", "insulation"}


def job(scheme="three-lead", occasion="routine", tests=(), motor=(), **more):
    plate = {"tag": "X-1", "lead_scheme": scheme, "rated_voltage_v": [460], "full_load_current_a": [21]}
    document = {"format": "grimcoil-job/1", "motor": plate | dict(motor), "occasion": occasion, "tests": list(tests)}
    return json.dumps(document | more)


def steps(text):
    return [step["step"] for step in planned(text)["steps"]]


def open_places(plan):
    return {
        reading["place"]
        for step in plan["steps"]
        if step["state"] in ("now", "todo")
        for reading in step["readings"]
        if not reading["optional"]
    }


def hold(at, reading, *ends, kind="insulation", to=("frame",)):
    series = [{"t_s": 60, "reading": reading}]
    return {"kind": kind, "at": at, "from": list(ends), "to": list(to), "test_voltage_v": 500, "series": series}


def ohms(at, *texts, **more):
    return {
        "kind": "winding_resistance",
        "at": at,
        "resolution": "0.001",
        "readings": dict(zip(("1-2", "2-3", "3-1"), texts, strict=True)),
    } | more


@pytest.mark.parametrize("scheme", LeadScheme)
@pytest.mark.parametrize("occasion", Occasion)
def test_what_is_missing_is_what_the_plan_asks(scheme, occasion):
    for forbidden, school in product((False, True), (None, *School)):
        text = job(
            scheme, occasion, motor={"insulation_test_forbidden": forbidden}, **({"school": school} if school else {})
        )
        plan = planned(text)
        missing = to_document(assess(read_job(text)))["decision"]["missing"]
        whole_steps = {place for place in missing if place in {step["step"] for step in plan["steps"]}}
        assert set(missing) == open_places(plan) | whole_steps
        assert whole_steps <= {"walk", "identify"}
        places = [reading["place"] for step in plan["steps"] for reading in step["readings"]]
        assert len(places) == len(set(places))


@pytest.mark.parametrize("scheme", LeadScheme)
@pytest.mark.parametrize("occasion", [one for one in Occasion if one is not Occasion.CALL_OUT])
def test_every_recipe_makes_safe_first_and_gives_back_in_order(scheme, occasion):
    made = steps(job(scheme, occasion))
    first = min((made.index(name) for name in WINDING if name in made), default=len(made))
    wanted = BEFORE[1:] if occasion == "dead-only" else BEFORE
    assert [name for name in made[:first] if name in BEFORE] == wanted
    for i, name in enumerate(made):
        assert name not in ("winding_to_winding", "insulation") or made[i + 1] == "discharge"
    live = [i for i, name in enumerate(made) if name in ("supply_voltage", "line_current", "uncoupled_run", "rotation")]
    assert not live or made.index("reconnect") < made.index("restore") < live[0]
    if scheme != "unknown":
        assert not live or made.index("connection") < made.index("reconnect")
    assert made[-2:] == ["decision", "sign"]


def test_the_first_step_is_now_and_proof_is_hard():
    plan = planned(job())
    by_name = {step["step"]: step for step in plan["steps"]}
    assert (by_name["isolate"]["state"], by_name["prove_dead"]["gate"], by_name["discharge"]["gate"]) == (
        "now",
        "hard",
        "hard",
    )
    assert by_name["winding_resistance"]["gate"] == "hard"
    assert by_name["supply_voltage"]["gate"] == "none"
    assert plan["school"] == "starter-first"


def test_three_leads_begin_at_the_starter_and_nine_at_the_box():
    at = {step["step"]: step["where"] for step in planned(job())["steps"]}
    assert (at["winding_resistance"], at["insulation"], "prove_dead_box" in at) == ("starter", "starter", False)
    at = {step["step"]: step["where"] for step in planned(job("nine-lead-wye", school="starter-first"))["steps"]}
    assert (at["winding_resistance"], at["prove_dead_box"]) == ("motor-box", "motor-box")
    star = {"position": {"starter": "star-delta"}}
    assert planned(job("six-lead", **star))["school"] == "starter-first"
    assert planned(job("six-lead"))["school"] == "box-first"
    assert planned(job(occasion="acceptance"))["school"] == "box-first"


def test_twelve_leads_are_held_apart_in_six_tests():
    plan = planned(job("twelve-lead"))
    between = [
        r["between"]
        for s in plan["steps"]
        if s["step"] == "winding_to_winding"
        for r in s["readings"]
        if r["t_s"] == 60
    ]
    assert between == [
        ["1-4-7-10", "2-5-8-11"], ["1-4-7-10", "3-6-9-12"], ["2-5-8-11", "3-6-9-12"],
        ["1-4", "7-10"], ["2-5", "8-11"], ["3-6", "9-12"],
    ]  # fmt: skip
    frame = [r["between"][1] for s in plan["steps"] if s["step"] == "insulation" for r in s["readings"]]
    assert set(frame) == {"frame"}


def test_a_reading_says_what_it_is_of():
    plan = planned(job("two-speed-two-winding"))
    by_place = {r["place"]: r for s in plan["steps"] for r in s["readings"]}
    assert by_place["winding_resistance.11-12"] == {
        "place": "winding_resistance.11-12", "between": ["11", "12"], "quantity": "ohms", "winding": "high",
        "optional": False, "t_s": None,
    }  # fmt: skip
    assert by_place["line_current.L1@low"]["between"] is None
    assert by_place["line_current.L1@high"]["winding"] == "high"
    assert [by_place[f"insulation.1-2-3.{t}"]["optional"] for t in (30, 60, 600)] == [True, False, True]


def test_insulation_that_fails_at_the_starter_brings_the_box_and_the_cable():
    failed = job(tests=[ohms("starter", "0.534", "0.535", "0.534"), hold("starter", "0.8M", "1", "2", "3")])
    plan = planned(failed)
    grown = [step for step in plan["steps"] if step["because"] and step["state"] != "stopped"]
    assert [step["step"] for step in grown] == ["prove_dead_box", "as_found", "insulation", "discharge", "cable"]
    assert "insulation.1-2-3.60@motor-box" in open_places(plan)
    assert "insulation.1-2-3.60@motor-box" in to_document(assess(read_job(failed)))["decision"]["missing"]
    passed = job(tests=[hold("starter", "0.8M", "1", "2", "3"), hold("motor-box", "800M", "1", "2", "3")])
    states = {s["step"]: s["state"] for s in planned(passed)["steps"] if s["because"]}
    assert (states["insulation"], states["cable"]) == ("done", "todo")


def test_an_open_on_a_warm_motor_is_cooled_and_read_again():
    read = [ohms("starter", "OL", "0.535", "OL")]
    warm = {"conditions": {"winding_temperature_c": 70, "ambient_temperature_c": 25}}
    assert "cool_down" in steps(job(tests=read, **warm))
    cold = {"conditions": {"winding_temperature_c": 22, "ambient_temperature_c": 21}}
    assert "cool_down" not in steps(job(tests=read, **cold))
    places = [r["place"] for s in planned(job(tests=read, **warm))["steps"] for r in s["readings"]]
    assert "winding_resistance.1-2#2" in places


@pytest.mark.parametrize(("reading", "dries"), [("0.4M", True), ("2k", True), ("800M", False)])
def test_a_wet_plan_dries_only_what_failed(reading, dries):
    air = {"conditions": {"winding_temperature_c": 20, "ambient_temperature_c": 20}}
    assert "drying" not in steps(job(occasion="wet"))
    made = steps(job(occasion="wet", tests=[hold("motor-box", reading, "1", "2", "3")], **air))
    assert ("drying" in made) == dries
    assert made.index("insulation") < made.index("winding_resistance")


def test_a_call_out_walks_until_dead_tests_are_begun():
    assert steps(job(occasion="call-out")) == ["walk", "decision", "sign"]
    made = steps(job(occasion="call-out", tests=[ohms("starter", "0.534", "0.535", "0.534")]))
    assert made[:3] == ["walk", "isolate", "prove_dead"]


def test_on_the_floor_nothing_is_isolated_or_joined():
    made = steps(job(occasion="dead-only"))
    assert not {"isolate", "reconnect", "restore", "supply_voltage", "line_current"} & set(made)
    assert made.count("prove_dead") == 1


def test_an_unknown_scheme_is_identified_first():
    plan = planned(job("unknown"))
    made = [step["step"] for step in plan["steps"]]
    assert "identify" in made
    assert not {"winding_resistance", "insulation"} & set(made)
    assert {one["why"] for one in plan["left_out"]} == {"lead scheme unknown"}


def test_a_failed_motor_is_not_led_back():
    failed = planned(job(tests=[hold("motor-box", "0.02M", "1", "2", "3")]))
    states = {step["step"]: step["state"] for step in failed["steps"]}
    assert (states["reconnect"], states["restore"], states["insulation"]) == ("stopped", "stopped", "done")


def test_what_to_bring_follows_from_the_ohms_on_record():
    base = {"baseline": {"readings": {"1-2": "0.6", "2-3": "0.6", "3-1": "0.6"}, "winding_temperature_c": 25}}
    assert "low-ohm meter reading to 18 mΩ" in planned(job(motor=base))["bring"]
    assert "insulation tester, 500 V" in planned(job())["bring"]
    banned = planned(job(motor={"insulation_test_forbidden": True}))["bring"]
    assert not [one for one in banned if one.startswith("insulation tester")]


def test_accessories_are_asked_by_their_leads_and_an_encoder_is_left_alone():
    extras = {"accessories": [{"what": "thermostat", "leads": ["P1", "P2"]}, {"what": "encoder"}]}
    made = {s["step"]: s for s in planned(job(motor=extras))["steps"]}
    assert [(r["place"], r["optional"]) for r in made["accessories"]["readings"]] == [
        ("accessories.P1-P2", True), ("accessories.P1-P2.frame", True),
    ]  # fmt: skip


def test_the_command_prints_a_plan_a_line_and_goes_on_after_a_bad_one(tmp_path, capsys):
    file = tmp_path / "jobs.jsonl"
    file.write_text("\n".join([job(), "{", job("six-lead")]), encoding="utf-8")
    assert main(["plan", "--lines", str(file)]) == 2
    lines = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert [line.get("format") for line in lines] == ["grimcoil-plan/1", None, "grimcoil-plan/1"]


def test_it_answers_without_numpy_or_scipy():
    code = (
        "import sys, grimcoil.exchange.planned as p\n"
        f"p.planned({job()!r})\n"
        "sys.exit('numpy' in sys.modules or 'scipy' in sys.modules)"
    )
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0


def test_what_failed_at_the_starter_is_read_again_at_the_box_and_nothing_else():
    """One winding of two fails through the cable: the plan and what is missing name that one at the box."""
    low, high = ("1", "2", "3"), ("11", "12", "13")
    held = [hold("starter", "0.8M", *low), hold("starter", "800M", *high)]
    apart = hold("starter", "0.5M", *low, kind="winding_to_winding", to=high)
    uneven = {"1-2": "0.5", "2-3": "0.9", "3-1": "0.5", "11-12": "0.2", "12-13": "0.2", "13-11": "0.2"}
    ohms_at = {"kind": "winding_resistance", "at": "starter", "resolution": "0.0001", "readings": uneven}
    text = job("two-speed-two-winding", tests=[*held, apart, ohms_at])
    missing = set(to_document(assess(read_job(text)))["decision"]["missing"])
    assert missing == open_places(planned(text))
    at_box = {place for place in missing if place.endswith("@motor-box")}
    assert at_box == {
        "winding_resistance.1-2@motor-box", "winding_resistance.2-3@motor-box", "winding_resistance.3-1@motor-box",
        "winding_to_winding.1-2-3.11-12-13.60@motor-box", "insulation.1-2-3.60@motor-box",
    }  # fmt: skip


def test_a_repeat_is_done_only_where_the_same_leads_were_held_twice():
    air = {"conditions": {"winding_temperature_c": 20, "ambient_temperature_c": 20}}
    first = [
        hold("motor-box", "0.4M", "1", "4"),
        hold("motor-box", "0.4M", "2", "5"),
        hold("motor-box", "0.4M", "3", "6"),
    ]

    def repeats(*more):
        made = planned(job("six-lead", "wet", tests=[*first, *more], **air))["steps"]
        again = [s for s in made if s["step"] == "insulation" and s["because"]]
        return [(s["readings"][0]["between"][0], s["state"] == "done") for s in again]

    assert repeats() == [("1-4", False), ("2-5", False), ("3-6", False)]
    assert repeats(hold("motor-box", "800M", "2", "5")) == [("1-4", False), ("2-5", True), ("3-6", False)]


def test_every_field_that_can_be_read_has_a_quantity():
    assert set(QUANTITY) == set(FIELDS)


def test_what_wears_is_asked_for_and_left_out_without_harm():
    fittings = [{"what": "brushes", "leads": ["A1", "A2"]}, {"what": "centrifugal-switch", "leads": ["S1", "S2"]}]
    made = planned(job("three-lead", "dead-only", motor={"accessories": fittings, "brake": {"feed": "two-lines"}}))
    found = {r["place"]: r for step in made["steps"] for r in step["readings"]}
    for place in ("by_hand.disc", "by_hand.disc.least", "by_hand.brushes-1.A2", "accessories.S1-S2"):
        assert found[place]["optional"], place
    assert found["by_hand.disc"]["quantity"] == "millimetres"
