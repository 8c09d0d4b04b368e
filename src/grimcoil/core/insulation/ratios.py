"""Polarization index and dielectric absorption ratio, with their rules of validity."""

from __future__ import annotations

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Verdict

_SAYS = {
    Bound.ABOVE: "above ",
    Bound.BELOW: "below ",
    Bound.EXACT: "",
    Bound.BETWEEN: "at least ",
}


def index_wanted(insulation_class: str | None, criteria: Criteria) -> float:
    """The least polarization index: 1.5 for class A, 2.0 for B, F, H and where the class isn't on record (IEEE 43-2013,
    standard, from memory; the works may set their own).
    """
    return (criteria.pi_minimum_class_a if insulation_class == "A" else criteria.pi_minimum).value


def pi_findings(
    pi: Amount,
    r40_mohm: Amount | None,
    insulation_class: str | None,
    old: bool,
    criteria: Criteria,
) -> list[Finding]:
    """Findings of R(10 min)/R(1 min). Not meaningful with R40 above 5000 MΩ; a low index alone doesn't condemn.

    Each finding names its source.
    """
    top = criteria.pi_meaningless_above_mohm.value
    if r40_mohm is not None and r40_mohm.surely_at_least(top):
        return [
            _finding(
                "pi-not-meaningful",
                Verdict.SOUND,
                f"No polarization index is judged above {top:g} MΩ at 40 °C.",
            )
        ]
    if pi.bound is Bound.NOTHING:
        return [
            _finding(
                "pi-unproven",
                Verdict.UNPROVEN,
                "No polarization index: both readings are only limits, such as >550 MΩ. Use a tester with a"
                " higher range.",
            )
        ]
    least = index_wanted(insulation_class, criteria)
    shown = f"{_SAYS[pi.bound]}{pi.value:.2f}"
    if pi.surely_below(1):
        return [
            _finding(
                "pi-below-one",
                Verdict.ACT,
                f"Polarization index {shown}: it falls, water or a breakdown path.",
            )
        ]
    if pi.surely_below(least):
        text = f"Polarization index {shown}, minimum {least:g}. Look for moisture or dirt. Clean, dry and test again."
        return [_finding("pi-low", Verdict.WATCH, text)]
    if not pi.surely_at_least(least):
        return [
            _finding(
                "pi-unproven",
                Verdict.UNPROVEN,
                f"Polarization index {shown}, minimum {least:g}: unproven. Use a tester with a higher range.",
            )
        ]
    if old and pi.surely_at_least(criteria.pi_brittle.value):
        return [
            _finding(
                "pi-brittle",
                Verdict.WATCH,
                f"Polarization index {shown} on an old winding: dried out, brittle.",
            )
        ]
    return [
        _finding(
            "pi-sound",
            Verdict.SOUND,
            f"Polarization index {shown}, at least {least:g} wanted.",
        )
    ]


def dar_findings(dar: Amount, r40_mohm: Amount | None, criteria: Criteria) -> list[Finding]:
    """Findings of R(60 s)/R(30 s). Each finding names its source."""
    top = criteria.pi_meaningless_above_mohm.value
    if r40_mohm is not None and r40_mohm.surely_at_least(top):
        return []
    if dar.bound is Bound.NOTHING:
        return [
            _finding(
                "dar-unproven",
                Verdict.UNPROVEN,
                "60 s and 30 s values are both bounds: no ratio follows.",
            )
        ]
    shown = f"{_SAYS[dar.bound]}{dar.value:.2f}"
    if dar.surely_below(criteria.dar_bad.value):
        return [
            _finding(
                "dar-bad",
                Verdict.ACT,
                f"60 s to 30 s ratio {shown}: it falls while held.",
            )
        ]
    if dar.surely_below(criteria.dar_doubtful.value):
        return [
            _finding(
                "dar-doubtful",
                Verdict.WATCH,
                f"60 s to 30 s ratio {shown}: doubtful, 1.25 is adequate.",
            )
        ]
    if not dar.surely_at_least(criteria.dar_doubtful.value):
        return [
            _finding(
                "dar-unproven",
                Verdict.UNPROVEN,
                f"60 s to 30 s ratio {shown}: 1.25 is not decided.",
            )
        ]
    return [_finding("dar-sound", Verdict.SOUND, f"60 s to 30 s ratio {shown}, 1.25 is adequate.")]


def _finding(code: str, severity: Verdict, text: str) -> Finding:
    return Finding(code, severity, text)
