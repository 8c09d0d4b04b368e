"""The next date, and why."""

from datetime import date

import pytest

from grimcoil.core.decision.schedule import add_months, next_test
from grimcoil.core.findings import Verdict


def test_an_early_edge_that_is_past_asks_at_once():
    last = date(2026, 1, 1)
    for edge in (date(2025, 6, 1), last):
        assert next_test(last, "routine", Verdict.WATCH, early_edge=edge).on == last
    assert next_test(last, "routine", Verdict.WATCH, early_edge=date(2026, 1, 3)).on == date(2026, 1, 2)


@pytest.mark.parametrize(
    ("criticality", "verdict", "stepped", "edge", "on"),
    [
        ("routine", Verdict.SOUND, False, None, date(2027, 3, 14)),
        ("critical", Verdict.SOUND, False, None, date(2026, 9, 14)),
        ("easy-spare", Verdict.SOUND, False, None, date(2028, 3, 14)),
        ("routine", Verdict.WATCH, False, None, date(2026, 9, 14)),
        ("routine", Verdict.SOUND, True, None, date(2026, 4, 14)),
        ("routine", Verdict.SOUND, False, date(2026, 9, 14), date(2026, 6, 14)),
        ("routine", Verdict.SOUND, False, date(2040, 1, 1), date(2027, 3, 14)),
    ],
)
def test_next_date(criticality, verdict, stepped, edge, on):
    due = next_test(date(2026, 3, 14), criticality, verdict, stepped, edge)
    assert due.on == on
    assert due.why


def test_months_end_where_they_end():
    assert add_months(date(2026, 1, 31), 1) == date(2026, 2, 28)
    assert add_months(date(2026, 11, 30), 3) == date(2027, 2, 28)
