"""Supply volts and line currents."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.accessories import judge_accessory
from grimcoil.core.circuit.contacts import judge_contacts
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.current import judge_current
from grimcoil.core.fields import CURRENT, DROP, LOW_OHM, VOLTAGE
from grimcoil.core.findings import Verdict
from grimcoil.core.measured import AccessoryTest, ContactTest, CurrentTest, SupplyTest
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


def current(*amps, volts=None, brake=None):
    test = CurrentTest(read(CURRENT, ("L1", "L2", "L3"), amps), brake or {})
    return judge_current(test, Subject(PLATE), volts)


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


@pytest.mark.parametrize(
    ("amps", "pattern", "code"),
    [
        ((17.2, 17.3, 17.1), "even", "current-balanced"),
        ((0.2, 30, 31), "line-lost", "line-lost"),
        ((20, 17, 17), "one-high", "current-unbalance-act"),
        ((19.6, 19.5, 17), "brake-pair", "current-unbalance-watch"),
        ((23, 23, 23), "even", "current-over-plate"),
        ((26, 26, 26), "all-high", "overload-alike"),
        ((26, 26, 30), "one-high", "current-over-service-factor"),
        ((2.0, 30, 31), "line-lost", "line-lost"),
        ((6, 6, 6), "all-low", "current-all-low"),
        ((3, 3, 3), "all-low", "current-all-low"),
        ((17, 18.3, 19.6), "unclassified", "current-unbalance-watch"),
    ],
)
def test_current_patterns(amps, pattern, code):
    result = current(*amps)
    assert result.pattern == pattern
    assert code in codes(result)


def test_volts_explain_current_unbalance_first():
    assert "current-unbalance-from-volts" in codes(current(17.2, 19.6, 17.9, volts=1.26))
    assert "current-unbalance-watch" in codes(current(17.2, 19.6, 17.9, volts=0.3))


def test_a_brakes_current_is_taken_off_first():
    result = current(19.2, 19.2, 17.2, brake={"L1": 2.0, "L2": 2.0})
    assert result.pattern == "even"
    assert "brake-pair" in codes(result)


def test_contact_drops():
    drops = ContactTest(read(DROP, ("L1", "L2", "L3"), ("0.11", "0.12", "0.12")), 18.0)
    result = judge_contacts(drops, FIELD_GENERAL)
    assert (result.worst, result.watts) == ("L2", pytest.approx(2.16))
    assert result.verdict is Verdict.SOUND
    high = ContactTest(read(DROP, ("L1", "L2", "L3"), ("0.11", "0.20", "0.12")))
    assert codes(judge_contacts(high, FIELD_GENERAL)) == ["contact-drop-high"]
    burnt = ContactTest(read(DROP, ("L1", "L2"), ("0.1", "17")))
    assert codes(judge_contacts(burnt, FIELD_GENERAL)) == ["contact-drop-burnt"]
    assert judge_contacts(ContactTest({}), FIELD_GENERAL).verdict is Verdict.UNPROVEN


@pytest.mark.parametrize(
    ("what", "text", "to_frame", "code"),
    [
        ("thermostat", "0.1", "OL", "accessory-sound"),
        ("thermostat", "OL", None, "accessory-off"),
        ("rtd", "107.8", None, "rtd-sound"),
        ("rtd", "OL", None, "rtd-off"),
        ("brake", "120", "4.7k", "accessory-to-frame"),
        ("encoder", None, None, "accessory-off"),
    ],
)
def test_accessories(what, text, to_frame, code):
    test = AccessoryTest(what, text and parse_reading(text, LOW_OHM), to_frame and parse_reading(to_frame, LOW_OHM))
    assert code in codes(judge_accessory(test, FIELD_GENERAL))
