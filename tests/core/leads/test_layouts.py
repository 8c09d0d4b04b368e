"""Layouts and markings are counted right: every way to label the leads occurs once."""

import pytest

from grimcoil.core.leads.layouts import expected, layouts, schemes_with


@pytest.mark.parametrize(
    ("scheme", "count"), [("six-lead", 15), ("nine-lead-wye", 1260), ("nine-lead-delta", 7560), ("twelve-lead", 10395)]
)
def test_layouts_are_what_counting_by_hand_gives(scheme, count):
    """Pairs of six 5·3·1; three of nine times those; three threes with a middle each; pairs of twelve 11·9·7·5·3·1."""
    assert len(layouts(scheme)) == count
    assert len({tuple(row) for row in expected(scheme).round(6).tolist()}) == count


def test_schemes_by_number_of_leads():
    assert schemes_with(11) == []
    assert len(schemes_with(6)) == 5
