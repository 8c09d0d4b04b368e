"""Every hold of a test voltage is followed by its own discharge."""

from dataclasses import replace
from itertools import combinations, pairwise

import pytest

from grimcoil.core.assessment import assess
from grimcoil.core.choices import LeadScheme, Occasion
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.decision.needs import NeedKind
from grimcoil.core.plan.brief import OHMMETER, TOGETHER, Brief
from grimcoil.core.plan.parts import holds
from grimcoil.core.plan.progress import situation
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.record import to_record
from grimcoil.core.plan.safety import Site
from grimcoil.core.plan.steps import Act, Where
from grimcoil.core.plate import Plate
from grimcoil.core.subject import UNKNOWN, Subject, Winding
from tests.core.plan.given import walked
from tests.support import NOW, entry


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
    (banned,) = holds.insulation(Brief("six-lead", insulation_test_forbidden=True))
    assert not banned.does(Act.APPLY)


def test_volts_are_asked_once():
    steps = holds.with_volts(holds.insulation(Brief("six-lead")))
    assert sum(slot.key == "volts" and slot.field == "voltage" for step in steps for slot in step.slots) == 1
    assert steps[0].slots[0] is holds.VOLTS


@pytest.mark.parametrize("forbidden", [False, True])
@pytest.mark.parametrize("scheme", ["three-lead", "six-lead", "unknown"])
def test_by_an_ohmmeter_only_every_group_is_read_also_where_the_maker_forbids_more(scheme, forbidden):
    brief = Brief(scheme, insulation_test_forbidden=forbidden, taking=frozenset([OHMMETER]))
    steps = [*holds.insulation(brief), *holds.between(brief)]
    slots = [slot for step in steps for slot in step.slots]
    assert len(slots) == len(brief.groups) + len(list(combinations(brief.groups, 2)))
    assert not any(slot.act is not Act.NONE or "insulation" in slot.functions for slot in slots)
    assert not any("insulation tester" in words for words in build(brief).bring)


@pytest.mark.parametrize("scheme", ["six-lead", "twelve-lead", "two-speed-two-winding"])
def test_all_leads_joined_are_one_hold_that_settles_every_group(scheme):
    brief = Brief(scheme, Occasion.DEAD_ONLY, taking=frozenset([TOGETHER]))
    hold, _ = holds.insulation(brief)
    assert "finds more" in hold.caution
    assert [step.key for step in holds.insulation_at(brief, Where.BOX, "@motor-box")] == [
        step.key for step in holds.insulation_at(Brief(scheme), Where.BOX, "@motor-box")
    ]
    _, end = walked(build(brief), (60.0, 600.0))
    record = to_record(end.plan, end.kept, Subject(Plate((460,)), winding=Winding(lead_scheme=scheme)), (), UNKNOWN)
    stands = assess(replace(record, occasion=Occasion.DEAD_ONLY)).stands
    assert not [need for need in stands.missing if need.kind is NeedKind.FRAME]


@pytest.mark.parametrize(("text", "verdict"), [("0.02", "act"), ("1.5", "unproven"), ("OL", "unproven")])
def test_what_an_ohmmeter_reads_condemns_or_stays_unproven(text, verdict):
    plan = build(Brief("three-lead", taking=frozenset([OHMMETER])))
    kept = situation(plan, [entry(1, "insulation.1-2-3@ohmmeter", text, NOW, plan=plan)], Site(FIELD_GENERAL), NOW).kept
    record = to_record(plan, kept, Subject(Plate((460,))), (), UNKNOWN)
    assert [meter.function for meter in record.instruments] == ["ohm"]
    whole = assess(record)
    assert [(result.route, result.verdict.value) for result in whole.insulation] == [("ohmmeter", verdict)]
    assert whole.decision.action != "return"
