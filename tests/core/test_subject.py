"""The motor as verdicts need it."""

import pytest

from grimcoil.core.plate import Plate
from grimcoil.core.subject import Subject, Winding

LOW = Plate((460,), (8.0,))


@pytest.mark.parametrize(
    ("scheme", "inside"),
    [("three-lead-wye", "wye"), ("three-lead-delta", "delta"), ("three-lead", None), ("six-lead", None)],
)
def test_ohms_alone_do_not_tell_wye_from_delta(scheme, inside):
    assert Winding(lead_scheme=scheme).internal_connection == inside


def test_one_speeds_figures_where_the_plate_has_them():
    subject = Subject(Plate((460,), (21.0,)), speeds={"low": LOW})
    assert subject.at_speed("low").plate is LOW
    assert subject.at_speed("high") is subject.at_speed(None) is subject
