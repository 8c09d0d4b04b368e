"""Findings of an insulation test, as sentences with their figures."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.findings import Finding, Verdict, act, sound, unproven, watch
from grimcoil.core.insulation.correction import LOWEST_C, dew_point_c
from grimcoil.core.insulation.curve import Curve
from grimcoil.core.insulation.minimum import coldest_c, judge, judge_uncorrected, times_needed
from grimcoil.core.insulation.spot import LONG_CABLE_M, Spot, likely_mohm
from grimcoil.core.readings import three_digits
from grimcoil.core.subject import Conditions

FORBIDDEN = unproven(
    "insulation-forbidden", "The maker forbids high-voltage insulation tests here: insulation stays unproven."
)
NO_VOLTAGE = unproven("test-voltage-missing", "The test voltage isn't on record: a value stands for its voltage only.")
# A school of its own; common practice without source.
FIELD_RULE_TIMES, FIELD_RULE_C = 4.0, 20.0
MISSING = unproven("insulation-missing", "No insulation reading taken.")
TURNED = sound(
    "polarity-turned", "Positive was on the winding; positive to frame is preferred. Compare with like polarity only."
)


def amount_text(amount: Amount) -> str:
    """`419`, `>419`, `<0.1`, `10 to 100`. MΩ as given (computed)."""
    if amount.bound is Bound.BETWEEN:
        return f"{three_digits(amount.low)} to {three_digits(amount.high)}"
    lead = {Bound.ABOVE: ">", Bound.BELOW: "<"}.get(amount.bound, "")
    return lead + three_digits(amount.value)


@dataclass(frozen=True, slots=True)
class Limits:
    """What a value is held against, MΩ. least: the winding's minimum. may_run: down to this it is low, below it failed;
    watched: by a school in which it may run from there up to the minimum.
    """

    least: float
    may_run: float
    watched: bool = False

    def runs(self, value: Amount) -> bool:
        """Whether a value in MΩ surely lies where this school lets a motor run and be watched (common practice)."""
        return self.watched and value.surely_at_least(self.may_run) and value.surely_below(self.least)


CORRECTED_ALREADY = unproven(
    "insulation-unproven",
    "The tester shows the value at 40 °C, and these criteria judge it as read: take the winding temperature.",
)


def counted(spot: Spot) -> Finding:
    """By the school that takes it so, a short hold's value is the least that a minute would show. s, MΩ (common
    practice without source).
    """
    text = f"{amount_text(spot.mohm)} MΩ at {spot.t_s:g} s, not falling: counts as at least that at 1 minute."
    return sound("spot-counted", f"{text} A late breakdown isn't excluded.")


def spot_only(curve: Curve, cable_m: float) -> Finding:
    """A short hold proves nothing by this school; what the minute is likely to show. m of cable, MΩ (computed)."""
    text = f"{amount_text(curve.last)} MΩ is a spot reading. The verdict needs a 1-minute reading. Hold 1 minute."
    likely = likely_mohm(curve)
    if likely is not None:
        text += f" Likely then: {amount_text(likely)} MΩ."
    if cable_m >= LONG_CABLE_M:
        text += f" {cable_m:g} m of cable charge first: hold longer."
    return unproven("spot-only", text)


def _may_run(shown: str, what: str) -> Finding:
    text = (
        f"Insulation {what} is low: {shown}. By these criteria it may run: find out why it is so low, test it sooner."
    )
    return watch("insulation-may-run", text)


def as_read(one: Amount, limits: Limits, what: str, cold: bool) -> Finding:
    """The value as it was read against a minimum that stands so; below 10 °C nothing passes.

    Figures in MΩ. The finding names its source.
    """
    least = limits.least
    verdict = judge(one, least)
    shown = f"{amount_text(one)} MΩ as read after 1 minute, minimum {least:g} as read"
    if verdict is Verdict.SOUND and not cold:
        return sound("insulation-sound", f"Insulation {what} is good: {shown}.")
    if verdict is not Verdict.ACT:
        why = (
            "the reading is only a limit: use a tester that shows a value"
            if not cold
            else "below 10 °C no value passes; let it come to 10 °C"
        )
        return unproven("insulation-unproven", f"Insulation {what} unproven: {shown}; {why}.")
    if limits.runs(one) and not cold:
        return _may_run(shown, what)
    code = "insulation-failed" if one.surely_below(limits.may_run) else "insulation-low"
    return act(code, f"Insulation {what} below the minimum: {shown}. Not accepted.")


def corrected(r40: Amount, limits: Limits, what: str) -> Finding:
    """The value at 40 °C against the minimum; below `may_run` it failed outright.

    Figures in MΩ. The finding names its source.
    """
    least = limits.least
    verdict = judge(r40, least)
    shown = f"{amount_text(r40)} MΩ at 40 °C after 1 minute, minimum {least:g}"
    if verdict is Verdict.SOUND:
        return sound("insulation-sound", f"Insulation {what} is good: {shown}.")
    if verdict is Verdict.UNPROVEN:
        return unproven(
            "insulation-unproven",
            f"Insulation {what} unproven. The reading is only a limit: {shown}. Use a tester that shows a value.",
        )
    if limits.runs(r40):
        return _may_run(shown, what)
    if r40.surely_below(limits.may_run):
        return act("insulation-failed", f"Insulation {what} failed: {shown}. Do not run it.")
    text = f"Insulation {what} {shown}. Not accepted. Do not run it without a signed exception."
    return act("insulation-low", text)


def uncorrected(
    one: Amount, limits: Limits, conditions: Conditions, insulation_system: str | None, what: str
) -> list[Finding]:
    """Without a usable winding temperature only a value far to one side proves anything.

    MΩ, °C. Each finding names its source.
    """
    warm, air, least = conditions.winding_temperature_c, conditions.ambient_temperature_c, limits.least
    verdict = judge_uncorrected(one, least, insulation_system, warm, air)
    if limits.watched and verdict is Verdict.ACT:  # low is no fault by this school before it is below what may run
        verdict = judge_uncorrected(one, limits.may_run, insulation_system, warm, air)
        if verdict is Verdict.SOUND:
            return [
                Finding(*_why_not_corrected(warm, air, Verdict.WATCH)),
                _may_run(f"{amount_text(one)} MΩ as read", what),
            ]
    why = Finding(*_why_not_corrected(warm, air, verdict))
    shown = f"{amount_text(one)} MΩ as read, minimum {least:g} at 40 °C"
    if verdict is Verdict.SOUND:
        coldest = coldest_c(warm, air) or LOWEST_C
        times = times_needed(coldest, insulation_system)
        text = f"Far enough above even at {coldest:g} °C: {shown}, {times:.3g} × needed."
        out = [why, sound("insulation-sound", text)]
        if air is not None and air >= FIELD_RULE_C and one.surely_at_least(FIELD_RULE_TIMES * least):
            rule = f"“{FIELD_RULE_TIMES:g} times the minimum at {FIELD_RULE_C:g} °C or above”"
            out.append(sound("field-rule-passes", f"The field rule {rule} passes it too."))
        return out
    if verdict is Verdict.ACT:
        return [why, act("insulation-low", f"Below the minimum at any temperature it can have: {shown}.")]
    return [why, unproven("insulation-unproven", f"Insulation {what} unproven: {shown}. {_what_to_do(warm, air)}")]


def _why_not_corrected(warm: float | None, air: float | None, verdict: Verdict) -> tuple[str, Verdict, str]:
    if warm is not None:
        text = f"{warm:g} °C is outside 10 to 85 °C, where the correction to 40 °C holds."
        return "correction-out-of-range", verdict, text
    if air is not None and air < LOWEST_C:
        return "correction-out-of-range", verdict, f"The air is at {air:g} °C: below 10 °C no value at 40 °C follows."
    return "temperature-missing", verdict, "No winding temperature recorded, so no value at 40 °C."


def _what_to_do(warm: float | None, air: float | None) -> str:
    cold = (warm if warm is not None else air if air is not None else LOWEST_C) < LOWEST_C
    return "Let it come to 10 °C or more and read again." if cold else "Take the winding temperature."


def wet(r40: Amount, least: float, conditions: Conditions) -> list[Finding]:
    """At or below the dew point the surface is wet. MΩ, °C, % (Magnus dew point, computed)."""
    warm, air, humid = (
        conditions.winding_temperature_c,
        conditions.ambient_temperature_c,
        conditions.relative_humidity_percent,
    )
    if warm is None or air is None or not humid or air <= -200:
        return []
    dew = dew_point_c(air, humid)
    if warm > dew:
        return []
    text = (
        f"Winding {warm:g} °C, dew point {dew:.1f} °C: the winding surface is wet. Warm it above the dew"
        f" point. Test again."
    )
    return [Finding("wet-surface", Verdict.WATCH if r40.surely_at_least(least) else Verdict.UNPROVEN, text)]


def working(one: Amount | None, k: float | None, r40: Amount | None) -> str:
    """The correction with its figures. MΩ (computed)."""
    if one is None or k is None or r40 is None:
        return ""
    return f"{amount_text(one)} MΩ read × {k:.4f} = {amount_text(r40)} MΩ at 40 °C"
