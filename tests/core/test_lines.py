"""Nothing hides in a line of text."""

from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.lines import hides, shown_as_such


@given(st.text())
def test_every_hidden_character_is_written_out_and_none_is_lost(text):
    shown = shown_as_such(text)
    assert not any(hides(character) for character in shown)
    assert len(shown) >= len(text)
    assert shown_as_such(shown) == shown


@given(st.text(st.characters(whitelist_categories=("L", "N", "P", "S"))))
def test_what_can_be_seen_stays(text):
    assert shown_as_such(text) == text
