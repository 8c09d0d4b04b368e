"""A day in words."""

from datetime import UTC, date, datetime

from grimcoil.core.days import day_told, text_told


def test_a_day_is_told_with_its_month_as_a_word_and_no_zero_before_it():
    assert [day_told(date(2026, 3, 4)), day_told(date(2026, 12, 31))] == ["4 Mar 2026", "31 Dec 2026"]
    assert day_told(datetime(2026, 3, 4, 23, 59, tzinfo=UTC)) == "4 Mar 2026"


def test_a_documents_day_is_told_and_other_words_are_left():
    assert [text_told(text) for text in ("2026-03-04", "2026-13-04", "20260304", "10 letters", "")] == [
        "4 Mar 2026", "2026-13-04", "20260304", "10 letters", "",
    ]  # fmt: skip
