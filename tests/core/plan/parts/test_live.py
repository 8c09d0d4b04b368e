"""Parts on the live motor, each with its caution."""

import pytest

from grimcoil.core.choices import SupplySystem
from grimcoil.core.plan.brief import (
    AS_RUNNING,
    CABLE,
    CAPACITOR_LIVE,
    EXTRAS,
    GREASE,
    LEAD_ROLL,
    OHMMETER,
    RUNNING_OPEN,
    STARTER,
    SURGE,
    TERMINAL_BLOCK,
    TOGETHER,
    Brief,
)
from grimcoil.core.plan.parts import live
from grimcoil.core.plan.steps import Act, Circuit

PARTS = (live.running, live.rotation, live.uncoupled, live.walk)


@pytest.mark.parametrize("part", PARTS, ids=lambda part: part.__name__)
def test_every_live_step_warns(part):
    for step in part(Brief("three-lead")):
        assert step.circuit is Circuit.LIVE
        assert step.caution


@pytest.mark.parametrize("system", [None, *SupplySystem])
def test_volts_to_earth_are_asked_where_the_system_stands_on_earth(system):
    step, _ = live.running(Brief("three-lead", system=system))
    to_earth = [slot for slot in step.slots if "E" in slot.ends]
    assert len(to_earth) == (3 if system in live.EARTHED else 0)
    assert all(slot.optional and slot.asked for slot in to_earth)


def test_extras_only_as_wanted():
    assert live.extras(Brief("three-lead")) == ()
    steps = live.extras(Brief("three-lead", taking=frozenset(EXTRAS)))
    of_others = (
        AS_RUNNING,
        RUNNING_OPEN,
        OHMMETER,
        LEAD_ROLL,
        TOGETHER,
        SURGE,
        CAPACITOR_LIVE,
        STARTER,
        GREASE,
        CABLE,
        TERMINAL_BLOCK,
    )  # no capacitor, no starter is on record
    assert [step.kind for step in steps] == [name for name in EXTRAS if name not in of_others]
    assert all(slot.act in (Act.LIVE_READING, Act.NONE) for step in steps for slot in step.slots)
    assert [step.key for step in live.close(Brief("three-lead"))] == ["decision", "sign"]
