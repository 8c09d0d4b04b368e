"""What hangs on a motor, what hands and ears find, and other testers: entered in a job, judged like side sheets."""

import pytest

from grimcoil.core.assessment import assess
from grimcoil.core.choices import Occasion
from grimcoil.core.measured import CapacitorTest, JobRecord
from grimcoil.core.plan.brief import EXTRAS, OHMMETER, STARTER, Brief
from grimcoil.core.plan.recipes import build
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Fitting, Subject
from tests.core.plan.given import assessed
from tests.core.plan.parts.test_aside import PLAN

PAIRS = "accessories.U1-U2-Z1"


def judged(plan, *script):
    whole, made = assessed(plan, *script)
    return {finding.code for finding in whole.findings} - {"job-empty"}, made


WORN_PLAN = build(
    Brief(
        "three-lead", Occasion.DEAD_ONLY, brake=True,
        fittings=(Fitting("brushes", ("A1", "A2")), Fitting("centrifugal switch", ("S1", "S2"))),
    )
)  # fmt: skip


SET = "by_hand.brushes-1"


@pytest.mark.parametrize(
    ("script", "codes"),
    [
        ([("by_hand.disc", "4.1"), ("by_hand.disc.least", "4.5 mm")], {"brake-disc-worn"}),
        ([("by_hand.disc", "8"), ("by_hand.disc.least", "4.5")], {"brake-disc-thick"}),
        ([(f"{SET}.new", "25"), (f"{SET}.A1", "24"), (f"{SET}.A2", "11")], {"brushes-worn"}),
        ([(f"{SET}.new", "25"), (f"{SET}.A1", "24"), (f"{SET}.A2", "23")], {"brushes-long"}),
        ([("by_hand.seen", "Oil on winding; coffee cup;  local burn")], {"observation-watch", "observation-act"}),
        ([("by_hand.seen", "coffee cup")], set()),
        ([("accessories.S1-S2", "0.1"), ("accessories.S1-S2.opens", "opens")], {"switch-closed", "switch-opens"}),
        ([("accessories.S1-S2", "0.1"), ("accessories.S1-S2.opens", "stays closed")], {"switch-stuck"}),
        ([("accessories.S1-S2", "0.1"), ("accessories.S1-S2.opens", "not read")], {"switch-closed", "reading-missing"}),
        ([("accessories.S1-S2.opens", "stays closed")], {"switch-stuck", "reading-missing"}),
    ],
)  # fmt: skip
def test_what_hands_find_is_judged_like_its_side_sheet(script, codes):
    found, _ = judged(WORN_PLAN, *script)
    assert codes <= found
    assert bool(codes) == bool(found)


def test_each_set_of_brushes_is_a_test_of_its_own_beside_the_shaft():
    script = ("by_hand.shaft", "free"), ("by_hand.disc", "8"), ("by_hand.seen", "nothing")
    _, made = judged(WORN_PLAN, *script)
    assert [one.about for one in made] == ["", "disc", "seen"]


CAPACITOR = [("capacitor.C1-C2.volts", "240"), ("capacitor.C1-C2.amps", "3.1")]
THREE = [(f"{PAIRS}.U1-U2", "4.0"), (f"{PAIRS}.U1-Z1", "10.1"), (f"{PAIRS}.U2-Z1", "6.1")]


