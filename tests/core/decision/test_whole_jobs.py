"""Whole jobs with a fault of the handbook's in them: what must be said of them, whatever else is on the record."""

import json

import pytest

from grimcoil.core.assessment import assess
from grimcoil.exchange.jobs import read_job
from tests.core.decision.test_standing import SCHEMES, decided, frame, ohms_of, whole

STARTS = {"kind": "starts", "per_hour": 14}
BRUSH = {"kind": "brushes", "new_mm": 32, "holders": {"1": 9}}
CAPACITOR = {"kind": "capacitor", "current_a": "1.0", "voltage_v": "240", "frequency_hz": 60, "marked_uf": 35}
TURNED = {"kind": "rotation", "wanted": "cw", "seen": "ccw"}
LESSER = (STARTS, BRUSH, CAPACITOR, TURNED)


def plus(document, *tests):
    """The same with more tests; one of a kind that is there stands for it."""
    kinds = {test["kind"] for test in tests}
    return document | {"tests": [*(t for t in document["tests"] if t["kind"] not in kinds), *tests]}


def amps(*values, **more):
    return {"kind": "line_current", "readings": dict(zip(("L1", "L2", "L3"), map(str, values), strict=True)), **more}


def volts(*values):
    return {
        "kind": "supply_voltage",
        "line_to_line": dict(zip(("L1-L2", "L2-L3", "L3-L1"), map(str, values), strict=True)),
    }


def motor(document, **plate):
    return document | {"motor": document["motor"] | plate}


PLATE = {"rated_voltage_v": [460], "connected_voltage_v": 460, "full_load_current_a": [21], "frequency_hz": 60,
         "speed_rpm": 1755, "service_factor": 1.15, "insulation_class": "F"}  # fmt: skip


def sound():
    document = motor(whole("three-lead-wye"), **PLATE)
    return plus(document, volts(460, 461, 459), amps(17.2, 17.3, 17.1)) | {"occasion": "routine"}


def codes(decision):
    return {f.code: f.severity.value for f in (*decision.evidence_for, *decision.evidence_against)}


@pytest.mark.parametrize("speed", [1755, 1160, 875, 705])
@pytest.mark.parametrize(("value", "verdict"), [(20.99, None), (21, None), (21.01, "act"), (40, "act"), (130, "act")])
def test_uncoupled_amps_over_the_plate_are_a_fault_at_any_number_of_poles(speed, value, verdict):
    run = amps(value, value, value, loaded=False)
    decision = decided(plus(motor(sound(), speed_rpm=speed), run))
    assert codes(decision).get("no-load-over-plate") == verdict
    assert (decision.action == "remove-now") == (verdict == "act")


@pytest.mark.parametrize(("rpm", "slow"), [(1799, False), (1710, False), (1709, True), (1160, True), (0, True)])
def test_well_under_synchronous_with_nothing_coupled_is_a_finding_of_its_own(rpm, slow):
    decision = decided(plus(sound(), amps(8, 8, 8, loaded=False, speed_rpm=rpm)))
    assert ("no-load-slow" in codes(decision)) == slow
    assert decision.action == ("test-more" if slow else "return")
    assert "no-load-slow" not in codes(decided(plus(sound(), amps(8, 8, 8, speed_rpm=rpm))))


GRAVE = {
    "line lost": (amps(0.2, 30, 31), {"remove-now"}),
    "hot frame": ({"kind": "frame_temperature", "reading": "170"}, {"remove-now"}),
    "burnt pole": (
        {"kind": "contact_drop", "readings": {"L1": "0.1", "L2": "9", "L3": "0.1"}, "current_a": 17},
        {"repair-on-site"},
    ),
    "a quarter low": (volts(345, 346, 344), {"correct-supply"}),
    "jammed": ({"kind": "shaft", "turns": "jammed", "coupled": False}, {"send-repair"}),
    "over service factor": (amps(27, 27.2, 26.9), {"remove-now", "correct-supply"}),
    "one over service factor": (amps(17, 27, 17), {"remove-now"}),
}  # fmt: skip


@pytest.mark.parametrize("grave", GRAVE)
@pytest.mark.parametrize("lesser", [*LESSER, None], ids=lambda t: t["kind"] if t else "nothing")
def test_a_grave_fault_is_named_before_anything_lesser_beside_it(grave, lesser):
    test, actions = GRAVE[grave]
    alone = decided(plus(sound(), test))
    assert alone.action in actions
    decision = decided(plus(sound(), *([lesser] if lesser else []), test))
    assert (decision.action, decision.verdict.value, decision.why) == (alone.action, "act", alone.why)


