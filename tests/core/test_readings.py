"""The grammar of readings."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.errors import ReadingRefusal, Refusal, UnclearReading
from grimcoil.core.fields import CURRENT, FIELDS, HUMIDITY, INSULATION, LOW_OHM, TEMPERATURE, VOLTAGE, WINDING
from grimcoil.core.readings import LONGEST, Shown, as_text, parse_reading, say


@pytest.mark.parametrize(
    ("text", "field", "ohm"),
    [
        ("2.41", WINDING, 2.41),
        ("2,41", WINDING, 2.41),
        ("2.41 ohm", WINDING, 2.41),
        ("2.41 Ω", WINDING, 2.41),
        ("2.41 \u2126", WINDING, 2.41),
        ("410 mΩ", WINDING, 0.41),
        ("410 milliohms", WINDING, 0.41),
        ("250 µΩ", WINDING, 0.00025),
        ("1.2k", WINDING, 1200),
        ("1.2K", WINDING, 1200),
        ("0,520", WINDING, 0.52),
        ("1,234.5", WINDING, 1234.5),
        ("1.234,5", WINDING, 1234.5),
        ("520", INSULATION, 520e6),
        ("550M", INSULATION, 550e6),
        ("1.3 G", INSULATION, 1.3e9),
        ("1.3 GΩ", INSULATION, 1.3e9),
        ("2 TΩ", INSULATION, 2e12),
        ("2 megohms", INSULATION, 2e6),
        ("300 kohm", INSULATION, 300e3),
        ("short", INSULATION, 0),
        ("478", VOLTAGE, 478),
        ("0.48 kV", VOLTAGE, 480),
        ("17,2 A", CURRENT, 17.2),
        ("-5", TEMPERATURE, -5),
        ("50 °F", TEMPERATURE, 10),
        ("55 %", HUMIDITY, 55),
        ("55 %RH", HUMIDITY, 55),
    ],
)
def test_values(text, field, ohm):
    reading = parse_reading(text, field)
    assert reading.amount.is_exact
    assert math.isclose(reading.amount.value, ohm, rel_tol=1e-15)
    assert reading.text == text


@pytest.mark.parametrize(
    ("text", "field", "low", "high"),
    [
        (">550M", INSULATION, 550e6, math.inf),
        ("550M+", INSULATION, 550e6, math.inf),
        (">= 550M", INSULATION, 550e6, math.inf),
        ("<0.1", INSULATION, 0, 1e5),
        ("<0.1", WINDING, 0, 0.1),
        ("10–100 MΩ", INSULATION, 10e6, 100e6),
        ("10-100", INSULATION, 10e6, 100e6),
        ("10 to 100M", INSULATION, 10e6, 100e6),
    ],
)
def test_bounds_and_lamp_bands_stay_what_they_are(text, field, low, high):
    assert parse_reading(text, field).amount == Amount(low, high)


@pytest.mark.parametrize("text", ["OL", "O.L", "0L", "0.L", "open", "∞", "OL MΩ", "over range"])
def test_over_range_is_no_number_until_the_top_is_known(text):
    reading = parse_reading(text, INSULATION)
    assert reading.shown is Shown.OVER_RANGE
    assert reading.amount.bound is Bound.NOTHING
    assert reading.with_top(550e6).amount == Amount.above(550e6)
    assert reading.with_top(None) == reading


def test_a_value_keeps_its_value_whatever_the_top():
    reading = parse_reading("520M", INSULATION)
    assert reading.with_top(550e6) == reading


@pytest.mark.parametrize(("text", "shown"), [("beep", Shown.BEEP), ("no beep", Shown.NO_BEEP)])
def test_beeps_are_evidence_never_a_value(text, shown):
    reading = parse_reading(text, WINDING)
    assert reading.shown is shown
    assert reading.amount.bound is Bound.NOTHING


@pytest.mark.parametrize(
    ("text", "choices"),
    [
        ("1,200", ("1.200 Ω", "1200 Ω")),
        ("410M", ("410 mΩ", "OL")),
    ],
)
def test_two_meanings_on_a_winding_are_asked_back(text, choices):
    with pytest.raises(UnclearReading) as asked:
        parse_reading(text, WINDING)
    assert asked.value.choices == choices
    for choice in choices:
        parse_reading(choice, WINDING)


@pytest.mark.parametrize("text", ["0", "0.00", "0 MΩ", "zero", "nothing"])
def test_zero_to_frame_is_asked_back(text):
    with pytest.raises(UnclearReading) as asked:
        parse_reading(text, INSULATION)
    assert asked.value.choices == ("short", "OL")


def test_milliohms_to_frame_are_asked_back_not_converted():
    with pytest.raises(UnclearReading) as asked:
        parse_reading("2 mΩ", INSULATION)
    assert asked.value.choices == ("2 MΩ", "short")


@pytest.mark.parametrize(
    ("text", "field"),
    [
        ("abc", WINDING),
        ("4..2", WINDING),
        ("OLL", WINDING),
        ("", WINDING),
        ("-2", WINDING),
        ("2.", WINDING),
        ("1e3", WINDING),
        ("12 V", WINDING),
        ("100-10", INSULATION),
        ("OL", VOLTAGE),
        ("9999", TEMPERATURE),
        ("20 K", TEMPERATURE),
        ("beep", INSULATION),
        ("9" * (LONGEST + 1), WINDING),
    ],
)
def test_refusals_name_field_found_and_accepted(text, field):
    with pytest.raises(ReadingRefusal) as refused:
        parse_reading(text, field, "tests.0")
    refusal = refused.value
    assert refusal.where == "tests.0"
    assert refusal.accepted
    assert refusal.found == text or refusal.found.endswith("…")
    assert refusal.sentence().endswith(".")


@pytest.mark.parametrize(
    ("text", "field", "words"),
    [
        ("2.41", WINDING, "2.41 ohms"),
        ("41 mΩ", WINDING, "41 milliohms"),
        ("550M+", INSULATION, "More than 550 megohms"),
        ("<0.1", INSULATION, "Less than 0.1 megohms"),
        ("10-100", INSULATION, "Between 10 megohms and 100 megohms"),
        ("short", INSULATION, "Dead short to frame, 0 ohms"),
        ("OL", INSULATION, "Over range: above this range's top"),
        ("478", VOLTAGE, "478 volts"),
        ("70F", TEMPERATURE, "21.1 degrees Celsius"),
        ("beep", LOW_OHM, "Beep: below some tens of ohms, not a value"),
    ],
)
def test_said_back_in_words(text, field, words):
    assert say(parse_reading(text, field), field) == words


def test_over_range_is_said_with_the_top_once_known():
    reading = parse_reading("OL", INSULATION).with_top(550e6)
    assert say(reading, INSULATION) == "Over range: more than 550 megohms"


amounts = st.floats(1e-9, 1e12).flatmap(
    lambda v: st.sampled_from([Amount.exact(v), Amount.above(v), Amount.below(v), Amount(v / 3, v)])
)


@given(amounts, st.sampled_from([WINDING, INSULATION]))
def test_text_reading_text_round_trip(amount, field):
    text = as_text(amount, field)
    if len(text) > LONGEST:
        return
    again = parse_reading(text, field).amount
    assert again == amount


@given(st.text(max_size=60), st.sampled_from(list(FIELDS.values())))
def test_any_text_is_read_or_refused(text, field):
    try:
        reading = parse_reading(text, field)
    except Refusal as refusal:
        assert refusal.sentence()
    else:
        assert reading.amount.low <= reading.amount.high
        assert say(reading, field)


@given(st.from_regex(r"\d{1,6}(\.\d{1,5})? ?[mkMG]?(Ω|ohm)?", fullmatch=True), st.sampled_from(list(FIELDS.values())))
def test_the_quick_way_reads_what_the_whole_grammar_reads(text, field):
    """A trailing space keeps the quick way out."""

    def read(words):
        try:
            reading = parse_reading(words, field)
        except ReadingRefusal as refusal:
            return type(refusal), refusal.accepted
        return reading.shown, reading.amount, reading.count, reading.text

    assert read(text) == read(f"{text} ")
