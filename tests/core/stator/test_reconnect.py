"""What is said before the motor is closed on its supply."""

import pytest

from grimcoil.core.plate import Plate
from grimcoil.core.stator.reconnect import reconnection
from grimcoil.core.subject import Subject, Winding


def said(scheme, rated, in_use, system_v):
    subject = Subject(Plate(rated, connected_voltage_v=in_use), Winding(lead_scheme=scheme), system_voltage_v=system_v)
    return reconnection(subject)


@pytest.mark.parametrize(
    ("scheme", "rated", "in_use", "system_v", "code"),
    [
        ("three-lead-wye", (460,), None, 480, "right"),
        ("three-lead-delta", (230,), None, 480, "over-voltage"),
        ("nine-lead-wye", (230, 460), 230, 480, "over-voltage"),
        ("nine-lead-wye", (230, 460), 460, 480, "right"),
        ("nine-lead-wye", (230, 460), 460, 240, "under-voltage"),
        ("three-lead", (460,), None, 480, "right"),
        ("three-lead", (460,), None, 500, "voltage-level-watch"),
        ("three-lead", (230,), None, 480, "over-voltage"),
        ("six-lead", (400,), None, 400, "right"),
    ],
)
def test_it_says_what_the_supply_will_do(scheme, rated, in_use, system_v, code):
    assert said(scheme, rated, in_use, system_v).finding.code == code


def test_coils_are_there_where_the_scheme_is_known():
    known = said("nine-lead-wye", (230, 460), 230, 480)
    assert known.connection.purpose == "low voltage"
    assert max(coil.percent_of_design for coil in known.result.coils) == pytest.approx(100 * 480 / 230)
    assert said("three-lead", (460,), None, 480).result is None


def test_nothing_on_record_says_nothing():
    assert said("three-lead-wye", (460,), None, None) is None
    assert said("three-lead-wye", (230, 460), None, 480) is None
