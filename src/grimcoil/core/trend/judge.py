"""The trend of one winding's R40 from its points to findings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from grimcoil.core.amount import Amount
from grimcoil.core.days import day_told
from grimcoil.core.decision.schedule import NextTest, next_test
from grimcoil.core.findings import Finding, Verdict, act, sound, verdict_of, watch
from grimcoil.core.readings import three_digits
from grimcoil.core.trend.fit import YEAR_DAYS, Crossing, TrendFit, TrendPoint, crossing, fit_trend, horizon_of, usable
from grimcoil.core.trend.outliers import outliers
from grimcoil.core.trend.steps import halving_finding, step_finding

SOON_YEARS = 5.0


@dataclass(frozen=True, slots=True)
class Forecast:
    """A line and when it meets the minimum."""

    fit: TrendFit
    crosses: Crossing | None


@dataclass(frozen=True, slots=True)
class TrendResult:
    """Fit and crossing where the series supports them, and what it shows.

    off: points that can't belong to it; without: fit and crossing of the others, where there are such points.
    below: the newest value is surely under the minimum.
    """

    n: int
    n_censored: int
    fit: TrendFit | None
    crosses: Crossing | None
    findings: tuple[Finding, ...]
    off: tuple[TrendPoint, ...] = ()
    without: Forecast | None = None
    below: bool = False

    @property
    def stepped(self) -> bool:
        """The last value fell by more than the scatter allows."""
        return any(f.code in ("trend-step-watch", "trend-step-act", "trend-halving") for f in self.findings)

    @property
    def verdict(self) -> Verdict:
        """Governing verdict; a trend that can't be fitted yet doesn't unprove the last test."""
        return verdict_of([f for f in self.findings if f.code != "trend-too-few"] or [_QUIET])

    @property
    def early_edge(self) -> date | None:
        """The early edge of the band's meeting with the minimum, where the fall is sure; of the fit that governs."""
        whole = Forecast(self.fit, self.crosses) if self.fit else None
        governs = self.without if self.off else whole
        if governs is None or governs.crosses is None or not governs.fit.surely_falling:
            return None
        return governs.crosses.earliest


_QUIET = Finding("trend-no-fall", Verdict.SOUND, "No fall shown.")


def next_after(last: date, criticality: str, verdict: Verdict, trend: TrendResult | None) -> NextTest:
    """When to test again, by criticality, verdict and trend: one answer for register, page and command line."""
    if trend is None:
        return next_test(last, criticality, verdict)
    return next_test(last, criticality, verdict, trend.stepped, trend.early_edge, trend.below)


def judge_trend(points: Sequence[TrendPoint], minimum_mohm: float) -> TrendResult:
    """Judge a series in time order, one winding under like conditions; minimum in MΩ at 40 °C.

    Each finding names its source.
    """
    ordered = sorted(points, key=lambda p: p.on)
    censored = sum(not p.r40_mohm.is_exact for p in ordered)
    numbers = outliers(ordered)
    off = tuple(ordered[i] for i in numbers)
    rest = [p for i, p in enumerate(ordered) if i not in numbers]
    below = bool(ordered) and _is_below(ordered[-1].r40_mohm, minimum_mohm)
    findings = [one for one in (step_finding(ordered), halving_finding(ordered)) if one is not None]
    findings += _off_findings(ordered, off, below, minimum_mohm)
    whole, without = _forecast(ordered, minimum_mohm), _forecast(rest, minimum_mohm) if off else None
    governs = without if off else whole
    if governs is None:
        why = usable(rest)
        findings.append(Finding("trend-too-few", Verdict.UNPROVEN, f"No forecast: {why}."))
    else:
        findings.append(_fall_finding(governs, minimum_mohm, bool(off)))
    fit, crosses = (whole.fit, whole.crosses) if whole else (None, None)
    return TrendResult(len(ordered), censored, fit, crosses, tuple(findings), off, without, below)


def _is_below(newest: Amount, minimum_mohm: float) -> bool:
    return newest.high < minimum_mohm


def _forecast(points: Sequence[TrendPoint], minimum_mohm: float) -> Forecast | None:
    if usable(points) is not None:
        return None
    fit = fit_trend(points)
    return Forecast(fit, crossing(fit, minimum_mohm))


def _off_findings(
    ordered: Sequence[TrendPoint], off: Sequence[TrendPoint], below: bool, minimum_mohm: float
) -> list[Finding]:
    """Values that stand off; the newest one is never excused."""
    newest = ordered[-1] if ordered else None
    out = []
    for point in off:
        if point is newest and below:
            continue
        what = f"{_told(point.r40_mohm)} on {day_told(point.on)} is far off its series"
        out.append(watch("trend-outlier", f"{what}: measure again, or correct it. The trend is judged without it."))
    if below and newest is not None:
        again = " It is far from the earlier ones: measure again now. Until then it counts." if newest in off else ""
        text = f"{_told(newest.r40_mohm)} at 40 °C is below the minimum of {minimum_mohm:g} MΩ: act now.{again}"
        out.append(act("trend-below-minimum", text))
    return out


def _told(amount: Amount) -> str:
    if amount.is_exact:
        return f"{three_digits(amount.value)} MΩ"
    if amount.low > 0:
        return f"At least {three_digits(amount.low)} MΩ"
    return f"At most {three_digits(amount.high)} MΩ"


def _fall_finding(governs: Forecast, minimum_mohm: float, cleared: bool) -> Finding:
    fit, crosses = governs.fit, governs.crosses
    basis = f"{fit.n} tests" + (f", {fit.n_censored} of them limits" if fit.n_censored else "")
    basis += ", without what stands off" if cleared else ""
    ahead = f"in {horizon_of(fit):.3g} years"
    if not fit.surely_falling:
        text = f"No fall shown towards {minimum_mohm:g} MΩ {ahead} ({basis})."
        if crosses is not None:
            text = f"No sure fall: level within the scatter ({basis})."
        return sound("trend-no-fall", text)
    if crosses is None:
        falls = f"Insulation falls about {100 * (1 - 10**fit.slope_decades_per_year):.2g} % a year"
        text = f"{falls}. By this trend it stays above {minimum_mohm:g} MΩ for {horizon_of(fit):.3g} years ({basis})."
        return sound("trend-falling", text)
    if crosses.earliest <= fit.reference_date:
        text = (
            f"The trend is at the {minimum_mohm:g} MΩ minimum already, or its 90 % band is ({basis})."
            f" Test again sooner."
        )
        return watch("trend-falling", text)
    latest = f"later than {horizon_of(fit):.3g} years on" if crosses.latest is None else f"{crosses.latest:%b %Y}"
    text = (
        f"At this rate insulation reaches the {minimum_mohm:g} MΩ minimum between {crosses.earliest:%b %Y} and {latest}"
        f" (90 % band, {basis})."
    )
    years = (crosses.earliest - fit.reference_date).days / YEAR_DAYS
    return watch("trend-falling", text) if years <= SOON_YEARS else sound("trend-falling", text)