def repeat(document, readings, **more):
    again = {"kind": "winding_resistance", "readings": readings, **more}
    return document | {"tests": [*document["tests"], again]}


def opened(scheme, *pairs):
    """The sound job with some pairs over range, told with where it was read."""
    document = whole(scheme)
    tests = [
        t | {"readings": {p: "OL" if p in pairs else r for p, r in t["readings"].items()}, "at": "motor-box"}
        if ohms_of(*pairs)(t)
        else t
        for t in document["tests"]
    ]
    return document | {"tests": tests}


def ohm(scheme, pair):
    return next(t["readings"][pair] for t in whole(scheme)["tests"] if ohms_of(pair)(t))


@pytest.mark.parametrize("again", ["same place", "through the cable"])
@pytest.mark.parametrize(
    ("scheme", "pairs"), [("six-lead", ("1-4",)), ("three-lead-wye", ("1-2", "2-3")), ("twelve-lead", ("7-10",))]
)
def test_an_open_that_is_whole_on_a_repeat_condemns_nobody(scheme, pairs, again):
    place = {"at": "motor-box"} if again == "same place" else {"at": "starter", "scope": "motor+cable"}
    document = repeat(opened(scheme, *pairs), {p: ohm(scheme, p) for p in pairs}, **place)
    decision = decided(document)
    assert (decision.action, decision.verdict.value) == ("test-more", "unproven")
    assert codes(decision)["open-once"] == "unproven"


@pytest.mark.parametrize("scheme", ["six-lead", "three-lead-wye"])
def test_two_readings_that_agree_decide(scheme):
    pairs = ("1-4",) if scheme == "six-lead" else ("1-2", "2-3")
    once = opened(scheme, *pairs)
    open_twice = repeat(once, dict.fromkeys(pairs, "OL"), at="motor-box")
    assert decided(open_twice).action == "rewind-or-replace"
    whole_once = repeat(once, {p: ohm(scheme, p) for p in pairs}, at="motor-box")
    whole_twice = repeat(whole_once, {p: ohm(scheme, p) for p in pairs}, at="motor-box")
    decision = decided(whole_twice)
    assert (decision.action, codes(decision)["contact-lost"]) == ("return-retest", "watch")
    either_way = repeat(whole_twice, dict.fromkeys(pairs, "OL"), at="motor-box")
    assert decided(either_way).action == "test-more"


def test_open_at_the_starter_and_whole_at_the_box_is_the_cable():
    document = whole("three-lead-wye")
    readings = {"1-2": "OL", "2-3": "OL", "3-1": ohm("three-lead-wye", "3-1")}
    decision = decided(repeat(document, readings, at="starter", scope="motor+cable"))
    assert decision.action == "repair-on-site"
    assert "open-once" not in codes(decision)


def held(document, reading, volts_dc):
    tests = [
        t | {"test_voltage_v": volts_dc, "series": [{"t_s": 60, "reading": reading}]} if frame(t) else t
        for t in document["tests"]
    ]
    return document | {"tests": tests}


@pytest.mark.parametrize("rated", [460, 251, 250, 230])
@pytest.mark.parametrize(("volts_dc", "few"), [(50, True), (100, True), (249, True), (250, False), (500, False)])
def test_below_250_volts_nothing_passes_on_a_motor_rated_above_it(rated, volts_dc, few):
    document = motor(sound(), rated_voltage_v=[rated], connected_voltage_v=rated)
    document = plus(document, volts(rated, rated, rated))
    decision = decided(held(document, "900M", volts_dc))
    if few and rated > 250:
        assert (decision.action, decision.verdict.value) == ("test-more", "unproven")
        assert decision.unproven == ("insulation.1-2-3.60",)
    else:
        assert decision.action in ("return", "return-retest")
    failed = decided(held(document, "0.4M", volts_dc))
    assert (failed.action, failed.verdict.value) == ("clean-dry", "act")


