"""What is said of each bearing: told, read again, judged by the worst."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.rounds.heard import ENDS, grease_told, heard_in, heard_told, judge_heard
from grimcoil.core.side.wear import HEARD_AT


@given(st.dictionaries(st.sampled_from(ENDS), st.sampled_from(sorted(HEARD_AT))))
def test_a_line_is_read_as_it_was_told(said):
    assert heard_in(heard_told(said)) == said


def test_the_worst_end_judges_and_silence_says_nothing():
    assert judge_heard("drive end even, other end rubbing").severity == "act"
    assert judge_heard("drive end rough, other end even").text.startswith("Drive end rough: ")
    assert judge_heard("drive end even").severity == "sound"
    assert judge_heard("") is None
    assert judge_heard("both ends fine") is None


def test_what_cannot_be_is_refused():
    with pytest.raises(RecordRefusal, match="even, rough"):
        heard_told({"drive": "funny"})
    for grams in (0.0, -1.0, 2000.5):
        with pytest.raises(RecordRefusal, match="2000 g"):
            grease_told({"drive": grams}, "")
    assert grease_told({}, "") == ""
    assert grease_told({"drive": 2000.0, "other": 0.5}, "") == "drive end 2000 g, other end 0.5 g"
