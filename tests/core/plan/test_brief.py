"""Out of what is known of motor and place: where the dead tests begin, what an ohmmeter must resolve."""

import pytest

from grimcoil.core.choices import LeadScheme, Occasion, School
from grimcoil.core.decision.needs import NeedKind
from grimcoil.core.plan.brief import Brief, brief_of
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Position, Subject, Winding


@pytest.mark.parametrize(
    ("brief", "at_starter"),
    [
        (Brief("three-lead"), True),
        (Brief("three-lead", Occasion.CALL_OUT), True),
        (Brief("three-lead", Occasion.ACCEPTANCE), False),
        (Brief("three-lead", Occasion.ACCEPTANCE, school=School.STARTER_FIRST), True),
        (Brief("three-lead", school=School.BOX_FIRST), False),
        (Brief("three-lead", Occasion.DEAD_ONLY, school=School.STARTER_FIRST), False),
        (Brief("nine-lead-wye", school=School.STARTER_FIRST), False),  # its cable doesn't reach every lead
        (Brief("six-lead"), False),
        (Brief("six-lead", starter="star-delta"), True),
        (Brief("unknown"), False),
    ],
)
def test_where_the_dead_tests_begin(brief, at_starter):
    assert brief.at_starter == at_starter


@pytest.mark.parametrize("scheme", list(LeadScheme))
def test_leads_are_those_of_the_groups_and_each_needs_its_frame(scheme):
    brief = Brief(scheme)
    assert brief.known == (scheme is not LeadScheme.UNKNOWN)
    assert len(set(brief.leads)) == len(brief.leads)
    asked = [point for need in brief.needed(NeedKind.FRAME) for point in need.points]
    assert set(asked) == set(brief.leads)


def test_the_resolution_follows_the_smallest_ohms_on_record():
    winding = Winding(baseline_ohm={"1-2": 0.13, "2-3": 0.131, "3-1": 0.1305})
    brief = brief_of(Subject(Plate((460,)), winding, position=Position(starter="drive")), Occasion.ROUTINE)
    # half a digit w up on one and down on two shows 2 %: 4/3 w = 0.02 (0.13 - w/3) (computed); two of it are a digit
    assert brief.resolution_ohm == pytest.approx(2 * 0.02 * 0.13 / (4 / 3 + 0.02 / 3))
    assert (brief.test_voltage_v, brief.starter) == (500, "drive")
    two_pairs = Winding(baseline_ohm={"1-2": 0.13, "2-3": 0.131})
    assert brief_of(Subject(Plate((460,)), two_pairs), Occasion.ROUTINE).resolution_ohm is None
