"""What a motor may be called."""

import unicodedata

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.tags import checked_tag, is_tag, looks_like


@pytest.mark.parametrize("tag", ["BW-114", "7", "A/../B", "1/etc", "LÜ 7", "P_1.2", "x" * 40])
def test_what_stands_on_plates_is_taken(tag):
    assert checked_tag(tag) == tag


@pytest.mark.parametrize("tag", ["", "-1", "/1", "..", "NEW", "Views", "x" * 41, "a ", "a~b", "a?b", "a%2f", "a\nb"])
def test_what_has_no_address_is_refused(tag):
    with pytest.raises(RecordRefusal):
        checked_tag(tag)


def test_what_can_not_be_seen_is_shown_where_it_is_refused():
    with pytest.raises(RecordRefusal, match=r"BW\[U\+200B\]-1"):
        checked_tag("BW\u200b-1", "tag")


def test_one_spelling_however_it_was_composed():
    assert checked_tag(unicodedata.normalize("NFD", "LÜ-1")) == "LÜ-1"


@given(st.text(max_size=12))
def test_what_looks_alike_is_found_from_either_side(text):
    assert looks_like(looks_like(text)) == looks_like(text)
    if is_tag(text):
        assert looks_like(unicodedata.normalize("NFD", text)) == looks_like(unicodedata.normalize("NFC", text))
