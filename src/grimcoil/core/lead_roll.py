"""Roll the leads: does the odd current stay on the line (supply) or travel with the motor lead (motor)?

Model: I = mean + line effect + lead effect + roll effect, each set of effects adding up to nothing. The three
rolls make a Latin square of nine readings, two degrees of freedom left over. (computed)
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.findings import Finding, Result, act, sound, unproven, watch
from grimcoil.core.measured import LeadRollTest, Roll
from grimcoil.core.quantiles import fisher_two
from grimcoil.core.resistance.balance import unbalance_percent

LINES = ("L1", "L2", "L3")
SURE = 0.90
MUCH_LARGER = 4.0
# Scatter that a steady load and a clamp leave at least, share of the mean; common practice without source.
LEAST_SCATTER = 0.004
SMALL_PERCENT = 1.0


@dataclass(frozen=True, slots=True)
class RollFit:
    """Effects in A by line and by lead; scatter in A with its degrees of freedom; certainties from 0 to 1."""

    mean_a: float
    line_effect_a: Mapping[str, float]
    lead_effect_a: Mapping[str, float]
    scatter_a: float
    freedom: float
    line_certainty: float
    lead_certainty: float

    @property
    def line_size(self) -> float:
        """Largest line effect, percent of the mean."""
        return 100 * max(abs(a) for a in self.line_effect_a.values()) / self.mean_a

    @property
    def lead_size(self) -> float:
        """Largest lead effect, percent of the mean."""
        return 100 * max(abs(a) for a in self.lead_effect_a.values()) / self.mean_a


@dataclass(frozen=True, slots=True)
class LeadRollResult(Result):
    """The fit, and which roll has the least unbalance (counted from 1)."""

    mean_a: float | None = None
    line_effect_a: Mapping[str, float] = field(default_factory=dict)
    lead_effect_a: Mapping[str, float] = field(default_factory=dict)
    line_certainty: float | None = None
    lead_certainty: float | None = None
    unbalance_percent: tuple[float, ...] = ()
    best_roll: int | None = None


def fit_rolls(amps: Sequence[Mapping[str, float]], maps: Sequence[Mapping[str, str]]) -> RollFit | None:
    """Least squares over the readings. amps: A by line, one mapping a roll; maps: line -> motor lead.

    None where line and lead effects can't be told apart (fewer than two different rolls). Certainty: 1 less the
    chance that scatter alone makes an effect that large (F test; scatter not below what a clamp leaves).
    """
    leads = sorted({lead for m in maps for lead in m.values()})
    if len(leads) != 3 or len({tuple(m[line] for line in LINES) for m in maps}) < 2:
        return None
    rows = [
        (roll, LINES.index(line), leads.index(maps[roll][line]), amps[roll][line])
        for roll in range(len(amps))
        for line in LINES
    ]
    y = np.array([row[3] for row in rows])
    design = np.array([_row(row[0], row[1], row[2], len(amps)) for row in rows])
    beta, _, rank, _ = np.linalg.lstsq(design, y, rcond=None)
    if rank < design.shape[1]:
        return None
    residual = float(((y - design @ beta) ** 2).sum())
    freedom = len(rows) - design.shape[1]
    mean = float(beta[0])
    floor = (LEAST_SCATTER * mean) ** 2
    variance = max(residual / freedom, floor) if freedom else floor
    inverse = np.linalg.inv(design.T @ design)
    weight = float(freedom or 20)
    return RollFit(
        mean,
        dict(zip(LINES, _effects(beta[1:3]), strict=True)),
        dict(zip(leads, _effects(beta[3:5]), strict=True)),
        float(np.sqrt(variance)),
        weight,
        _certainty(beta[1:3], inverse[1:3, 1:3] * variance, weight),
        _certainty(beta[3:5], inverse[3:5, 3:5] * variance, weight),
    )


def _contrast(index: int) -> list[float]:
    """Coding of three levels by two columns that add up to nothing."""
    return [[1.0, 0.0], [0.0, 1.0], [-1.0, -1.0]][index]


def _row(roll: int, line: int, lead: int, rolls: int) -> list[float]:
    drift = [0.0] * (rolls - 1)
    if roll < rolls - 1:
        drift[roll] = 1.0
    else:
        drift = [-1.0] * (rolls - 1)
    return [1.0, *_contrast(line), *_contrast(lead), *drift]


def _effects(two: NDArray[np.float64]) -> list[float]:
    return [float(two[0]), float(two[1]), float(-two.sum())]


def _certainty(effect: NDArray[np.float64], covariance: NDArray[np.float64], freedom: float) -> float:
    f = float(effect @ np.linalg.solve(covariance, effect)) / 2
    return fisher_two(f, freedom)


def judge_lead_roll(test: LeadRollTest) -> LeadRollResult:
    """Supply, motor, both or neither, and the roll to leave it on."""
    amps = [{line: r.amount.value for line, r in roll.amps.items() if r.amount.is_exact} for roll in test.rolls]
    whole = [a for a in amps if set(a) == set(LINES) and sum(a.values()) > 0]
    fitting = [roll for roll in test.rolls if set(roll.map) == set(LINES) and len(set(roll.map.values())) == 3]
    if len(whole) < len(test.rolls) or len(fitting) < len(test.rolls) or len(test.rolls) < 2:
        text = "Two or three rolls are needed, each with the lead on L1, L2, L3 and three exact amps."
        return LeadRollResult(findings=(unproven("roll-missing", text),))
    fit = fit_rolls(whole, [roll.map for roll in test.rolls])
    if fit is None:
        text = "These rolls can't tell line from lead: shift all three by one terminal and read again."
        return LeadRollResult(findings=(*_turning(test.rolls), unproven("roll-missing", text)))
    unbalances = tuple(unbalance_percent(list(a.values())) for a in whole)
    best = min(range(len(unbalances)), key=unbalances.__getitem__)
    findings = [*_turning(test.rolls), _verdict(fit, test.rolled_at)]
    text = f"Roll {best + 1} has the least unbalance, {unbalances[best]:.1f} %: leave it on that one."
    findings.append(sound(findings[-1].code, text))
    return LeadRollResult(
        mean_a=fit.mean_a,
        line_effect_a=fit.line_effect_a,
        lead_effect_a=fit.lead_effect_a,
        line_certainty=fit.line_certainty,
        lead_certainty=fit.lead_certainty,
        unbalance_percent=unbalances,
        best_roll=best + 1,
        findings=tuple(findings),
    )


def _sure(certainty: float) -> str:
    """`72 % sure`; nothing is ever quite sure."""
    return "over 99 % sure" if certainty >= 0.995 else f"{100 * certainty:.0f} % sure"


def _turning(rolls: Sequence[Roll]) -> list[Finding]:
    """A swap of two leads instead of a shift of all three turns the motor round."""
    leads = sorted(rolls[0].map.values())
    first = [leads.index(rolls[0].map[line]) for line in LINES]
    turned = [
        i + 1
        for i, roll in enumerate(rolls)
        if (leads.index(roll.map["L2"]) - leads.index(roll.map["L1"])) % 3 != (first[1] - first[0]) % 3
    ]
    if not turned:
        return []
    names = ", ".join(str(i) for i in turned)
    return [
        watch("roll-turns", f"Roll {names} swaps two leads: the motor turns the other way. Shift all three instead.")
    ]


def _verdict(fit: RollFit, rolled_at: str | None) -> Finding:
    line, lead = _most(fit.line_effect_a), _most(fit.lead_effect_a)
    line_text = f"on line {line} {fit.line_effect_a[line]:+.2g} A ({_sure(fit.line_certainty)})"
    lead_text = f"with lead {lead} {fit.lead_effect_a[lead]:+.2g} A ({_sure(fit.lead_certainty)})"
    elsewhere = (
        " Rolled at the starter: cable and overload travelled with the lead; roll at the motor box to clear them."
        if rolled_at == "starter"
        else ""
    )
    by_line = fit.line_certainty >= SURE and fit.line_size >= SMALL_PERCENT
    by_lead = fit.lead_certainty >= SURE and fit.lead_size >= SMALL_PERCENT
    if by_line and by_lead and max(fit.line_size, fit.lead_size) < MUCH_LARGER * min(fit.line_size, fit.lead_size):
        return watch(
            "roll-both",
            f"Some stays {line_text}, some moves {lead_text}: the cause is in both, supply and motor.{elsewhere}",
        )
    if by_line and (not by_lead or fit.line_size > fit.lead_size):
        return act(
            "roll-supply",
            f"The unequal current stays {line_text}: the cause is in the supply. Only {lead_text} moves"
            f" with the motor.",
        )
    if by_lead:
        return act(
            "roll-motor",
            f"The unequal current moves {lead_text}: the cause is in the motor. Only {line_text} stays.{elsewhere}",
        )
    if max(fit.line_size, fit.lead_size) < SMALL_PERCENT:
        return sound("roll-neither", f"Nothing stays and nothing moves: at most {fit.line_size:.1f} %.")
    return unproven("roll-neither", f"Neither is shown: {line_text}, {lead_text}. Steady the load and roll again.")


def _most(effects: Mapping[str, float]) -> str:
    return max(effects, key=lambda name: abs(effects[name]))
