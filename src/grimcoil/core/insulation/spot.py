"""A hold of less than a minute: what its value is worth, and what the minute would likely show."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.insulation.curve import FALL, Curve

# Common practice without source: about 10 s on a small motor with short leads, longer with a long cable.
LEAST_S, LEAST_LONG_CABLE_S, LONG_CABLE_M = 10.0, 30.0, 100.0
MINUTE_S = 60.0
# How steeply the absorption of a dry winding falls: the exponent of the handbook's check curve (computed).
DRY_EXPONENT = 0.684


@dataclass(frozen=True, slots=True)
class Spot:
    """The value of a short hold that didn't fall, MΩ, and its time, s."""

    t_s: float
    mohm: Amount


def spot_value(curve: Curve, cable_m: float = 0.0) -> Spot | None:
    """The last value from 10 s (30 s on 100 m of cable and more) up to a minute; None where there is none, where a
    value falls or the times are out of order. cable_m: what hangs on the tester, m. (common practice without source)
    """
    least_s = LEAST_LONG_CABLE_S if cable_m >= LONG_CABLE_M else LEAST_S
    values = list(zip(curve.times_s, curve.mohm, strict=True))
    falls = any(after.high < FALL * before.low for (_, before), (_, after) in pairwise(values))
    in_time = [Spot(t, mohm) for t, mohm in values if least_s <= t < MINUTE_S and mohm.bound is not Bound.NOTHING]
    if falls or not curve.in_order or not in_time:
        return None
    return in_time[-1]


def likely_mohm(curve: Curve) -> Amount | None:
    """What a minute would likely show, MΩ: from the last value as it stands up to a dry winding's rise; by the curve
    itself where enough of it was read. None for a bound, a falling curve or one longer than a minute. (computed)

    >>> from grimcoil.core.amount import Amount
    >>> low_high = likely_mohm(Curve((10.0,), (Amount.exact(100.0),), True, None, None, None))
    >>> round(low_high.low), round(low_high.high)
    (100, 341)
    """
    last_s, last = curve.times_s[-1], curve.last
    if not (last.is_exact and curve.in_order and curve.fall is None and LEAST_S <= last_s < MINUTE_S):
        return None
    if curve.fit is not None:
        return Amount.exact(curve.fit.mohm_at(MINUTE_S))
    return Amount(last.low, last.high * (MINUTE_S / last_s) ** DRY_EXPONENT)
