"""How the meter stands for each reading of each plan."""

import pytest

from grimcoil.core.choices import Occasion
from grimcoil.core.plan.brief import EXTRAS, OHMMETER, Brief
from grimcoil.core.plan.dial import dial_of
from grimcoil.core.plan.recipes import RECIPES, build
from grimcoil.core.plan.steps import Act, Input
from grimcoil.core.subject import Fitting

METERED = {"winding", "low_ohm", "drop", "current", "voltage", "dead_voltage"}


@pytest.mark.parametrize("occasion", list(RECIPES))
@pytest.mark.parametrize("taking", [frozenset(EXTRAS), frozenset(EXTRAS) - {OHMMETER}], ids=["ohmmeter", "tester"])
def test_every_reading_by_a_meter_says_how_it_stands(occasion, taking):
    plan = build(Brief("six-lead", Occasion(occasion), fittings=(Fitting("thermistor", ("P1", "P2")),), taking=taking))
    for step, slot in plan.places.values():
        if slot.input is Input.READING and slot.field in METERED:
            assert dial_of(step, slot) is not None, step.place(slot)


def dial_at(place, **brief):
    step, slot = build(Brief("three-lead", **brief)).at(place)
    return dial_of(step, slot)


def test_what_is_read_live_dead_and_tender_is_told_apart():
    assert dial_at("winding_resistance.1-2").words == "Ω, lowest range that shows it; COM and Ω"
    assert dial_at("prove_dead.L1-L2").function == "V~"
    assert dial_at("discharge.1-2-3.volts").function == "V="
    assert dial_at("insulation.1-2-3.volts").function == "MΩ"
    by_ohmmeter = dial_at("insulation.1-2-3@ohmmeter", insulation_test_forbidden=True)
    assert "highest range" in by_ohmmeter.words
    assert "Fingers off both tips" in by_ohmmeter.mind
    assert "not paint" in by_ohmmeter.mind
    thermistor = Brief("three-lead", fittings=(Fitting("thermistor", ("P1", "P2")),))
    tender = [dial_of(s, t) for s, t in build(thermistor).places.values() if t.part.startswith("thermistor")]
    assert all("2.5 V at most" in one.words for one in tender)
    assert dial_at("by_hand.shaft") is None
    assert {slot.act for _, slot in build(Brief("three-lead")).places.values()} >= {Act.PROVE_TESTER, Act.RESIDUAL}
