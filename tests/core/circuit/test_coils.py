"""Coils of contactor and brake, and capacitors."""

import pytest

from grimcoil.core.circuit.coils import judge_brake, judge_capacitor, judge_contactor_coil
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.fields import CURRENT, DEAD_VOLTAGE, INSULATION, LOW_OHM, VOLTAGE
from grimcoil.core.measured import (
    BrakeTest,
    CapacitorTest,
    ContactorCoilTest,
)
from grimcoil.core.readings import parse_reading
from grimcoil.core.subject import Fittings


def codes(result):
    return [finding.code for finding in result.findings]


def low(text):
    return text and parse_reading(text, LOW_OHM)


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
