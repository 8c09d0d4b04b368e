"""What is missing, unproven or weaker than it must be keeps a verdict open, need by need."""

import json
from functools import cache
from itertools import combinations

import pytest

from grimcoil.core.assessment import assess
from grimcoil.exchange.jobs import read_job
from tests.truth_motors import case


@cache
def _found(scheme):
    return next(n for n in range(400) if case(n, "none", False, False).scheme == scheme)


def whole(scheme):
    """A sound, complete, finely read job on a scheme."""
    return case(_found(scheme), "none", False, False).document


def decided(document, **changes):
    return assess(read_job(json.dumps(document | changes))).decision


def without(document, *drop):
    """The same without the tests that any of the given questions is true of."""
    return document | {"tests": [t for t in document["tests"] if not any(of(t) for of in drop)]}


def holds(*leads, kind="insulation"):
    return lambda t: t["kind"] == kind and set(leads) & set(t["from"])


def ohms_of(*pairs):
    return lambda t: t["kind"] == "winding_resistance" and set(pairs) & set(t["readings"])


def between(t):
    return t["kind"] == "winding_to_winding"


def frame(t):
    return t["kind"] == "insulation"


SCHEMES = ("six-lead", "nine-lead-wye", "nine-lead-delta", "twelve-lead", "part-winding", "two-speed-two-winding")


@pytest.mark.parametrize("scheme", [*SCHEMES, "three-lead-wye", "two-speed-one-winding-delta"])
def test_a_whole_sound_job_is_sound(scheme):
    decision = decided(whole(scheme))
    assert (decision.action, decision.verdict.value, decision.missing) == ("return", "sound", ())


@pytest.mark.parametrize(
    ("scheme", "drop", "missing"),
    [
        ("two-speed-two-winding", ohms_of("11-12"), "winding_resistance.11-12"),
        ("two-speed-one-winding-wye", ohms_of("4-5"), "winding_resistance.4-5"),
        ("two-speed-two-winding", between, "winding_to_winding.1-2-3.11-12-13.60"),
        ("six-lead", between, "winding_to_winding.1-4.2-5.60"),
        ("twelve-lead", between, "winding_to_winding.7-10.8-11.60"),
        ("six-lead", holds("2", "3"), "insulation.2-5.60"),
        ("nine-lead-wye", holds("2", "3", "7"), "insulation.7-8-9.60"),
        ("nine-lead-delta", holds("2", "3"), "insulation.3-6-8.60"),
        ("twelve-lead", holds("2", "3", "7", "8", "9"), "insulation.9-12.60"),
        ("two-speed-two-winding", holds("11"), "insulation.11-12-13.60"),
        ("nine-lead-wye", ohms_of("1-4"), "winding_resistance.1-4"),
        ("nine-lead-wye", ohms_of("7-8"), "winding_resistance.7-8"),
        ("part-winding", ohms_of("7-8"), "winding_resistance.7-8"),
        ("six-lead", frame, "insulation.1-4.60"),
    ],
)
def test_what_was_not_read_is_named(scheme, drop, missing):
    decision = decided(without(whole(scheme), drop))
    if missing.startswith("winding_to_winding.7-10"):
        missing = "winding_to_winding.1-4.7-10.60"
    assert missing in decision.missing
    assert (decision.action, decision.verdict.value) == ("test-more", "unproven")


def test_one_hold_on_all_leads_reaches_every_group():
    document = without(whole("six-lead"), frame)
    hold = next(t for t in whole("six-lead")["tests"] if t["kind"] == "insulation")
    document["tests"].append(hold | {"from": ["1", "2", "3", "4", "5", "6"]})
    assert decided(document).action == "return"
    document["tests"][-1] = hold | {"from": []}
    assert len(decided(document).missing) == 3


def test_one_phase_against_the_others_and_the_frame_proves_both():
    document = without(whole("six-lead"), frame, between)
    hold = {"kind": "insulation", "test_voltage_v": 500, "series": [{"t_s": 60, "reading": "900M"}]}
    for lead, others in (("1", ["2", "3"]), ("2", ["1", "3"]), ("3", ["1", "2"])):
        document["tests"].append(hold | {"from": [lead], "to": ["PE", *others]})
    assert decided(document).action == "return"