@pytest.mark.parametrize(
    ("script", "codes"),
    [
        (THREE, {"single-phase-leads"}),
        (THREE[:2], {"reading-missing"}),
        ([*THREE[:2], (f"{PAIRS}.U2-Z1", "beep")], {"reading-missing"}),
        ([*THREE[:2], (f"{PAIRS}.U2-Z1", "OL")], {"single-phase-open"}),
        ([(f"{PAIRS}.frame", ">550")], {"accessory-clear"}),
        ([(f"{PAIRS}.frame", "0.001")], {"accessory-to-frame"}),
        ([("surge.result", "pass"), ("surge.peak", "2.1 kV"), ("surge.apart", "0")], {"surge-alike"}),
        ([("surge.result", "fail")], {"surge-apart"}),
        ([("surge.peak", "2100")], {"reading-missing"}),
        ([("surge.result", "not read")], set()),
        ([("vibration.heard", "knocking")], {"vibration-act"}),
        ([("vibration.heard", "not read")], set()),
        ([("rotation.turns", "right way")], {"rotation-right"}),
        ([("rotation.turns", "wrong way")], {"rotation-wrong"}),
        ([*CAPACITOR, ("capacitor.C1-C2.hertz", "60"), ("capacitor.C1-C2.marked", "35")], {"capacitor-fits"}),
        ([*CAPACITOR, ("capacitor.C1-C2.hertz", "60"), ("capacitor.C1-C2.marked", "25 µF")], {"capacitor-off"}),
        (CAPACITOR, {"reading-missing"}),
        ([("starter.timer_s", "3"), ("starter.run_up_s", "8 s")], {"star-delta-early", "reading-missing"}),
        ([("starter.line_a_star", "40"), ("starter.line_a_delta", "120")], {"star-delta-third"}),
        ([("starter.line_a_star", "40"), ("starter.line_a_delta", "0")], {"reading-missing"}),
        ([("starter.per_hour", "12")], {"starts-many"}),
        ([("grease.drive-end.outside", "85"), ("grease.drive-end.width", "19")], {"grease-grams"}),
        ([("grease.drive-end.outside", "85"), ("grease.drive-end.width", "0")], {"reading-missing"}),
        ([("surge.result", "pass"), ("surge.peak", "0")], {"surge-alike"}),
        ([("sparking.seen", "marked sparking")], {"observation-act"}),
        ([("sparking.seen", "slight sparking")], {"observation-sound"}),
        ([("sparking.seen", "not read")], set()),
        ([("by_hand.seen", "high mica; grooves")], {"observation-act", "observation-watch"}),
        ([("capacitor.C1-C2.marked", "35")], set()),
    ],
)
def test_what_is_entered_is_judged_like_its_side_sheet(script, codes):
    assert judged(PLAN, *script)[0] == codes


def test_a_capacitors_value_is_the_handbooks():
    """3.1 A at 240 V and 60 Hz make 34.3 µF (handbook, upkeep, single-phase sheet)."""
    _, (made,) = judged(PLAN, *CAPACITOR, ("capacitor.C1-C2.hertz", "60"), ("capacitor.C1-C2.marked", "35 uF"))
    assert isinstance(made.test, CapacitorTest)
    assert (made.test.frequency_hz, made.test.marked_uf) == (60, pytest.approx(35))
    (result,) = assess(JobRecord(Subject(Plate((460.0,))), tests=(made.test,))).by_kind["capacitor"]
    assert result.capacitance_uf == pytest.approx(34.26, abs=0.01)


ODD = (
    Fitting("heater 1/2", ("H/1", "H/2")), Fitting("thermostat", ("P1", "P2")), Fitting("rtd", ("P1", "P2")),
    Fitting("capacitor", ("P1", "P2")), Fitting("single-phase motor", ("U/1", "U/2", "Z")), Fitting("heater"),
)  # fmt: skip


def test_places_are_told_apart_whatever_things_and_leads_are_called():
    taking = frozenset(EXTRAS) - {OHMMETER}
    plan = build(Brief("three-lead", Occasion.ACCEPTANCE, fittings=ODD, taking=taking, frequency_hz=50.0))
    asked = [place for step in plan.steps for place in step.places]
    assert len(asked) == len(set(asked))
    (step,) = (step for step in plan.steps if step.name == "accessories")
    script = [(step.place(slot), "1.0") for slot in step.slots if slot.field == "low_ohm"]
    _, made = judged(plan, *script)
    tests = [one.test for one in made]
    assert sorted(getattr(test, "what", type(test).__name__) for test in tests) == [
        "CapacitorOhmsTest", "SinglePhaseTest", "capacitor", "heater", "heater 1-2", "rtd", "thermostat",
    ]  # fmt: skip


@pytest.mark.parametrize(("tap", "codes"), [("65", {"autotransformer-share"}), ("120", {"reading-missing"})])
def test_an_autotransformer_is_judged_by_its_tap(tap, codes):
    plan = build(Brief("three-lead", starter="autotransformer", taking=frozenset([STARTER])))
    assert judged(plan, ("starter.tap", tap), ("starter.full_voltage_a", "300"))[0] == codes


@pytest.mark.parametrize("starter", [None, "none"])
def test_no_starter_no_questions_about_it(starter):
    plan = build(Brief("three-lead", starter=starter, taking=frozenset([STARTER])))
    assert "starter" not in {step.name for step in plan.steps}
