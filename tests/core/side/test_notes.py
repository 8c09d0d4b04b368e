"""Notes of other machines: dead before live, each with what is right and why."""

import pytest

from grimcoil.core.side.notes import NOTES, Machine


@pytest.mark.parametrize("machine", Machine)
def test_each_machine_has_its_own_plan(machine):
    found = NOTES[machine]
    assert found[0].key == "isolate"
    dead = [check.dead for check in found]
    assert dead == sorted(dead, reverse=True)
    assert not all(dead)
    assert len({check.key for check in found}) == len(found)
    assert all(check.how and check.expect and check.why for check in found)


@pytest.mark.parametrize(
    ("machine", "words"),
    [
        (Machine.WOUND_ROTOR, ("Ring to ring", "shorting gear", "never emery")),
        (Machine.SYNCHRONOUS, ("excitation", "diode")),
        (Machine.DC, ("open shunt field", "bar", "evenly spaced", "sparking")),
    ],
)
def test_what_each_is_known_for_is_asked(machine, words):
    told = " ".join(f"{one.title} {one.how} {one.expect} {one.why}" for one in NOTES[machine])
    for word in words:
        assert word in told
