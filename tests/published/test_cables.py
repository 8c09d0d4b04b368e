"""IEC 60228 class 2 and ASTM B258 conductors. Every value here is from memory of the standards."""

import pytest

from grimcoil.core.accessories import pt100_celsius, pt100_ohm
from grimcoil.core.circuit.cable import IEC_60228_OHM_PER_KM, awg_diameter_mm, ohm_per_km
from grimcoil.core.subject import Cable

# mm² -> largest Ω/km at 20 °C, class 2, plain copper.
CLASS_2 = {
    1.5: 12.1,
    2.5: 7.41,
    4: 4.61,
    6: 3.08,
    10: 1.83,
    16: 1.15,
    25: 0.727,
    35: 0.524,
    50: 0.387,
    70: 0.268,
    95: 0.193,
}

# AWG -> mm, and Ω/km of solid annealed copper at 20 °C.
B258 = {
    "14": (1.628, 8.286),
    "12": (2.053, 5.211),
    "10": (2.588, 3.277),
    "6": (4.115, 1.296),
    "2": (6.544, 0.5127),
    "4/0": (11.684, 0.1608),
}

# IEC 60751 Pt100, °C -> Ω.
PT100 = {0: 100.00, 20: 107.79, 50: 119.40, 100: 138.51, 155: 159.19}


@pytest.mark.parametrize(("size", "ohm"), CLASS_2.items())
def test_class_2(size, ohm):
    assert ohm_per_km(Cable(size_mm2=size)).value == ohm
    assert 17.2414 / size <= IEC_60228_OHM_PER_KM[size] <= 1.13 * 17.2414 / size  # never better than the copper


@pytest.mark.parametrize(("size", "values"), B258.items())
def test_gauges(size, values):
    assert awg_diameter_mm(size) == pytest.approx(values[0], abs=6e-4)
    assert ohm_per_km(Cable(size_awg=size)).value == pytest.approx(values[1], rel=1e-3)


@pytest.mark.parametrize(("celsius", "ohm"), PT100.items())
def test_pt100(celsius, ohm):
    assert pt100_ohm(celsius) == pytest.approx(ohm, abs=0.006)
    assert pt100_celsius(ohm) == pytest.approx(celsius, abs=0.02)
