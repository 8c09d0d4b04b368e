"""Units a works types in."""

import pytest

from grimcoil.core.units import CHOICES, USUAL, Units, units_named


@pytest.mark.parametrize(
    ("text", "kept"),
    [
        ("77", "77 °F"),
        (" -4,5 ", "-4,5 °F"),
        ("25 °C", "25 °C"),
        ("77F", "77F"),
        ("77.", "77."),
        ("", ""),
        ("OL", "OL"),
    ],
)
def test_a_bare_figure_of_degrees_says_what_it_is(text, kept):
    assert Units("°F").temperature(text) == kept
    assert USUAL.temperature(text) == text


@pytest.mark.parametrize(
    ("text", "kept"), [("40", "40 hp"), ("7,5", "7,5 hp"), ("11 kW", "11 kW"), ("", ""), ("x", "x")]
)
def test_a_bare_figure_of_power(text, kept):
    assert Units("°C", "hp").rating(text) == kept


@pytest.mark.parametrize("kept", CHOICES)
def test_every_choice_is_read_back_and_anything_else_is_the_usual(kept):
    made = units_named(kept)
    assert f"{made.degrees}, {made.power}" == kept
    assert units_named(None) == units_named("K, W") == USUAL
