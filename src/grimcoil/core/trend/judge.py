"""The trend of one winding's R40 from its points to findings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from grimcoil.core.findings import Finding, Verdict, verdict_of
from grimcoil.core.trend.fit import (
    YEAR_DAYS,
    Crossing,
    TrendFit,
    TrendPoint,
    crossing,
    fit_trend,
    usable,
)
from grimcoil.core.trend.steps import step_finding

SOON_YEARS = 5.0


@dataclass(frozen=True, slots=True)
class TrendResult:
    """Fit and crossing where the series supports them, and what it shows."""

    n: int
    n_censored: int
    fit: TrendFit | None
    crosses: Crossing | None
    findings: tuple[Finding, ...]

    @property
    def stepped(self) -> bool:
        """The last value fell by more than the scatter allows."""
        return any(f.code in ("trend-step-watch", "trend-step-act") for f in self.findings)

    @property
    def verdict(self) -> Verdict:
        """Governing verdict; a trend that can't be fitted yet doesn't unprove the last test."""
        return verdict_of([f for f in self.findings if f.code != "trend-too-few"] or [_QUIET])


_QUIET = Finding("trend-no-fall", Verdict.SOUND, "No fall shown.")


def judge_trend(points: Sequence[TrendPoint], minimum_mohm: float) -> TrendResult:
    """Judge a series in time order, one winding under like conditions."""
    ordered = sorted(points, key=lambda p: p.on)
    censored = sum(not p.r40_mohm.is_exact for p in ordered)
    step = step_finding(ordered)
    findings = [] if step is None else [step]
    why = usable(ordered)
    if why is not None:
        findings.append(Finding("trend-too-few", Verdict.UNPROVEN, f"No forecast: {why}."))
        return TrendResult(len(ordered), censored, None, None, tuple(findings))
    fit = fit_trend(ordered)
    crosses = crossing(fit, minimum_mohm)
    findings.append(_fall_finding(fit, crosses, minimum_mohm))
    return TrendResult(len(ordered), censored, fit, crosses, tuple(findings))


def _fall_finding(fit: TrendFit, crosses: Crossing | None, minimum_mohm: float) -> Finding:
    basis = f"fitted to {fit.n} tests" + (f", {fit.n_censored} of them bounds" if fit.n_censored else "")
    if crosses is None or not fit.surely_falling:
        text = f"No fall shown towards {minimum_mohm:g} MΩ in 20 years ({basis})."
        if crosses is not None:
            text = f"No sure fall: level within the scatter ({basis})."
        return Finding("trend-no-fall", Verdict.SOUND, text)
    if crosses.earliest <= fit.reference_date:
        text = f"The line is already at {minimum_mohm:g} MΩ or its 90 % band reaches it ({basis})."
        return Finding("trend-falling", Verdict.WATCH, text)
    latest = "later than 20 years on" if crosses.latest is None else f"{crosses.latest:%b %Y}"
    text = (
        f"At this fall it meets {minimum_mohm:g} MΩ between {crosses.earliest:%b %Y} and {latest} ({basis}, 90 % band)."
    )
    years = (crosses.earliest - fit.reference_date).days / YEAR_DAYS
    return Finding("trend-falling", Verdict.WATCH if years <= SOON_YEARS else Verdict.SOUND, text)
