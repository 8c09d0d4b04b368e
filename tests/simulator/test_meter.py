"""The front of a simulated instrument: SCPI words, digits by range, over range, errors that wait."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.simulator.machine import Machine
from grimcoil.simulator.meter import KINDS, NOT_A_NUMBER, OVER, OVERFLOW, QUEUED, STALE, UNDEFINED, Meter, shown


@pytest.mark.parametrize("words", ["MEAS:FRES?", "measure:fresistance?", ":MEAS:FRES?", "Meas:FResistance?"])
def test_long_and_short_forms_in_either_case_are_one(words):
    assert float(Meter("low-ohm").answer(words)) == pytest.approx(0.5007, abs=2e-4)


def test_what_is_asked_in_one_line_is_answered_in_one():
    assert Meter("clamp").answer("*CLS;*OPC?;SYST:VERS?;*IDN?").split(";")[:2] == ["1", "1999.0"]


def test_the_digits_are_those_of_the_lowest_range_that_holds_it():
    meter = Meter("low-ohm", Machine(coil_ohm=0.05))
    assert meter.answer("MEAS:FRES?") == "1.0013E-01"
    meter.machine = Machine(coil_ohm=5.0)
    assert meter.answer("READ?") == "1.0013E+01"


def test_a_multimeter_reads_its_own_leads_too_and_an_open_as_over_range():
    meter = Meter("multimeter", Machine(coil_ohm=0.5))
    meter.answer("CONF:RES")
    assert meter.answer("CONF?") == '"RES"'
    assert meter.answer("READ?") == "1.2E+00"
    meter.answer("SIM:MOTOR six-lead,480,20,0.5")
    assert meter.answer("MEAS:RES?") == OVER


def test_an_insulation_tester_is_not_started_from_the_wire():
    meter = Meter("insulation")
    for words in ("MEAS:RES?", "READ?", "INIT", "FETC?"):
        assert meter.answer(words) in ("", NOT_A_NUMBER)
        assert meter.answer("SYST:ERR?") == STALE
    meter.answer("SIM:PROBES 1+2+3,frame,60")
    assert float(meter.answer("FETC?")) == pytest.approx(1e9, rel=0.02)


def test_a_clamp_round_two_cores_reads_next_to_nothing():
    meter = Meter("clamp", Machine(amps=20))
    meter.answer("SIM:PROBES L1,-")
    assert float(meter.answer("MEAS:CURR:AC?")) == pytest.approx(18, rel=0.01)
    meter.answer("SIM:PROBES L1+L2,-")
    assert float(meter.answer("MEAS:CURR:AC?")) < 1


def test_errors_wait_in_line_and_the_last_says_that_more_were_lost():
    meter = Meter("clamp")
    for _ in range(QUEUED + 5):
        meter.answer("NONSENSE")
    told = [meter.answer("SYST:ERR?") for _ in range(QUEUED + 1)]
    assert told == [*[UNDEFINED] * (QUEUED - 1), OVERFLOW, '0,"No error"']


def test_another_instruments_function_is_an_error_and_no_figure():
    meter = Meter("clamp")
    assert meter.answer("MEAS:TEMP?") == NOT_A_NUMBER
    assert meter.answer("SYST:ERR:NEXT?") == UNDEFINED


@pytest.mark.parametrize(
    "words",
    [
        "SIM:MOTOR six-lead,0,1,1",
        "SIM:MOTOR x,1,1,1",
        "SIM:MOTOR six-lead,1",
        "SIM:PROBES 1",
        "SIM:PROBES 1,2,nan",
        "SIM:PROBES 1,2,-1",
        "SIM:MOTOR six-lead,1,1,nan",
        "SIM:MOTOR six-lead,1,1,1e-320",
    ],
)
def test_a_motor_or_a_place_that_cannot_be_is_out_of_range(words):
    meter = Meter("low-ohm")
    before = meter.machine
    meter.answer(words)
    assert meter.answer("SYST:ERR?") == '-222,"Data out of range"'
    assert meter.machine == before


@given(st.text(max_size=200), st.sampled_from(sorted(KINDS)))
def test_no_line_breaks_it(line, kind):
    meter = Meter(kind)
    meter.answer(line.replace("\n", ""))
    assert meter.answer("*OPC?") == "1"


@given(st.floats(1e-5, 1e10), st.sampled_from([1e-5, 1e-3, 0.1, 1.0, 1e6]))
def test_what_is_shown_is_the_value_within_half_a_digit(value, digit):
    assert abs(float(shown(value, digit)) - value) <= digit * 0.500001
