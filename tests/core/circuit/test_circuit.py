"""Cable, poles, fuses, coils, overload: what is read between starter and motor box."""

import pytest

from grimcoil.core.circuit.cable import conductor_ohm, judge_cable, ohm_per_km
from grimcoil.core.circuit.coils import judge_brake, judge_capacitor, judge_contactor_coil
from grimcoil.core.circuit.contacts import judge_poles
from grimcoil.core.circuit.fuses import judge_fuse
from grimcoil.core.circuit.overload import overload_findings
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.fields import CURRENT, DEAD_VOLTAGE, INSULATION, LOW_OHM, VOLTAGE
from grimcoil.core.measured import (
    BrakeTest,
    CableTest,
    CapacitorTest,
    ContactorCoilTest,
    FuseTest,
    OverloadPoleTest,
)
from grimcoil.core.plate import Plate
from grimcoil.core.readings import parse_reading
from grimcoil.core.subject import Cable, Fittings, Overload


def codes(result):
    return [finding.code for finding in result.findings]


def low(text):
    return text and parse_reading(text, LOW_OHM)


def named(field, **texts):
    return {name.replace("_", "-"): parse_reading(text, field) for name, text in texts.items()}


def test_cable_ohms_carry_their_source():
    looked = ohm_per_km(Cable(size_mm2=6))
    assert (looked.value, looked.source[:9]) == (3.08, "IEC 60228")
    assert ohm_per_km(Cable(size_awg="10")).value == pytest.approx(3.28, abs=0.01)
    assert ohm_per_km(Cable(size_mm2=5)).value == pytest.approx(17.2414 / 5)
    assert ohm_per_km(Cable(size_mm2=6, conductor="aluminium")).value > 4.9
    assert ohm_per_km(Cable()) is None
    assert conductor_ohm(Cable(6, 40)) == pytest.approx(0.1232)
    assert conductor_ohm(Cable(6, 40), 70) == pytest.approx(0.1232 * 304.5 / 254.5)
    assert conductor_ohm(Cable(6)) is None


APART = {"U_V": "OL", "V_W": "900", "W_U": "OL"}
EARTH = {"U": "OL", "V": "OL", "W": "OL"}


@pytest.mark.parametrize(
    ("cores", "earth", "found"),
    [
        (APART, {"U": "OL", "V": "OL", "W": "OL"}, ["cable-clear", "cable-clear"]),
        (APART, {"U": "OL", "V": "OL"}, ["cable-clear", "cable-clear", "reading-missing"]),
        ({**APART, "U_V": "20k"}, {}, ["cable-between-cores", "reading-missing"]),
        ({"U_V": "OL", "V_U": "OL", "V_W": "OL"}, EARTH, ["cable-clear", "cable-clear", "reading-missing"]),
        ({}, {"U": "short", "V": "800"}, ["cable-to-earth", "reading-missing"]),
        ({}, {"U": "2"}, ["cable-to-earth", "reading-missing"]),
        ({}, {}, ["reading-missing"]),
    ],
)
def test_a_cable_alone_with_its_far_end_open(cores, earth, found):
    test = CableTest(named(INSULATION, **cores), named(INSULATION, **earth))
    assert codes(judge_cable(test, Cable(6, 40), FIELD_GENERAL)) == found


def test_megohms_times_length():
    result = judge_cable(CableTest({}, named(INSULATION, U="500")), Cable(6, 40), FIELD_GENERAL)
    assert result.lowest_mohm_km == pytest.approx(20)


@pytest.mark.parametrize(
    ("loops", "code", "words"),
    [
        ({"U_V": "0.25", "V_W": "0.25", "W_U": "0.25"}, "cable-clear", ""),
        ({"U_V": "OL", "V_W": "OL", "W_U": "0.25"}, "cable-core-open", "core V"),
        ({"U_V": "0.55", "V_W": "0.25", "W_U": "0.55"}, "cable-joint-high", "U-V"),
        ({"U_V": "beep", "V_W": "0.25", "W_U": "0.25"}, "beep-only", ""),
        ({"U_V": "0.25", "V_W": "0.25"}, "cable-clear", ""),
    ],
)
def test_a_cable_looped_at_its_far_end(loops, code, words):
    result = judge_cable(CableTest(named(LOW_OHM, **loops), end="joined"), Cable(6, 40), FIELD_GENERAL)
    assert codes(result) == [code, *(["reading-missing"] if len(loops) < 3 else [])]
    assert words in result.findings[0].text


