"""A promise is kept, broken, or not shown yet; bounds stay bounds."""

import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.decision.promise import Promise, held_against


@pytest.mark.parametrize(
    ("ohm", "verdict"), [(0.84, "sound"), (0.882, "sound"), (0.8821, "act"), (0.79, "act"), (None, "unproven")]
)
def test_ohms_within_the_drift_keep_it(ohm, verdict):
    (held,) = held_against(Promise(ohm=0.84), ohm, None, 5)
    assert held.verdict.value == verdict
    assert "0.84 Ω" in held.text


@pytest.mark.parametrize(
    ("r40", "verdict"),
    [
        (Amount.exact(100), "sound"), (Amount.exact(99), "act"), (Amount.above(550), "sound"),
        (Amount.above(50), "unproven"), (Amount.below(10), "act"), (Amount(50, 500), "unproven"), (None, "unproven"),
    ],
)  # fmt: skip
def test_insulation_is_held_by_its_bounds(r40, verdict):
    (held,) = held_against(Promise(mohm=100), 0.84, r40, 5)
    assert held.verdict.value == verdict


def test_nothing_promised_nothing_held():
    assert held_against(Promise(), 1.0, Amount.exact(5), 5) == []
