"""Findings of a winding resistance test, as sentences with their figures."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, act, sound, unproven, watch
from grimcoil.core.limits import SLACK, within
from grimcoil.core.readings import three_digits
from grimcoil.core.resistance.balance import MEASURES, Balance
from grimcoil.core.resistance.patterns import Pattern

BALANCE = frozenset({"balanced", "unbalanced", "unbalance-watch", "unbalance-unproven"})
_MEASURE_NAME = {
    "unbalance": ("Resistance unbalance", " %"),
    "spread": ("Resistance spread", " %"),
    "difference": ("Resistance difference", " Ω"),
}


def balance_finding(judged: Balance, limits: Criteria, needed_ohm: float, meter_shows: bool = False) -> Finding:
    """What the measure of the criteria and the meter's digits prove. meter_shows: the meter has the digits it takes.

    % or Ω as the measure. The finding names its source.
    """
    name, unit = _MEASURE_NAME[limits.balance_measure]
    at_most, act_above = limits.balance_sound.value, limits.balance_act.value
    if within(judged.highest, at_most):
        figures = f"{name.lower()} {judged.shown:.2f}{unit}, limit {at_most:g}{unit}"
        return sound("balanced", f"Balanced: {figures}. With this meter {judged.highest:.2f}{unit} at most.")
    uneven = not within(judged.lowest, at_most)
    if uneven and (act_above == at_most or not within(judged.lowest, act_above)):
        return act(
            "unbalanced",
            f"{name} {judged.shown:.2f}{unit}, act above {act_above:g}{unit}. Certain with this meter (at least"
            f" {judged.lowest:.2f}{unit}). Clean the contacts and measure again.",
        )
    if uneven and within(judged.highest, act_above):
        text = f"{name} {judged.shown:.2f}{unit}, limit {at_most:g}{unit}, act above {act_above:g}{unit}. Test sooner."
        return watch("unbalance-watch", text)
    if uneven:
        text = (
            f"{name} {judged.shown:.2f}{unit}, limit {at_most:g}{unit}. With this meter up to"
            f" {_possible(judged.highest, unit)} is possible, act above {act_above:g}{unit}. Use a finer meter."
        )
        return watch("unbalance-watch", text)
    finer = f"Use a meter with steps of {ohm_text(needed_ohm)} or less"
    if needed_ohm <= 0:
        finer = "It is on the limit: measure again"
    if meter_shows:
        finer = "This meter shows enough digits: type all of them"
    return unproven(
        "unbalance-unproven",
        f"Balance unproven. The meter shows {judged.shown:.2f}{unit}, but {judged.lowest:.2f} to"
        f" {_possible(judged.highest, unit)} is possible. Limit {at_most:g}{unit}. {finer}.",
    )


def _possible(highest: float, unit: str) -> str:
    return "any value" if highest == float("inf") else f"{highest:.2f}{unit}"


def ohm_text(ohm: float) -> str:
    """Two digits, milliohms below 0.1 ohm (computed).

    >>> ohm_text(0.0179)
    '18 mΩ'
    """
    return f"{ohm * 1000:.2g} mΩ" if ohm < 0.1 else f"{ohm:.2g} Ω"


def working(values: Sequence[float], measure: str) -> str:
    """The formula with its figures. Ω (computed)."""
    mean = sum(values) / len(values)
    far = max(values, key=lambda value: abs(value - mean))
    figure = MEASURES[measure](values)
    if measure == "unbalance":
        return f"mean {mean:.5g} Ω; 100 · |{far:.5g} − {mean:.5g}| / {mean:.5g} = {figure:.3g} %"
    if measure == "spread":
        return f"100 · ({max(values):.5g} − {min(values):.5g}) / {min(values):.5g} = {figure:.3g} %"
    return f"{max(values):.5g} − {min(values):.5g} = {figure:.3g} Ω"


_PATTERN_TEXT = {
    "open-coil-delta": "Pattern: delta, the coil across {phase} open (one pair reads twice the others)."
    " Clean the contacts, measure again.",
    "shorted-turns": "Pattern: {connection}, shorted turns in phase {phase} ({deviation:.1f} % against the"
    " other phases).",
    "poor-joint": "Pattern: {connection}, poor joint in phase {phase} (+{deviation:.1f} % against the other"
    " phases). Remake it.",
    "parallel-path-open": "Pattern: {connection}, one of two parallel paths open in phase {phase} (twice the others).",
    "unclassified": "The unbalance fits no single fault. Clean the contacts and measure all three again.",
}
CONTRADICTORY = unproven(
    "pairs-contradict",
    "One pair reads more than the two others together. No winding does that. Clean the contacts and measure all three"
    " again.",
)


def pattern_findings(found: Sequence[Pattern]) -> list[Finding]:
    """A finding for each pattern but `balanced`."""
    out = []
    for pattern in found:
        if pattern.pattern == "balanced":
            continue
        text = _PATTERN_TEXT[pattern.pattern].format(
            phase=pattern.phase,
            connection=pattern.internal_connection or "coil",
            deviation=pattern.deviation_percent or 0.0,
        )
        out.append(watch("pattern-unclassified" if pattern.pattern == "unclassified" else pattern.pattern, text))
    return out


def open_finding(pattern: Pattern, ohms: Mapping[str, float | None]) -> Finding:
    """A finding for a pattern of open pairs. Ω (computed)."""
    opened = ", ".join(name for name, ohm in ohms.items() if ohm is None)
    texts = {
        "open-phase": f"Open: {opened}. In a wye the phase of lead {pattern.phase} is open.",
        "lead-open-delta": f"Open: {opened}. In a delta line lead {pattern.phase} is open.",
        "open-coil-delta": f"Open: {opened}. In a delta the coils {pattern.phase} are open (the pair reads × 1.5).",
        "all-open": "All three pairs are open: lead break, star point, a hot protector, or the wrong terminals.",
        "unclassified": f"Open only on {opened}: no winding reads like that, so one reading is wrong."
        f" Measure all three again.",
    }
    if pattern.pattern == "unclassified":
        return unproven("pairs-contradict", texts["unclassified"])
    return act(pattern.pattern, texts[pattern.pattern])


_LIKELY = (
    (4.0, "coil halves in series that were in parallel (the higher voltage's connection)"),
    (3.0, "star where it was delta"),
    (1 / 3, "delta where it was star"),
    (0.25, "coil halves in parallel that were in series (the lower voltage's connection)"),
)


def drift_finding(ratio: float, doubt: float, reference_c: float, limit_percent: float, even: bool) -> Finding | None:
    """The mean against its earlier value, both at the reference temperature; None where it can lie within the limit.

    ratio: 1; doubt: relative half-width that the meter's digits leave; limit_percent: %.

    The finding names its source.
    """
    if abs(ratio - 1) - ratio * doubt <= limit_percent / 100 * (1 + SLACK):
        return None
    start = f"{three_digits(ratio)} times the earlier value at {reference_c:g} °C, more than {limit_percent:g} % apart"
    if not even:
        return watch("resistance-drift", f"The mean is {start}. Check the connection and the meter.")
    likely = next((words for times, words in _LIKELY if abs(ratio / times - 1) + doubt <= 0.08), "")
    if likely:
        return act("connection-misfit", f"All pairs agree, but read {start}. It fits {likely}.")
    return watch(
        "resistance-drift", f"All pairs agree, but read {start}. Check the connection, the motor's tag and the meter."
    )


def coarse_finding(highest: float, resolution: float, needed_ohm: float) -> Finding:
    """All readings one or two steps of the last digit, or none: nothing follows. Ω (computed)."""
    finer = f" Use a meter with steps of {ohm_text(needed_ohm)} or less." if needed_ohm > 0 else ""
    text = f"At most {three_digits(highest)} Ω in steps of {ohm_text(resolution)}: too coarse a meter for this motor."
    return unproven("meter-coarse", f"{text} Nothing is named from digits it can't resolve.{finer}")


def fewer_finding(readings: Sequence[tuple[str, str]], resolution: float) -> Finding:
    """Figures with fewer digits than the meter shows. Resolution in Ω (computed)."""
    listed = ", ".join(f"{pair} “{text}”" for pair, text in readings)
    return unproven("digits-fewer", f"{listed}: the meter shows steps of {ohm_text(resolution)}. Type all its digits.")


def missing_finding(names: Sequence[str]) -> Finding:
    """Pairs that are needed to compare."""
    return unproven("resistance-missing", f"To compare the phases, measure these pairs too: {', '.join(names)}.")
