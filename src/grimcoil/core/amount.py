"""A measured amount that may be only a bound, carried as a bound through all arithmetic."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from grimcoil.core.limits import reaches, within


class Bound(StrEnum):
    """How an amount is known."""

    EXACT = "exact"
    ABOVE = "above"
    BELOW = "below"
    BETWEEN = "between"
    NOTHING = "nothing"


@dataclass(frozen=True, slots=True)
class Amount:
    """Anything from `low` to `high`, in the SI unit of its quantity; equal ends are an exact value.

    >>> Amount.above(550).over(Amount.exact(520)).bound
    <Bound.ABOVE: 'above'>
    """

    low: float
    high: float

    def __post_init__(self) -> None:
        if not self.low <= self.high:  # false for nan too
            raise ValueError(f"an amount runs from low to high, not {self.low} to {self.high}")

    @classmethod
    def exact(cls, value: float) -> Amount:
        """One value. Any unit (computed)."""
        return cls(value, value)

    @classmethod
    def above(cls, value: float) -> Amount:
        """More than `value` (over-range, right-censored). Any unit (computed)."""
        return cls(value, math.inf)

    @classmethod
    def below(cls, value: float) -> Amount:
        """Less than `value`, not negative (under-range). Any unit (computed)."""
        return cls(0.0, value)

    @property
    def bound(self) -> Bound:
        """Which kind of knowledge this is."""
        if self.low == self.high:
            return Bound.EXACT
        if self.high == math.inf:
            return Bound.ABOVE if self.low > 0 else Bound.NOTHING
        return Bound.BELOW if self.low == 0 else Bound.BETWEEN

    @property
    def is_exact(self) -> bool:
        """True for a plain value."""
        return self.low == self.high

    @property
    def value(self) -> float:
        """The figure to print: the value, or the end that is known. Any unit (computed)."""
        if self.low > 0 or self.high == math.inf:
            return self.low
        return self.high if self.low == 0 else self.low

    def scaled(self, factor: float) -> Amount:
        """Times a factor >= 0; a bound stays the same kind of bound. Any unit (computed)."""
        if factor < 0:
            raise ValueError("factor must not be negative")
        if factor == 0:
            return Amount.exact(0.0)
        return Amount(self.low * factor, self.high * factor)

    def less(self, offset: float) -> Amount:
        """Minus a known offset (lead resistance), not below zero. Any unit (computed)."""
        return Amount(max(0.0, self.low - offset), max(0.0, self.high - offset))

    def over(self, other: Amount) -> Amount:
        """Ratio to another amount, both >= 0; `NOTHING` where two bounds leave it undefined. Any unit (computed)."""
        low = 0.0 if other.high in (math.inf, 0.0) else self.low / other.high
        high = math.inf if other.low == 0 or self.high == math.inf else self.high / other.low
        return Amount(low, high)

    def surely_at_least(self, limit: float) -> bool:
        """No value it could have is below `limit`; one that stands on it reaches it. Any unit (computed)."""
        return reaches(self.low, limit)

    def surely_below(self, limit: float) -> bool:
        """No value it could have reaches `limit`. Any unit (computed)."""
        return not reaches(self.high, limit) or (self.bound is Bound.BELOW and within(self.high, limit))
