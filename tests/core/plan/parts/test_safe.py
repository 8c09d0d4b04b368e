"""Parts that make a motor safe to work on, and give it back."""

import pytest

from grimcoil.core.choices import LeadScheme, Occasion
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.parts import safe
from grimcoil.core.plan.steps import Act, Input
from grimcoil.core.subject import Fitting


@pytest.mark.parametrize("scheme", list(LeadScheme))
def test_proved_dead_is_tester_points_tester(scheme):
    for (step,) in (safe.prove_dead(Brief(scheme)), safe.box_proof(Brief(scheme))):
        acts = [slot.act for slot in step.slots]
        assert acts == [Act.NONE, Act.PROVE_TESTER, *[Act.POINT_DEAD] * 6, Act.PROVE_TESTER]
        assert step.hard


@pytest.mark.parametrize("scheme", list(LeadScheme))
def test_on_the_floor_nothing_is_connected_first(scheme):
    (step,) = safe.prove_dead_floor(Brief(scheme, Occasion.DEAD_ONLY))
    assert step.slots[0] is safe.TAG
    assert step.slots[1].act is Act.LOCK
    to_frame = [slot for slot in step.slots if slot.key.endswith("-frame")]
    assert len(to_frame) == max(1, len(Brief(scheme).groups))


def test_the_box_is_proved_where_the_work_goes_on_there():
    assert safe.prove_dead_box(Brief("three-lead")) == ()
    assert safe.prove_dead_box(Brief("nine-lead-wye")) == safe.box_proof(Brief("nine-lead-wye"))


def test_every_lead_is_written_down_before_it_is_lifted_also_one_nobody_knows():
    (known,), (unknown,) = safe.as_found(Brief("six-lead")), safe.as_found(Brief("unknown"))
    assert [slot.ends for slot in known.slots if slot.act is Act.LIFT] == [(n,) for n in Brief("six-lead").leads]
    assert [slot.key for slot in unknown.slots if slot.act is Act.LIFT] == ["leads"]


def test_given_back_in_order():
    acts = [slot.act for part in (safe.connection, safe.reconnect, safe.restore) for step in part(Brief("three-lead"))
            for slot in step.slots if slot.act is not Act.NONE]  # fmt: skip
    assert acts == [Act.CHECK_JOINING, *[Act.PUT_BACK] * 3, Act.JOIN, Act.RESTORE]
    assert safe.connection(Brief("unknown")) == ()


def test_what_hangs_on_the_leads_is_taken_off_by_name():
    heater, brake = Fitting("thermistor", ("P1", "P2")), Fitting("capacitor")
    (step,) = safe.separate(Brief("six-lead", starter="drive", brake=True, fittings=(heater, brake)))
    keys = ["drive-apart", "links-apart", "apart-P1-P2", "apart-capacitor-1", "apart-brake-1", "apart"]
    assert [slot.key for slot in step.slots] == keys
    assert "Never connect an insulation tester to those terminals" in step.slots[0].ask
    assert all(slot.input is Input.CONFIRM for slot in step.slots)
    assert [slot.key for slot in safe.separate(Brief("three-lead"))[0].slots] == ["apart"]


def test_the_feeds_colours_are_told_where_leads_come_off_and_go_back():
    brief = Brief("three-lead", feed=(("L1", "brown"), ("L2", "black")))
    steps = [*safe.as_found(brief), *safe.reconnect(brief), *safe.reconnect_box(brief, "@motor-box")]
    assert all("Cores of the feed: L1 brown, L2 black." in step.caution for step in steps)
    plain = [*safe.as_found(Brief("three-lead")), *safe.reconnect(Brief("three-lead"))]
    assert not any("feed" in step.caution for step in plain)


def test_a_neutral_that_is_brought_out_comes_off_and_goes_back_at_the_motor_box():
    brief = Brief("three-lead", Occasion.ACCEPTANCE, neutral="N")
    (found,), (back,) = safe.as_found(brief), safe.reconnect(brief)
    assert [slot.input for slot in found.slots if slot.key == "neutral"] == [Input.WORDS]
    keys = [slot.key for slot in back.slots]
    assert keys.index("lead-3") < keys.index("neutral") < keys.index("as-found")
    at_starter = Brief("three-lead", Occasion.ROUTINE, neutral="N")
    assert not any(slot.key == "neutral" for step in safe.as_found(at_starter) for slot in step.slots)
    assert [slot.key for slot in safe.reconnect_box(at_starter, "@motor-box")[0].slots].count("neutral") == 1
