"""What ohms alone tell, and which of them contradicts."""

from grimcoil.core.leads.identify import Puzzle, identify
from grimcoil.core.leads.ohms import Path
from tests.core.leads.given import SIX, opened, value
from tests.core.leads.simulated import Motor


def test_ohms_alone_leave_start_and_finish_open():
    ohms = (value(0, 3, 1.91), value(1, 4, 1.90), value(2, 5, 1.91), opened(0, 1))
    found = identify(Puzzle(SIX, ohms))
    (six,) = found.candidates
    assert six.groups == (("A", "D"), ("B", "E"), ("C", "F"))
    assert six.markings["A"] == ("1",)
    assert six.markings["D"] == ("4",)
    assert six.markings["B"] == six.markings["E"] == ("2", "5")
    assert found.next_test.test in ("joined", "kick")


def test_the_contradicting_reading_is_named():
    motor = Motor("nine-lead-wye", 4)
    readings = motor.all_ohms()
    wrong = next(i for i, r in enumerate(readings) if r.path is Path.VALUE)
    bad = readings[wrong]
    readings[wrong] = value(bad.first, bad.second, bad.ohm * 1.25)
    found = identify(Puzzle(motor.leads, tuple(readings)))
    named = [c for c in found.contradictions if c.code in ("odd-reading", "triangle")]
    assert {motor.leads[bad.first], motor.leads[bad.second]} <= set(named[0].between)
