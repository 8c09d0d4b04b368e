"""Supply volts: unbalance, level, line to earth."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.fields import VOLTAGE
from grimcoil.core.findings import Verdict
from grimcoil.core.measured import SupplyTest
from grimcoil.core.plate import Plate
from grimcoil.core.readings import parse_reading
from grimcoil.core.subject import Subject
from grimcoil.core.supply import derating, judge_supply, negative_sequence_percent

PLATE = Plate((460,), (21,), service_factor=1.15)


def read(field, names, texts):
    return {name: parse_reading(str(text), field) for name, text in zip(names, texts, strict=True)}


def supply(*volts, system="wye-earthed", earth=()):
    test = SupplyTest(
        read(VOLTAGE, ("L1-L2", "L2-L3", "L3-L1"), volts), read(VOLTAGE, ("L1", "L2", "L3"), earth) if earth else {}
    )
    return judge_supply(test, Subject(PLATE, supply_system=system))


def codes(result):
    return [finding.code for finding in result.findings]


@pytest.mark.parametrize(
    ("volts", "code"),
    [
        ((460, 461, 459), "voltage-balanced"),
        ((478, 471, 482), "voltage-unbalance-watch"),
        ((480, 460, 440), "voltage-unbalance-act"),
        ((480, 200, 200), "voltages-no-triangle"),
    ],
)
def test_unbalance_bands(volts, code):
    assert code in codes(supply(*volts))


@pytest.mark.parametrize(
    ("volts", "code"), [(470, "voltage-level-sound"), (490, "voltage-level-watch"), (400, "voltage-level-act")]
)
def test_level_bands(volts, code):
    assert code in codes(supply(volts, volts, volts))


@pytest.mark.parametrize(
    ("system", "earth", "code"),
    [
        ("wye-earthed", (277, 276, 278), "line-to-earth-fits"),
        ("wye-earthed", (480, 480, 0), "earth-fault"),
        ("wye-earthed", (240, 240, 208), "line-to-earth-misfit"),
        ("corner-earthed", (480, 0, 479), "line-to-earth-fits"),
        ("high-leg", (240, 416, 241), "line-to-earth-fits"),
        ("unearthed", (30, 450, 460), "earth-fault"),
        ("high-resistance-earthed", (270, 280, 281), None),
        ("phase-converter", (10, 200, 300), None),
    ],
)
def test_line_to_earth_is_judged_against_the_declared_system(system, earth, code):
    found = [c for c in codes(supply(480, 480, 480, system=system, earth=earth)) if "earth" in c]
    assert found == ([code] if code else [])


def test_missing_volts_are_unproven():
    assert judge_supply(SupplyTest({}), Subject(PLATE)).verdict is Verdict.UNPROVEN


@pytest.mark.parametrize(("unbalance", "factor"), [(0, 1), (1, 1), (2, 0.95), (2.5, 0.915), (5, 0.75), (5.1, None)])
def test_derating(unbalance, factor):
    assert derating(unbalance) == (None if factor is None else pytest.approx(factor))


@given(st.floats(100, 1000), st.floats(1e-9, 1e-7))
def test_negative_sequence_keeps_its_digits_near_balance(level, part):
    """Near balance the factor of (1+e, 1, 1) is 2e/3 to first order; the textbook form loses it in rounding."""
    assert negative_sequence_percent([level * (1 + part), level, level]) == pytest.approx(200 * part / 3, rel=1e-3)
