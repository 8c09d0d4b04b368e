"""Schemes: what each gives between its leads."""

import math

import pytest

from grimcoil.core.stator.network import pair_ohms
from grimcoil.core.stator.schemes import SCHEMES

# Groups by continuity, computed by hand from series and parallel half-coils.
BY_HAND = {
    "twelve-lead": {"1-4": 1, "2-5": 1, "3-6": 1, "7-10": 1, "8-11": 1, "9-12": 1},
    "nine-lead-wye": {"1-4": 1, "2-5": 1, "3-6": 1, "7-8": 2, "8-9": 2, "7-9": 2},
    "nine-lead-delta": {
        "1-4": 1, "1-9": 1, "2-5": 1, "2-7": 1, "3-6": 1, "3-8": 1, "4-9": 2, "5-7": 2, "6-8": 2,
    },
    "six-lead": {"1-4": 2, "2-5": 2, "3-6": 2},
    "part-winding": {"1-2": 2, "2-3": 2, "1-3": 2, "7-8": 2, "8-9": 2, "7-9": 2},
    "three-lead-wye": {"1-2": 4, "2-3": 4, "1-3": 4},
    "three-lead-delta": {"1-2": 4 / 3, "2-3": 4 / 3, "1-3": 4 / 3},
}  # fmt: skip


@pytest.mark.parametrize("scheme", BY_HAND)
def test_every_single_speed_scheme(scheme):
    closed = {f"{a}-{b}": ohm for (a, b), ohm in pair_ohms(SCHEMES[scheme]).items() if math.isfinite(ohm)}
    assert closed == pytest.approx(BY_HAND[scheme])