@pytest.mark.parametrize(
    "weaker",
    [
        {"series": [{"t_s": 10, "reading": "800M"}], "test_voltage_v": 1000},
        {"series": [{"t_s": 60, "reading": "0.5M"}], "test_voltage_v": 9},
        {"series": [{"t_s": 60, "reading": "OL"}], "test_voltage_v": 1000},
        {"at": "cable"},
        {"scope": "cable"},
        {"from": ["1"], "to": ["2"]},
        {"series": [{"t_s": 60, "reading": "6M"}], "conditions": {}, "test_voltage_v": 1000},
    ],
)
def test_a_weaker_test_does_not_stand_in(weaker):
    document = whole("three-lead-wye")
    document["tests"] = [t | weaker if t["kind"] == "insulation" else t for t in document["tests"]]
    decision = decided(document)
    assert (decision.action, decision.verdict.value) == ("test-more", "unproven")


def test_a_hot_resistance_alone_is_no_resistance():
    document = whole("three-lead-wye")
    document["tests"] = [t | {"hot": True} if ohms_of("1-2")(t) else t for t in document["tests"]]
    assert "winding_resistance.1-2" in decided(document).missing


def test_a_coarse_meter_with_drift_stays_open():
    document = whole("three-lead-wye")
    ohms = {
        "kind": "winding_resistance",
        "resolution": "0.1 ohm",
        "readings": {"1-2": "1.2", "2-3": "1.2", "3-1": "1.2"},
    }
    document["tests"] = [ohms if ohms_of("1-2")(t) else t for t in document["tests"]]
    document["motor"] = document["motor"] | {"baseline": {"readings": {"1-2": "0.61", "2-3": "0.61", "3-1": "0.61"}}}
    decision = decided(document)
    assert any(f.code == "resistance-drift" for f in decision.evidence_for)
    assert (decision.action, decision.verdict.value) == ("test-more", "unproven")


def test_an_unproven_second_winding_is_not_dropped_for_the_first():
    document = whole("two-speed-two-winding")
    coarse = {"11-12": "0.6", "12-13": "0.6", "13-11": "0.6"}
    document["tests"] = [
        t | {"readings": coarse, "resolution": "0.1"} if ohms_of("11-12")(t) else t for t in document["tests"]
    ]
    decision = decided(document)
    assert decision.unproven == ("winding_resistance.11-12", "winding_resistance.12-13", "winding_resistance.13-11")
    assert decision.action == "test-more"


@pytest.mark.parametrize(("occasion", "action"), [("dead-only", "return"), ("routine", "test-more"), ("wet", "return")])
def test_a_spare_on_the_bench_wants_no_line_currents(occasion, action):
    dead = without(whole("six-lead"), lambda t: t["kind"] in ("supply_voltage", "line_current"))
    assert decided(dead, occasion=occasion).action == action


def test_acceptance_goes_by_the_service_shop_and_wants_its_run():
    dead = without(whole("six-lead"), lambda t: t["kind"] in ("supply_voltage", "line_current"))
    decision = decided(dead, occasion="acceptance")
    assert "uncoupled_run.L1" in decision.missing
    assert assess(read_job(json.dumps(dead | {"occasion": "acceptance"}))).criteria == "service-shop"
    written = dead | {"occasion": "acceptance", "criteria": "field-coarse"}
    assert assess(read_job(json.dumps(written))).criteria == "field-coarse"


def test_a_call_out_without_a_dead_test_is_still_a_walk():
    live = without(whole("six-lead"), frame, between, ohms_of("1-4"))
    assert decided(live, occasion="call-out").missing == ("walk",)
    assert decided(whole("six-lead"), occasion="call-out").action == "look-elsewhere"


def test_a_ban_is_left_out_named_and_returned():
    document = without(whole("six-lead"), frame, between)
    motor = document["motor"] | {"insulation_test_forbidden": True}
    decision = decided(document, motor=motor)
    assert (decision.action, decision.verdict.value) == ("test-more", "unproven")
    asked = ("insulation.1-4@ohmmeter", "insulation.2-5@ohmmeter", "insulation.3-6@ohmmeter",
             "insulation.1-4.2-5@ohmmeter", "insulation.1-4.3-6@ohmmeter", "insulation.2-5.3-6@ohmmeter")  # fmt: skip
    assert decision.missing == asked
    groups = [["1", "4"], ["2", "5"], ["3", "6"]]
    open_to = [
        {"kind": "insulation" if to == ["frame"] else "winding_to_winding", "from": ends, "to": to,
         "series": [{"t_s": 1, "reading": "OL"}]}
        for ends, to in [*((g, ["frame"]) for g in groups), *combinations(groups, 2)]
    ]  # fmt: skip
    decision = decided(document | {"tests": [*document["tests"], *open_to]}, motor=motor)
    assert (decision.action, decision.verdict.value, decision.missing) == ("return", "unproven", ())
    assert [one.step for one in decision.left_out] == ["winding_to_winding", "insulation"]


