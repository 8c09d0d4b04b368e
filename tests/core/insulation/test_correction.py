"""Correction to 40 °C and the dew point."""

import pytest

from grimcoil.core.errors import Refusal
from grimcoil.core.insulation.correction import correction_factor
from grimcoil.core.insulation.judge import judge_insulation
from grimcoil.core.measured import InsulationTest
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Conditions, Subject, Winding
from tests.support import series

PLATE = Plate((460,), insulation_class="F", built_year=2015)


RANDOM = Winding()


AT_20 = Conditions(winding_temperature_c=20, ambient_temperature_c=20)


def judged(*points, conditions=AT_20, plate=PLATE, winding=RANDOM, volts=500, **more):
    return judge_insulation(InsulationTest(series(*points), volts, conditions, **more), Subject(plate, winding))


def codes(result):
    return [finding.code for finding in result.findings]


def test_correction_is_refused_outside_its_range():
    for cold_or_hot in (9.9, 85.1):
        with pytest.raises(Refusal, match="10 to 85"):
            correction_factor(cold_or_hot)


def test_below_the_dew_point_it_is_a_wet_surface():
    damp = Conditions(winding_temperature_c=12, ambient_temperature_c=25, relative_humidity_percent=60)
    result = judged((60, "3M"), conditions=damp)
    assert "wet-surface" in codes(result)
