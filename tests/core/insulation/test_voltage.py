"""Which test voltage, by which school."""

import pytest

from grimcoil.core.plate import Plate
from tests.core.insulation.given import codes, judged


@pytest.mark.parametrize(
    ("volts", "rated", "code"), [(1000, 460, "test-voltage-high"), (250, 460, "test-voltage-low"), (500, 2300, None)]
)
def test_test_voltage(volts, rated, code):
    found = codes(judged((60, "9000M"), plate=Plate((rated,)), volts=volts))
    assert [c for c in found if c.startswith("test-voltage")] == ([code] if code else [])
