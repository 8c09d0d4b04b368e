"""Which test voltage, by which school."""

import pytest

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


@pytest.mark.parametrize(
    ("volts", "rated", "code"), [(1000, 460, "test-voltage-high"), (250, 460, "test-voltage-low"), (500, 2300, None)]
)
def test_test_voltage(volts, rated, code):
    found = codes(judged((60, "9000M"), plate=Plate((rated,)), volts=volts))
    assert [c for c in found if c.startswith("test-voltage")] == ([code] if code else [])