@pytest.mark.parametrize(
    ("state", "text", "code", "blown"),
    [
        ("out", "0.1", "fuse-sound", False),
        ("out", "OL", "fuse-blown", True),
        ("out", "2 MΩ", "fuse-blown", True),
        ("out", "35", "fuse-unproven", None),
        ("out", "beep", "fuse-unproven", None),
        ("live-loaded", "0.02", "fuse-sound", False),
        ("live-unloaded", "0.02", "fuse-unproven", None),
        ("live-unloaded", "476", "fuse-blown", True),
        ("live-loaded", None, "reading-missing", None),
    ],
)
def test_fuses(state, text, code, blown):
    field = LOW_OHM if state == "out" else DEAD_VOLTAGE
    result = judge_fuse(FuseTest("F2", state, text and parse_reading(text, field)), FIELD_GENERAL)
    assert (codes(result), result.blown) == ([code], blown)


@pytest.mark.parametrize(
    ("texts", "code"),
    [
        (("0.1", "0.1", "0.1"), "poles-alike"),
        (("0.10", "0.40", "0.10"), "poles-differ"),
        (("0.1", "OL", "0.1"), "pole-open"),
        (("0.1", "12", "0.1"), "pole-high-ohms"),
        (("0.1", "beep", "0.1"), "reading-missing"),
    ],
)
def test_poles_dead(texts, code):
    test = OverloadPoleTest({f"L{i}": low(text) for i, text in enumerate(texts, start=1)})
    assert codes(judge_poles(test, FIELD_GENERAL)) == [code]


@pytest.mark.parametrize(
    ("volts", "ohms", "rated", "pulls", "found"),
    [
        ("118", None, 120, False, ["coil-open-circuit"]),
        ("118", "OL", 120, False, ["coil-open-circuit", "coil-open-circuit"]),
        ("2", None, 120, False, ["coil-no-volts"]),
        (None, "0.2", None, None, ["coil-shorted"]),
        ("119", "260", 120, True, ["coil-sound", "coil-sound"]),
        (None, None, None, None, ["reading-missing"]),
    ],
)
def test_contactor_coils(volts, ohms, rated, pulls, found):
    test = ContactorCoilTest(volts and parse_reading(volts, DEAD_VOLTAGE), low(ohms), rated, pulls)
    assert codes(judge_contactor_coil(test)) == found


@pytest.mark.parametrize(
    ("text", "frame", "marked", "found"),
    [
        ("118", "OL", 120.0, ["brake-coil-fits"]),
        ("90", None, 120.0, ["brake-coil-off"]),
        ("90", None, None, ["brake-coil-fits"]),
        ("OL", "20k", 120.0, ["brake-coil-off", "accessory-to-frame"]),
        (None, None, None, ["reading-missing"]),
    ],
)
def test_brakes(text, frame, marked, found):
    test = BrakeTest(low(text), frame and parse_reading(frame, INSULATION))
    assert codes(judge_brake(test, Fittings(brake_coil_ohm=marked), FIELD_GENERAL)) == found
    assert codes(judge_brake(BrakeTest(lifts=False), Fittings(), FIELD_GENERAL)) == ["brake-not-lifting"]


@pytest.mark.parametrize(
    ("amps", "marked", "code"),
    [("3.62", 20, "capacitor-fits"), ("2.50", 20, "capacitor-off"), ("3.62", None, "reading-missing")],
)
def test_capacitors(amps, marked, code):
    """20 µF at 480 V and 60 Hz takes 2 π · 60 · 480 · 20e-6 = 3.62 A (computed)."""
    test = CapacitorTest(parse_reading(amps, CURRENT), parse_reading("480", VOLTAGE), 60, marked)
    result = judge_capacitor(test, FIELD_GENERAL)
    assert codes(result) == [code]
    assert result.capacitance_uf == pytest.approx(float(amps) / (2 * 3.14159265 * 60 * 480) * 1e6)


PLATE = Plate((460,), (21.0,), service_factor=1.15)


@pytest.mark.parametrize(
    ("relay", "plate", "code"),
    [
        (Overload(21), PLATE, "overload-dial-fits"),
        (Overload(23), PLATE, "overload-dial-high"),
        (Overload(26), PLATE, "overload-trips-high"),
        (Overload(24), Plate((460,), (21.0,)), "overload-trips-high"),
        (Overload(18), PLATE, "overload-dial-low"),
        (Overload(12.1, inside_delta=True), PLATE, "overload-dial-fits"),
        (Overload(21, inside_delta=True), PLATE, "overload-trips-high"),
        (Overload(21, 10, run_up_s=12), PLATE, "overload-class-short"),
        (Overload(21, automatic_reset=True), PLATE, "overload-automatic-reset"),
        (Overload(), PLATE, None),
    ],
)
def test_overload_settings(relay, plate, code):
    found = [finding.code for finding in overload_findings(relay, plate)]
    assert code in found if code else found == []
