"""Parts on the dead motor."""

import pytest

from grimcoil.core.choices import LeadScheme, Occasion
from grimcoil.core.fields import FIELDS
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.parts import dead
from grimcoil.core.plan.steps import Circuit, Input
from grimcoil.core.subject import Fitting
from grimcoil.core.wishes import FirstTest, Wishes


@pytest.mark.parametrize("scheme", list(LeadScheme))
def test_pairs_of_the_ohms_are_leads_of_the_motor(scheme):
    brief = Brief(scheme)
    for step in dead.resistance(brief):
        assert step.circuit is Circuit.APART
        for slot in step.slots:
            assert set(slot.ends) <= set(brief.leads)
            assert slot.field == "winding"
            assert slot.field in FIELDS


def test_groups_are_asked_to_read_through_only_where_there_are_several():
    assert dead.continuity(Brief("three-lead")) == ()
    (step,) = dead.continuity(Brief("six-lead"))
    assert [slot.key for slot in step.slots] == ["1-4", "2-5", "3-6"]
    assert {slot.input for slot in step.slots} == {Input.READING}
    (nine,) = dead.continuity(Brief("nine-lead-wye"))
    assert [slot.key for slot in nine.slots] == ["1-4", "2-5", "3-6", "7-8", "8-9"]
    (first,) = dead.continuity(Brief("three-lead", wishes=Wishes(first_test=FirstTest.INSULATION)))
    assert [slot.key for slot in first.slots] == ["1-2", "2-3"]


def test_a_banned_motor_brings_no_insulation_tester():
    (allowed,), (banned,) = (
        dead.instrument_check(Brief("three-lead", insulation_test_forbidden=b)) for b in (False, True)
    )
    assert len(allowed.slots) == 3
    assert not any("insulation" in slot.functions for slot in banned.slots)


def test_accessories_are_read_where_they_are_and_an_encoder_never():
    fittings = (Fitting("thermistor", ("P1", "P2")), Fitting("encoder"))
    steps = dead.accessories(Brief("three-lead", Occasion.ACCEPTANCE, fittings=fittings))
    parts = [slot.part for step in steps for slot in step.slots]
    assert any(part.startswith("thermistor/") for part in parts)
    assert not any(part.startswith("encoder/") for part in parts)


WORN = (
    Fitting("brushes", ("A1", "A2")), Fitting("Brushes"), Fitting("centrifugal-switch", ("S1", "S2")),
)  # fmt: skip


def test_brushes_disc_and_switch_are_asked_for_where_they_are_on_record():
    (plain,), (worn,) = (
        dead.by_hand(brief) for brief in (Brief("three-lead"), Brief("three-lead", fittings=WORN, brake=True))
    )
    assert [slot.key for slot in plain.slots] == ["shaft", "seen"]
    lengths = [slot.part for slot in worn.slots if slot.field == "length"]
    assert lengths == [
        "disc/thickness", "disc/least", "brushes-1/new", "brushes-1/A1", "brushes-1/A2", "brushes-2/new", "brushes-2/1",
    ]  # fmt: skip
    (step,) = dead.accessories(Brief("three-lead", fittings=WORN))
    assert [(slot.key, slot.input) for slot in step.slots] == [
        ("S1-S2", Input.READING), ("S1-S2.opens", Input.CHOICE),
    ]  # fmt: skip


@pytest.mark.parametrize("what", ["centrifugal-switch", "Centrifugal  switch", "starting switch"])
def test_one_thing_has_one_name_however_it_is_written(what):
    assert dead.named(what) == dead.SWITCH


def test_holders_that_are_named_twice_or_like_the_new_brush_have_places_of_their_own():
    (step,) = dead.by_hand(Brief("three-lead", fittings=(Fitting("brushes", ("A1", "new", "A1")),)))
    keys = [slot.key for slot in step.slots]
    assert keys == ["shaft", "brushes-1.new", "brushes-1.A1", "brushes-1.holder-new", "seen"]