def banned(reading):
    document = motor(sound(), insulation_test_forbidden=True)
    tests = [t for t in document["tests"] if not frame(t)]
    by_ohmmeter = {
        "kind": "insulation",
        "from": ["1", "2", "3"],
        "to": ["frame"],
        "series": [{"t_s": 1, "reading": reading}],
    }
    return decided(document | {"tests": [*tests, by_ohmmeter]})


@pytest.mark.parametrize(
    ("reading", "action", "verdict"),
    [
        ("0.02M", "rewind-or-replace", "act"),
        ("1.2M", "return-retest", "watch"),
        ("1.8M", "return-retest", "watch"),
        ("2M", "return-retest", "watch"),
        ("2.1M", "return", "unproven"),
        ("OL", "return", "unproven"),
    ],
)
def test_under_a_ban_the_ohmmeters_suspicion_stays_in_action_and_reasons(reading, action, verdict):
    decision = banned(reading)
    assert (decision.action, decision.verdict.value) == (action, verdict)
    assert [one.why for one in decision.left_out] == ["the maker forbids insulation testing"]
    if action == "return-retest":
        assert "ohmmeter-suspect" in {f.code for f in decision.evidence_for}
        assert "strong suspicion" in decision.why
    if action == "return":
        assert decision.left_out[0].why in decision.why


@pytest.mark.parametrize("scheme", SCHEMES)
def test_a_failure_beside_an_unproven_hold_is_not_dropped(scheme):
    """One hold at too few volts, another near zero: what fails has failed."""
    document = whole(scheme)
    holds = [t for t in document["tests"] if frame(t)]
    low = holds[0] | {"test_voltage_v": 100}
    dead = holds[-1] | {"series": [{"t_s": 60, "reading": "short"}]}
    tests = [low if t is holds[0] else dead if t is holds[-1] else t for t in document["tests"]]
    assert decided(document | {"tests": tests}).action == "rewind-or-replace"


@pytest.mark.parametrize(
    ("marks", "missing"),
    [
        ({60: "520M"}, ("insulation.1-2-3.30",)),
        ({30: "390M", 60: "520M"}, ()),
        ({60: "520M", 600: "1450M"}, ()),
        ({30: "390M"}, ("insulation.1-2-3.60",)),
    ],
)
def test_after_drying_a_ratio_or_an_index_is_asked_and_no_volts_or_amps(marks, missing):
    series = [{"t_s": t, "reading": reading} for t, reading in marks.items()]
    document = sound() | {"occasion": "after-drying"}
    tests = [t | {"series": series} if frame(t) else t for t in document["tests"]]
    tests = [t for t in tests if t["kind"] not in ("line_current", "supply_voltage")]
    decision = decided(document | {"tests": tests})
    assert decision.missing + decision.unproven == missing
    assert decision.verdict.value == ("unproven" if missing else "sound")


@pytest.mark.parametrize(
    ("apart", "action"), [(None, "return"), (10, "return"), (10.1, "test-more"), (40, "test-more")]
)
def test_a_surge_test_told_as_passed_with_waves_apart_is_asked_back(apart, action):
    surge = {"kind": "surge", "result": "pass"} | ({} if apart is None else {"difference_percent": apart})
    decision = decided(plus(sound(), surge))
    assert decision.action == action
    assert "few-turns-hidden" not in codes(decision) or action != "return"


@pytest.mark.parametrize(
    ("reading", "celsius", "verdict"),
    [
        ("12M", 22, "sound"), ("10M", 22, "sound"), ("9.99M", 22, "act"), ("12M", None, "sound"), ("12M", 60, "sound"),
        ("9M", 60, "act"), ("900M", 9, "unproven"), ("9M", 9, "act"), (">8M", 22, "unproven"),
    ],
)  # fmt: skip
def test_the_minimum_of_a_motor_under_water_is_one_as_read(reading, celsius, verdict):
    conditions = {} if celsius is None else {"winding_temperature_c": celsius}
    document = held(sound(), reading, 1000) | {"criteria": "under-water", "conditions": conditions}
    assert assess(read_job(json.dumps(document))).insulation[0].verdict.value == verdict


@pytest.mark.parametrize(("reading", "verdict"), [("6.5M", "act"), ("6.6M", "sound")])
def test_other_schools_correct_to_40_degrees(reading, verdict):
    document = held(sound(), reading, 500) | {"conditions": {"winding_temperature_c": 20}}
    assert assess(read_job(json.dumps(document))).insulation[0].verdict.value == verdict
