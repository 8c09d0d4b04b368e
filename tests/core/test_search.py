"""Search by words: spelt otherwise, broken by signs, with a slip of the finger."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.search import asked, asked_pieces, bare, nearness, pieces, words_of


@pytest.mark.parametrize("spelt", ["BW-114", "bw 114", "BW114", "Bw_114", "bẃ-114"])
def test_one_tag_in_many_spellings(spelt):
    assert bare(spelt) == "bw114"


def test_words_whole_and_in_parts():
    assert words_of(["BW-114 Feed pump"]) == ["bw114", "bw", "114", "feed", "pump"]
    assert asked("  Feed  pump ") == ["feed", "pump"]
    assert len(asked("a b c d e f g h i j k")) == 8


@given(st.text(st.sampled_from("abcdefgh123"), min_size=3, max_size=10), st.integers(1, 10))
def test_what_is_being_typed_shares_its_pieces_with_the_word(word, length):
    typed = word[: max(3, length)]
    shared = {piece for piece in asked_pieces(typed) if not piece.startswith("~")} & pieces(word)
    assert shared


@pytest.mark.parametrize("typed", ["pmup", "pum", "pumpe"])
def test_a_slip_still_finds_it_and_a_stranger_does_not(typed):
    assert nearness([typed], ["feed", "pump"]) >= 70
    assert pieces("pump") & asked_pieces(typed)
    assert nearness(["crane"], ["feed", "pump"]) == 0.0
    assert nearness(["pump", "crane"], ["feed", "pump"]) == 0.0


def test_whole_before_begun_before_alike():
    assert nearness(["pump"], ["pump"]) > nearness(["pum"], ["pump"]) > nearness(["pmup"], ["pump"]) > 0
    assert nearness([], ["pump"]) == 0.0
