"""What was chosen for a job: test volts of their own, what isn't at hand."""

import pytest

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.findings import Verdict
from grimcoil.core.insulation.judge import judge_insulation
from grimcoil.core.measured import InsulationTest
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Conditions, Subject
from grimcoil.core.wishes import SCHOOL_OF, AtHand, TestVolts, Wishes
from tests.support import series


def test_only_what_was_named_tells_what_is_missing():
    assert not Wishes().no_tester
    assert not Wishes().no_clamp
    assert Wishes(at_hand=(AtHand.OHMMETER, AtHand.LAMPS)).no_tester
    assert Wishes(at_hand=(AtHand.INSULATION_TESTER,)).no_clamp
    assert not Wishes(at_hand=tuple(AtHand)).no_tester


@pytest.mark.parametrize(
    ("chosen", "volts", "said"),
    [
        (None, 1000, "test-voltage-high"), ("twice", 1000, None), ("twice", 500, "test-voltage-low"),
        ("nearest", 500, None), ("under-water", 1000, None), ("under-water", 500, "test-voltage-low"),
        ("table", 500, None),
    ],
)  # fmt: skip
def test_test_volts_are_a_choice_of_their_own_not_tied_to_the_limits(chosen, volts, said):
    wishes = Wishes(test_volts=TestVolts(chosen) if chosen else None)
    limits = wishes.limits(FIELD_GENERAL)
    assert limits.insulation_random_mohm == FIELD_GENERAL.insulation_random_mohm
    test = InsulationTest(series((60, "50M")), volts, Conditions(winding_temperature_c=40))
    result = judge_insulation(test, Subject(Plate((460,)), criteria=limits))
    watched = {f.code for f in result.findings if f.severity is Verdict.WATCH and f.code.startswith("test-voltage")}
    assert watched == ({said} if said else set())
    assert set(SCHOOL_OF) == set(TestVolts)
