"""What is carried to a motor, and to all motors of a stop."""

from grimcoil.core.choices import Occasion, SourceKind
from grimcoil.core.plan.brief import OHMMETER, SURGE, Brief
from grimcoil.core.plan.kit import bring, bring_for, locks
from grimcoil.core.subject import Source


def test_a_banned_motor_needs_no_insulation_tester():
    assert not [words for words in bring(Brief("six-lead", insulation_test_forbidden=True)) if "insulation" in words]
    assert "low-ohm meter reading to 18 mΩ" in bring(Brief("six-lead", resolution_ohm=0.0179))


def test_one_instrument_of_a_kind_does_for_all_motors_of_a_stop():
    small = Brief("six-lead", resolution_ohm=0.2, test_voltage_v=500.0)
    large = Brief("three-lead", resolution_ohm=0.0004, test_voltage_v=2500.0, taking=frozenset({SURGE}))
    banned = Brief("nine-lead-wye", insulation_test_forbidden=True, test_voltage_v=1000.0)
    asked = bring_for([small, large, banned])
    assert "low-ohm meter reading to 0.4 mΩ" in asked
    assert "insulation tester, 500 and 2500 V" in asked
    assert "surge tester" in asked
    assert len(asked) == len(set(asked))
    assert set(bring(banned)) <= {*asked, "low-ohm meter"}


def test_a_motor_whose_ohms_are_not_known_leaves_the_finest_of_the_others():
    assert bring_for([Brief("three-lead"), Brief("three-lead", resolution_ohm=0.003)])[1].endswith("reading to 3 mΩ")
    assert bring_for([Brief("three-lead"), Brief("three-lead", resolution_ohm=2.0)])[1] == "ohmmeter"


def test_three_test_voltages_are_told_in_order():
    volts = [Brief("three-lead", test_voltage_v=v) for v in (1000.0, 250.0, 500.0)]
    assert "insulation tester, 250, 500 and 1000 V" in bring_for(volts)


def test_without_motors_only_what_every_job_takes():
    assert bring_for([]) == ("voltage tester and a known live source", "thermometer")
    ohms_alone = bring(Brief("three-lead", Occasion.ROUTINE, taking=frozenset({OHMMETER})))
    assert not [words for words in ohms_alone if words.startswith("insulation tester")]


def test_each_source_takes_a_lock_of_its_own():
    both = (Source(SourceKind.MAIN), Source(SourceKind.HEATER), Source(SourceKind.STORED_LOAD))
    assert [locks(Brief("three-lead")), locks(Brief("three-lead", sources=both))] == [1, 3]
