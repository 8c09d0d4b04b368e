"""A cable alone: its ohms with their source, core to core, to earth, looped at the far end."""

import pytest

from grimcoil.core.circuit.cable import conductor_ohm, judge_cable, ohm_per_km
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.fields import INSULATION, LOW_OHM
from grimcoil.core.measured import (
    CableTest,
)
from grimcoil.core.readings import parse_reading
from grimcoil.core.subject import Cable


def codes(result):
    return [finding.code for finding in result.findings]


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


def test_a_terminal_block_is_told_as_itself_and_has_no_length():
    studs = {"1-2": "OL", "2-3": "OL", "3-1": "2"}
    earth = {"1": "OL", "2": "OL"}
    test = CableTest(named(INSULATION, **studs), named(INSULATION, **earth), what="terminal-block")
    result = judge_cable(test, Cable(6, 40), FIELD_GENERAL)
    assert codes(result) == ["cable-clear", "terminal-block-bad", "reading-missing"]
    assert "clean off tracks" in result.findings[1].text
    assert "three studs" in result.findings[2].text
    assert result.lowest_mohm_km is None
    bad = CableTest({}, named(INSULATION, **{"3": "0.01"}), what="terminal-block")
    assert "the block is bad" in judge_cable(bad, Cable(), FIELD_GENERAL).findings[0].text


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
