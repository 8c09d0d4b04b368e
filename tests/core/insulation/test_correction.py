"""Correction to 40 °C and the dew point."""

import pytest

from grimcoil.core.errors import Refusal
from grimcoil.core.insulation.correction import correction_factor
from grimcoil.core.subject import Conditions
from tests.core.insulation.given import codes, judged


def test_correction_is_refused_outside_its_range():
    for cold_or_hot in (9.9, 85.1):
        with pytest.raises(Refusal, match="10 to 85"):
            correction_factor(cold_or_hot)


def test_below_the_dew_point_it_is_a_wet_surface():
    damp = Conditions(winding_temperature_c=12, ambient_temperature_c=25, relative_humidity_percent=60)
    result = judged((60, "3M"), conditions=damp)
    assert "wet-surface" in codes(result)
