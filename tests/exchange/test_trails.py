"""The trail as CSV: read back it says the same, and no spreadsheet computes a cell of it."""

import csv
import io
from collections import namedtuple
from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.exchange.trails import HEADER, csv_lines

Line = namedtuple("Line", "at who action tag job_id detail origin")
AT = datetime(2026, 11, 24, 8, 0, tzinfo=UTC)


def back(*lines):
    return list(csv.reader(io.StringIO("".join(csv_lines(lines)))))


@pytest.mark.parametrize("text", ["=1+1", "+1", "-1", "@SUM(A1)", "\t=1", "\r=1"])
def test_what_a_spreadsheet_would_compute_gets_an_apostrophe(text):
    row = back(Line(AT, text, "kept", text, None, text, text))[1]
    assert [row[1], row[3], row[5], row[6]] == [f"'{text}"] * 4


@given(st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\r\n\x00"), max_size=60))
def test_everything_else_comes_back_as_it_went(text):
    rows = back(Line(AT, text, "kept", None, 7, text, "here"))
    assert rows[0] == list(HEADER)
    assert rows[1][0] == "2026-11-24T08:00:00+00:00"
    assert rows[1][3:5] == ["", "7"]
    assert rows[1][5].removeprefix("'") == text.removeprefix("'")
