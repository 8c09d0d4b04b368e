"""Every hold of a test voltage is followed by its own discharge."""

from itertools import pairwise

import pytest

from grimcoil.core.choices import LeadScheme
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.parts import holds
from grimcoil.core.plan.steps import Act


@pytest.mark.parametrize("scheme", [s for s in LeadScheme if s is not LeadScheme.UNKNOWN])
def test_hold_and_discharge_in_pairs(scheme):
    steps = [*holds.insulation(Brief(scheme)), *holds.between(Brief(scheme))]
    assert len(steps) % 2 == 0
    for hold, discharge in zip(steps[::2], steps[1::2], strict=True):
        assert hold.hold == discharge.hold == hold.key
        assert [slot.act for slot in discharge.slots] == [Act.REMOVE, Act.SHORT, Act.RESIDUAL]
        assert discharge.hard
        marks = [slot.mark_s for slot in hold.slots if slot.act is Act.MARK]
        assert all(a < b for a, b in pairwise(marks))
        assert [slot.mark_s for slot in hold.slots if slot.act is Act.MARK and not slot.optional] == [60.0]


def test_the_other_groups_lie_on_the_frame_while_one_is_held():
    first = holds.insulation(Brief("six-lead"))[0]
    assert "leads 2, 5, 3, 6 to the frame" in first.slots[0].ask
    assert holds.insulation(Brief("three-lead"))[0].title == "Insulation to frame"
    assert holds.insulation(Brief("six-lead", insulation_test_forbidden=True)) == ()


def test_volts_are_asked_once():
    steps = holds.with_volts(holds.insulation(Brief("six-lead")))
    assert sum(slot.key == "volts" and slot.field == "voltage" for step in steps for slot in step.slots) == 1
    assert steps[0].slots[0] is holds.VOLTS