def test_what_fails_at_the_starter_sends_to_the_box_and_condemns_nobody():
    document = whole("three-lead-wye")
    bad = {"kind": "winding_resistance", "at": "starter", "readings": {"1-2": "OL", "2-3": "2.410", "3-1": "OL"}}
    alone = document | {"tests": [bad, *without(document, ohms_of("1-2"))["tests"]]}
    decision = decided(alone)
    assert decision.action == "test-more"
    assert decision.missing[0] == "winding_resistance.1-2@motor-box"
    assert decided(document | {"tests": [bad, *document["tests"]]}).action == "repair-on-site"


def test_a_coarse_meter_condemns_nobody():
    for texts in (("0.0", "0.0", "0.0"), ("0.1", "0.1", "0.2"), ("0.2", "0.1", "0.1")):
        readings = dict(zip(("1-2", "2-3", "3-1"), texts, strict=True))
        document = whole("three-lead-delta")
        coarse = {"kind": "winding_resistance", "resolution": "0.1", "readings": readings}
        document["tests"] = [coarse if ohms_of("1-2")(t) else t for t in document["tests"]]
        whole_thing = assess(read_job(json.dumps(document)))
        assert [p.pattern for p in whole_thing.winding_resistance[0].patterns] == ["unclassified"]
        assert (whole_thing.decision.action, whole_thing.decision.verdict.value) == ("test-more", "unproven")


@pytest.mark.parametrize(
    ("text", "resolution", "action", "fewer"),
    [
        ("2.4", "0.001", "test-more", True),
        ("2.40", "0.001", "return", False),  # the digits that were typed prove it
        ("2.400", "0.001", "return", False),
        ("2.40", None, "return", False),
    ],
)
def test_fewer_digits_than_the_meter_shows_ask_for_the_rest_only_where_they_prove_nothing(
    text, resolution, action, fewer
):
    document = whole("three-lead-wye")
    typed = {"kind": "winding_resistance", "readings": dict.fromkeys(("1-2", "2-3", "3-1"), text)}
    typed |= {"resolution": resolution} if resolution else {}
    document["tests"] = [typed if ohms_of("1-2")(t) else t for t in document["tests"]]
    decision = decided(document)
    assert decision.action == action
    found = {f.code: f.text for f in (*decision.evidence_for, *decision.evidence_against)}
    assert ("digits-fewer" in found) == fewer
    assert not any("or finer" in words for words in found.values())


def test_a_pair_under_two_names_is_one_pair():
    document = whole("three-lead-wye")
    volts = {"kind": "supply_voltage", "line_to_line": {"L1-L3": "478", "L3-L1": "478", "L1-L2": "478"}}
    document["tests"] = [volts if t["kind"] == "supply_voltage" else t for t in document["tests"]]
    decision = decided(document)
    assert decision.missing == ("supply_voltage.L2-L3",)
    volts["line_to_line"] = {"L1-L3": "478", "l2-L3": "478", "L1-L2": "478"}
    assert decided(document).action == "return"


def test_shorted_turns_ask_for_currents_before_the_motor_goes_back():
    document = whole("three-lead-wye")
    turns = {"kind": "winding_resistance", "readings": {"1-2": "2.300", "2-3": "2.400", "3-1": "2.300"}}
    document["tests"] = [turns if ohms_of("1-2")(t) else t for t in document["tests"]]
    dead = without(document, lambda t: t["kind"] in ("supply_voltage", "line_current"))
    assert decided(dead, occasion="dead-only").action == "test-more"
    assert decided(document).action == "return-retest"


def held(*values, occasion="dead-only"):
    tests = [
        {"kind": "winding_resistance", "readings": {"1-2": "0.534", "2-3": "0.535", "3-1": "0.534"}},
        *(
            {
                "kind": "insulation",
                "from": ["1", "2", "3"],
                "to": ["frame"],
                "test_voltage_v": 500,
                "scope": "motor",
                "series": [{"t_s": 60, "reading": value}],
            }
            for value in values
        ),
    ]
    motor = {"tag": "H-1", "rated_voltage_v": [460], "lead_scheme": "three-lead-wye"}
    document = {"format": "grimcoil-job/1", "motor": motor, "occasion": occasion, "tests": tests,
                "conditions": {"winding_temperature_c": 22}}  # fmt: skip
    return assess(read_job(json.dumps(document))).stands


def test_of_holds_at_one_place_the_worst_judges_until_it_was_dried():
    assert not held("520M").failed
    for values in (("520M", "2M"), ("2M", "520M")):
        assert [need.kind.value for need in held(*values).failed] == ["insulation"], values
    assert not held("2M", "520M", occasion="wet").failed  # dried between them
    assert held("520M", "2M", occasion="wet").failed
