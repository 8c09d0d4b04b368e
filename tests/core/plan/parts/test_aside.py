"""Parts of the side sheets in a plan: asked for where on record or wanted, and judged as their sheet is."""

import pytest

from grimcoil.core.choices import Occasion
from grimcoil.core.plan.brief import CAPACITOR_LIVE, GREASE, STARTER, SURGE, VIBRATION, Brief
from grimcoil.core.plan.parts import aside, dead
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.steps import Circuit, Input
from grimcoil.core.side.wear import BRUSH_GEAR, VIBRATIONS
from grimcoil.core.subject import Fitting

WANTED = frozenset([CAPACITOR_LIVE, SURGE, VIBRATION, STARTER, GREASE])
FAN = (
    Fitting("single-phase motor", ("U1", "U2", "Z1")),
    Fitting("capacitor", ("C1", "C2")),
    Fitting("capacitor"),
    Fitting("brushes"),
)
BRIEF = Brief("three-lead", Occasion.ACCEPTANCE, fittings=FAN, taking=WANTED, frequency_hz=50.0, starter="star-delta")
PLAN = build(BRIEF)
PAIRS = "accessories.U1-U2-Z1"


def test_nothing_of_it_is_asked_unless_it_is_wanted_or_on_record():
    plain = build(Brief("three-lead", Occasion.ACCEPTANCE))
    assert not {"surge", "vibration", "capacitor"} & {step.kind for step in plain.steps}
    assert aside.capacitor_live(Brief("three-lead", taking=WANTED)) == ()
    assert aside.surge(Brief("three-lead", taking=WANTED, insulation_test_forbidden=True)) == ()


def test_a_surge_comparison_comes_after_insulation_and_while_apart():
    (step,) = aside.surge(BRIEF)
    names = [one.name for one in PLAN.steps]
    assert step.circuit is Circuit.APART
    assert names.index("surge") > max(i for i, name in enumerate(names) if name in ("insulation", "discharge"))
    assert names.index("surge") < names.index("connection")


@pytest.mark.parametrize("leads", [(), ("A", "A", "B"), ("1", "2"), ("1", "2", "3", "4")])
def test_leads_that_are_not_three_go_by_letters(leads):
    slots = aside.single_phase("fan", "Fan", leads)
    assert [slot.ends for slot in slots] == [("A", "B"), ("A", "C"), ("B", "C"), ("A+B+C", "frame")]


def test_every_capacitor_on_record_has_its_own_places_dead_and_live():
    assert aside.capacitors(BRIEF) == ["C1-C2", "capacitor-2"]
    (cold,), (live,) = dead.accessories(BRIEF), aside.capacitor_live(BRIEF)
    asked = {slot.part.split("/")[1] for slot in cold.slots if slot.part.startswith("capacitor/")}
    assert asked == {slot.part.split("/")[0] for slot in live.slots} == set(aside.capacitors(BRIEF))
    assert {slot.suggest for slot in live.slots if slot.field == "frequency"} == {"50"}


def test_every_word_that_can_be_heard_is_offered():
    (step,) = aside.vibration(BRIEF)
    assert step.slots[0].input is Input.CHOICE
    assert {*step.slots[0].choices, aside.QUIETER} == set(VIBRATIONS)


@pytest.mark.parametrize("what", ["single-phase motor", "Single Phase  Motor", "single-phase fan"])
def test_a_single_phase_motor_has_one_name_however_it_is_written(what):
    assert aside.named(what) == aside.SINGLE


def test_the_surge_tester_is_brought_where_it_is_used():
    assert "surge tester" in PLAN.bring
    assert "surge tester" not in build(Brief("three-lead", insulation_test_forbidden=True, taking=WANTED)).bring


def test_brush_gear_is_looked_at_where_brushes_are_on_record():
    (bare,), (geared,) = dead.by_hand(Brief("three-lead")), dead.by_hand(BRIEF)
    assert aside.sparking(Brief("three-lead")) == ()
    assert not set(BRUSH_GEAR) & set(bare.slots[-1].choices)
    (live,) = aside.sparking(BRIEF)
    assert {*geared.slots[-1].choices, *live.slots[0].choices} >= set(BRUSH_GEAR)
    assert live.circuit is Circuit.LIVE
