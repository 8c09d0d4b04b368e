"""Heat: what a temperature above the class costs in life, and the frame's temperature."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Result, act, sound, unproven, watch
from grimcoil.core.measured import FrameTemperatureTest

# Insulation class -> temperature of its hot spot, °C (standard, from memory).
CLASS_C = {"A": 105.0, "E": 120.0, "B": 130.0, "F": 155.0, "H": 180.0}
HALVING_K = 10.0


def life_share(winding_c: float, insulation_class: str) -> float:
    """Life against life at the class temperature: halves per 10 °C above it (Montsinger; common practice).

    >>> life_share(165, "F")
    0.5
    """
    return float(0.5 ** ((winding_c - CLASS_C[insulation_class]) / HALVING_K))


@dataclass(frozen=True, slots=True)
class FrameTemperatureResult(Result):
    """The frame, and the most of its life the winding can have at that temperature (it is hotter than its frame)."""

    frame_temperature_c: float | None = None
    life_share_highest: float | None = None


def judge_frame_temperature(
    test: FrameTemperatureTest, insulation_class: str | None, criteria: Criteria
) -> FrameTemperatureResult:
    """A frame near its winding's class temperature is too hot; a cool one proves little about the winding."""
    if test.reading is None or not test.reading.amount.is_exact:
        finding = unproven("reading-missing", "The frame's temperature was not read.")
        return FrameTemperatureResult(findings=(finding,))
    celsius = test.reading.amount.value
    if insulation_class is None:
        text = f"Frame at {celsius:g} °C; the insulation class isn't on record, so nothing to compare with."
        return FrameTemperatureResult(frame_temperature_c=celsius, findings=(unproven("frame-cool", text),))
    top = CLASS_C[insulation_class]
    shown = f"Frame at {celsius:g} °C, class {insulation_class} is {top:g} °C"
    share = life_share(celsius, insulation_class)
    if celsius > top:
        text = f"{shown}: the winding is hotter still; at most {100 * share:.0f} % of its life at class temperature."
        finding = act("life-shortened", text)
    elif celsius > top - criteria.frame_below_class_k.value:
        finding = watch("frame-hot", f"{shown}: hot. Cooling, load, volts; take the winding's own temperature.")
    else:
        finding = sound("frame-cool", f"{shown}. Compare with earlier readings at the same spot.")
    return FrameTemperatureResult(frame_temperature_c=celsius, life_share_highest=min(1.0, share), findings=(finding,))
