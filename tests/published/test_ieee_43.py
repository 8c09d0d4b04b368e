"""IEEE 43-2013, insulation resistance of rotating machines. Every value here is from memory of the standard."""

import pytest

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.insulation.correction import correction_factor
from grimcoil.core.insulation.hold import discharge_s, usual_test_voltage_v
from grimcoil.core.insulation.minimum import Machine, minimum_mohm

# Printed table of K_T for thermosetting insulation, one decimal, by tens of °C.
PRINTED_K = {10: 0.7, 20: 0.8, 30: 0.9, 40: 1.0, 50: 1.5, 60: 2.3, 70: 3.3, 80: 4.6}

# Table 1: rated line voltage -> direct test volts.
TABLE_1 = {
    460: (500, 500),
    999: (500, 500),
    1000: (500, 1000),
    2500: (500, 1000),
    4160: (1000, 2500),
    6600: (2500, 5000),
    13800: (5000, 10000),
}


@pytest.mark.parametrize(("celsius", "printed"), PRINTED_K.items())
def test_correction_rounds_to_the_printed_table(celsius, printed):
    assert round(correction_factor(celsius), 1) == printed


@pytest.mark.parametrize(("rated", "volts"), TABLE_1.items())
def test_table_1(rated, volts):
    assert usual_test_voltage_v(rated) == volts


@pytest.mark.parametrize(
    ("machine", "mohm"),
    [
        (Machine(460), 5),
        (Machine(4000, "form"), 100),
        (Machine(690, "form"), 5),
        (Machine(4000, "form", "thermoplastic", 1960), 5),
    ],
)
def test_table_3(machine, mohm):
    assert minimum_mohm(machine, FIELD_GENERAL)[0] == mohm


def test_discharge_is_four_times_the_hold():
    assert (discharge_s(60), discharge_s(600)) == (240, 2400)
