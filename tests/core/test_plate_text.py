"""What plates print: signs of thousands, other units, two values with a stroke, years of two digits."""

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.errors import RecordRefusal, UnclearReading
from grimcoil.core.plate import parse_power
from grimcoil.core.plate_text import AMPS, HERTZ, SPEED, VOLTS, figures, measure, pair, year

READ = [
    ("0,38 kV", VOLTS, "V", 10, 15000, "380"),
    ("6.6kV", VOLTS, "V", 10, 15000, "6600"),
    ("400 V", VOLTS, "V", 10, 15000, "400"),
    ("10'500 V", VOLTS, "V", 10, 15000, "10500"),
    ("1 455", SPEED, "r/min", 50, 30000, "1455"),
    ("1\u202f455 min-1", SPEED, "r/min", 50, 30000, "1455"),
    ("1.455", SPEED, "r/min", 50, 30000, "1455"),
    ("1,455 rpm", SPEED, "r/min", 50, 30000, None),
    ("1455/min", SPEED, "r/min", 50, 30000, "1455"),
    ("50 c/s", HERTZ, "Hz", 10, 400, "50"),
    ("60~", HERTZ, "Hz", 10, 400, "60"),
    ("19,6 A", AMPS, "A", 0.05, 5000, "19.6"),
    ("1.455 A", AMPS, "A", 0.05, 5000, "1.455"),
]


@pytest.mark.parametrize(("text", "units", "unit", "least", "most", "value"), READ)
def test_a_figure_as_a_plate_prints_it(text, units, unit, least, most, value):
    if value is None:
        value = "1455"  # 1.455 r/min is none that a motor turns at
    assert measure(text, units, unit, least, most) == Decimal(value)


@pytest.mark.parametrize(
    "text", ["", "kV", "380 mm", "3-80", "1 45", "12 34 V", "1,45,5,", "999 999 V", "-400", "400 V 3", "1e3", "４００"]
)
def test_what_is_no_figure_is_refused(text):
    with pytest.raises(RecordRefusal):
        measure(text, VOLTS, "V", 10, 15000)


def test_a_comma_that_can_be_two_signs_is_asked():
    with pytest.raises(UnclearReading) as asked:
        measure("1,455", AMPS, "A", 0.05, 5000)
    assert asked.value.choices == ("1.455", "1455")


@given(st.integers(1000, 999_999_999), st.sampled_from([" ", "'", "\u00a0", "\u2009", "’"]))
def test_signs_of_thousands_change_nothing(value, sign):
    assert figures(f"{value:,}".replace(",", sign)) == [Decimal(value)]


@given(st.decimals(0, 9_999_999, places=2, allow_nan=False))
def test_both_ways_of_writing_a_large_figure_are_the_same(value):
    written = f"{value:,.2f}"
    turned = written.translate(str.maketrans(",.", ".,"))
    assert figures(written)[0] == figures(turned)[0] == value


@pytest.mark.parametrize(
    ("text", "parts"),
    [
        ("230/460", ("230", "460")),
        ("19.6/9.8", ("19.6", "9.8")),
        ("400D/690Y", ("400", "690")),
        ("400 Δ / 690 Y V", ("400 V", "690 V")),
        ("220-380", None),
        ("1/2/3", None),
        ("/460", None),
    ],
)
def test_two_values_of_one_plate(text, parts):
    assert pair(text) == parts


def test_a_year_of_two_digits_is_asked_and_never_lies_ahead():
    for text, meant in (("58", "1958"), ("'26", "2026"), ("27", "1927")):
        with pytest.raises(RecordRefusal, match=meant):
            year(text, 2026)
    assert year("1958", 2026) == 1958
    for wrong in ("2027", "1879", "195", "19588", "nine"):
        with pytest.raises(RecordRefusal):
            year(wrong, 2026)


def test_powers_in_units_of_old_plates():
    """Metric horsepower: 75 kgf·m/s, 735.49875 W, by definition; mechanical horsepower 745.7 W, the handbook's."""
    assert parse_power("15 PS") == pytest.approx(11032.48125)
    assert parse_power("15 hp") == pytest.approx(11185.5)
    assert parse_power("1 250 kW") == 1_250_000
    for wrong in ("15", "15 ft", "kW", "30 000 kW"):
        with pytest.raises(RecordRefusal):
            parse_power(wrong)
