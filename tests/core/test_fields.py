"""Kinds of readings: a bare number takes the home unit, spoken as people say it."""

import pytest

from grimcoil.core.fields import EXPONENT, FIELDS, INSULATION, PREFIX, WINDING, spoken_unit
from grimcoil.core.readings import parse_reading


@pytest.mark.parametrize("field", FIELDS.values(), ids=list(FIELDS))
def test_a_bare_number_is_in_the_home_unit(field):
    reading = parse_reading("7", field)
    assert reading.amount.value == pytest.approx(7 * field.home_factor)
    assert field.home in field.prefixes
    assert field.prefixes <= set(PREFIX)
    assert field.home_unit.endswith(field.unit)


def test_units_as_they_are_spoken():
    assert INSULATION.home_words == "megohms"
    assert spoken_unit(WINDING, "m") == "milliohms"
    assert spoken_unit(WINDING, "k") == "kilohms"
    assert spoken_unit(FIELDS["voltage"], "k") == "kilovolts"
    assert all(PREFIX[name] == pytest.approx(10.0**power) for name, power in EXPONENT.items())
