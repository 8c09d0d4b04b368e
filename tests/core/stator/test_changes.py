"""A change of scheme says what is opened and what has to be tested, and is a new winding."""

import pytest

from grimcoil.core.stator.changes import change_of_scheme
from grimcoil.core.stator.schemes import SCHEMES


def test_a_star_point_opened_brings_three_leads_out():
    change = change_of_scheme("three-lead-wye", "six-lead")
    assert change.opened == ("10-11-12",)
    assert change.made == change.taken_in == ()
    assert change.brought_out == ("4 U2", "5 V2", "6 W2")
    assert any("coupling test" in step for step in change.to_test)
    assert "leads changed" in change.reason


def test_dual_voltage_brought_back_with_three_leads_for_one():
    change = change_of_scheme("nine-lead-wye", "three-lead-wye", rewound=True)
    assert change.made == ("4-7", "5-8", "6-9")
    assert len(change.taken_in) == 6
    assert change.reason.startswith("rewound")
    assert any("turns, wire" in step for step in change.to_do)


@pytest.mark.parametrize("before", SCHEMES)
@pytest.mark.parametrize("after", SCHEMES)
def test_every_change_is_told(before, after):
    change = change_of_scheme(before, after)
    assert change.to_do
    assert any("baseline" in step for step in change.to_test)
    if before == after:
        assert change.opened == change.made == change.brought_out == change.taken_in == ()
