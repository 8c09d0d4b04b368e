"""Settled line currents: balance, load, and the pattern they make."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from grimcoil.core.choices import BrakeFeed
from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Result, act, sound, unproven, watch
from grimcoil.core.limits import within
from grimcoil.core.measured import CurrentTest
from grimcoil.core.plate import pole_number
from grimcoil.core.points import LINES, line_of, once
from grimcoil.core.resistance.balance import spread_percent, unbalance_percent
from grimcoil.core.subject import Subject

# Common practice without source: a lost line's clamp still picks up a little, up to a tenth of the others; no load
# takes 25 to 50 % of full load, so less than this is next to none.
LOST = 0.10
ALL_LOW_PERCENT = 35.0
VOLTAGE_EXPLAINS = 10.0
STARTING_TIMES = 4.0
NO_LOAD_PERCENT = 50.0


@dataclass(frozen=True, slots=True)
class CurrentResult(Result):
    """What the line currents show."""

    mean_a: float | None = None
    unbalance_percent: float | None = None
    spread_percent: float | None = None
    load_percent: float | None = None
    pattern: str = "unclassified"
    criteria: str = ""
    working: str = ""


@dataclass(frozen=True, slots=True)
class _Lines:
    """Amps by line less the brake's, their figures, and the pattern."""

    amps: Mapping[str, float]
    mean: float
    unbalance: float
    pattern: str

    @property
    def highest(self) -> str:
        """The line that takes most."""
        return max(self.amps, key=lambda line: self.amps[line])

    @property
    def lowest(self) -> str:
        """The line that takes least."""
        return min(self.amps, key=lambda line: self.amps[line])


def judge_current(test: CurrentTest, subject: Subject, voltage_unbalance: float | None = None) -> CurrentResult:
    """Judge three line currents; voltage_unbalance (percent) lets a part of theirs be laid to the supply.

    Amps. Each finding names its source.
    """
    criteria = subject.criteria
    readings, twice = once(test.readings, line_of)
    brake = {line: amps for name, amps in test.brake_a.items() if (line := line_of(name)) is not None}
    amps = {
        line: max(0.0, readings[line].amount.value - brake.get(line, 0.0))
        for line in LINES
        if line in readings and readings[line].amount.is_exact
    }
    if len(amps) != 3 or sum(amps.values()) <= 0:
        lacking = ", ".join(line for line in LINES if line not in amps)
        finding = unproven("current-missing", f"Three line currents are needed: {lacking or 'all read 0'}.")
        return CurrentResult(findings=(finding, *twice), criteria=criteria.name)
    mean = sum(amps.values()) / 3
    unbalance = unbalance_percent(list(amps.values()))
    rated = subject.plate.full_load_in_use_a
    load = 100 * mean / rated if rated else None
    lines = _Lines(amps, mean, unbalance, _pattern(amps, unbalance, load, subject, test))
    pair = _brake_pair(lines, subject)
    findings = [pair or _balance_finding(lines, voltage_unbalance, criteria), *twice]
    findings += _load_findings(lines, rated, subject, test)
    findings += _remarks(lines, test)
    far = max(amps.values(), key=lambda a: abs(a - mean))
    return CurrentResult(
        mean_a=mean,
        unbalance_percent=unbalance,
        spread_percent=spread_percent(list(amps.values())),
        load_percent=load,
        pattern=lines.pattern,
        findings=tuple(findings),
        criteria=criteria.name,
        working=f"mean {mean:.4g} A; 100 · |{far:g} − {mean:.4g}| / {mean:.4g} = {unbalance:.3g} %",
    )


def _pattern(
    amps: Mapping[str, float], unbalance: float, load: float | None, subject: Subject, test: CurrentTest
) -> str:
    values = sorted(amps.values())
    if within(values[0], LOST * (values[1] + values[2]) / 2):
        return "line-lost"
    if within(unbalance, subject.criteria.current_unbalance_sound.value):
        if load is not None and not within(load, 100 * subject.plate.service_factor):
            return "all-high"
        return "all-low" if load is not None and load < ALL_LOW_PERCENT else "even"
    low_gap, high_gap = values[1] - values[0], values[2] - values[1]
    if high_gap > 2 * low_gap:
        return "one-high"
    taken_off = any(test.brake_a.values())
    return "brake-pair" if low_gap > 2 * high_gap and not taken_off else "unclassified"


def _brake_pair(lines: _Lines, subject: Subject) -> Finding | None:
    """Two lines high alike where a brake is fed from them: what the motor takes isn't told from what the brake takes.
    None where the brake isn't on those lines, its amps were taken off, or the lines are even.
    """
    feeds = subject.position.brake_lines
    on_record = bool(feeds) or subject.fittings.brake_feed == BrakeFeed.TWO_LINES
    if lines.pattern != "brake-pair" or not on_record or lines.lowest in feeds.split("-"):
        return None
    first, second = (line for line in lines.amps if line != lines.lowest)
    more = (lines.amps[first] + lines.amps[second]) / 2 - lines.amps[lines.lowest]
    text = (
        f"{first} and {second} carry about {more:.3g} A more than {lines.lowest}: the brake is fed from "
        + (f"{first} and {second}." if feeds else "two lines.")
        + " Read the brake's own amps and type them, then the motor's balance shows."
    )
    if within(lines.unbalance, subject.criteria.current_unbalance_act.value):
        return watch("brake-pair", text)
    return unproven("brake-pair", text)


def _balance_finding(lines: _Lines, volts: float | None, criteria: Criteria) -> Finding:
    if lines.pattern == "line-lost":
        lost = lines.lowest
        return act("line-lost", f"{lost} carries {lines.amps[lost]:.3g} A. The motor is single-phasing. Stop it now.")
    if criteria.current_measure == "spread":
        return _spread_finding(lines, criteria)
    at_most, act_above = criteria.current_unbalance_sound.value, criteria.current_unbalance_act.value
    unbalance = lines.unbalance
    shown = f"Current unbalance {unbalance:.1f} %"
    if within(unbalance, at_most):
        return sound("current-balanced", f"{shown}, limit {at_most:g} %.")
    if volts is not None and volts > 0.2 and within(unbalance, VOLTAGE_EXPLAINS * volts):
        most = VOLTAGE_EXPLAINS * volts
        text = f"{shown}, highest in {lines.highest}; the volts' {volts:.2f} % alone explains up to {most:.0f} %."
        return watch("current-unbalance-from-volts", text + " Roll the leads before blaming a winding.")
    even_volts = volts is not None and within(volts, criteria.voltage_unbalance_sound.value)
    points = " With even volts it points to the winding." if even_volts and lines.pattern == "one-high" else ""
    if within(unbalance, act_above):
        text = f"{shown}, highest in {lines.highest}; {at_most:g} % is usual.{points}"
        return watch("current-unbalance-watch", text)
    return act("current-unbalance-act", f"{shown}, highest in {lines.highest}; act above {act_above:g} %.{points}")


def _spread_finding(lines: _Lines, criteria: Criteria) -> Finding:
    limit = criteria.current_unbalance_sound.value
    spread = spread_percent(list(lines.amps.values()))
    shown = f"Amps spread {spread:.1f} % lowest to highest, limit {limit:g} %"
    if within(spread, limit):
        return sound("current-spread-sound", f"{shown}.")
    return act("current-spread-act", f"{shown}; highest in {lines.highest}. Roll the leads.")


def _load_findings(lines: _Lines, rated: float | None, subject: Subject, test: CurrentTest) -> list[Finding]:
    if rated is None or lines.pattern == "line-lost":
        return []
    if test.loaded is False:
        return _no_load(lines, rated, subject, test)
    if lines.mean >= STARTING_TIMES * rated:
        text = f"{lines.mean:.3g} A is {lines.mean / rated:.1f} times the plate: a starting current. Let it settle."
        return [unproven("current-starting", text)]
    service_factor = subject.plate.service_factor
    line, high = lines.highest, lines.amps[lines.highest]
    alike = within(lines.unbalance, subject.criteria.current_unbalance_sound.value)
    where = " Alike in all lines: load, bearings or low volts, not the winding." if alike else ""
    if high > rated * service_factor * 1.005 and alike:
        text = (
            f"All lines take too much, {line} {high:.3g} A, above {rated:g} A times service factor {service_factor:g}."
        )
        return [act("overload-alike", f"{text} Stop or unload it now.{where}")]
    if high > rated * service_factor * 1.005:
        text = f"{line} takes {high:.3g} A. Limit {rated:g} A × service factor {service_factor:g}. Stop the motor now."
        return [act("current-over-service-factor", text)]
    if high > rated * 1.005:
        text = f"{line} takes {high:.3g} A, above the plate's {rated:g} A but within its service factor.{where}"
        return [watch("current-over-plate", text)]
    if lines.pattern == "all-low":
        text = f"All lines low ({100 * high / rated:.0f} % of full load): it runs near no load. Uncoupled, a belt off?"
        return [watch("current-all-low", text)]
    return []


def _no_load(lines: _Lines, rated: float, subject: Subject, test: CurrentTest) -> list[Finding]:
    """Uncoupled: more than the plate is a fault whatever the poles; well under synchronous speed is one of its own."""
    plate = subject.plate
    poles = pole_number(plate.speed_rpm, plate.frequency_hz) if plate.speed_rpm and plate.frequency_hz else None
    slow = _slow_uncoupled(test.speed_rpm, poles, plate.frequency_hz, subject.criteria)
    return [_no_load_amps(lines, rated, poles), *slow]


def _no_load_amps(lines: _Lines, rated: float, poles: int | None) -> Finding:
    share = 100 * lines.mean / rated
    line, high = lines.highest, lines.amps[lines.highest]
    if not within(high, rated):
        text = f"Uncoupled {line} takes {high:.3g} A, above the plate's {rated:g} A with nothing to drive. Stop it."
        again = " Read during the start? Let it settle." if lines.mean >= STARTING_TIMES * rated else ""
        return act("no-load-over-plate", f"{text} Check the connection, the volts, then the turns.{again}")
    text = f"Uncoupled it takes {share:.0f} % of full load; 25 to 50 % is usual, more for slow motors"
    if share > NO_LOAD_PERCENT and (poles or 4) <= 4:
        return watch("no-load-high", f"{text}: compare with the acceptance run; a wrong connection shows so.")
    return sound("no-load-usual", f"{text}. Compare with the acceptance run.")


def _slow_uncoupled(
    speed_rpm: float | None, poles: int | None, frequency_hz: float | None, criteria: Criteria
) -> list[Finding]:
    if speed_rpm is None or poles is None or frequency_hz is None:
        return []
    synchronous = 120 * frequency_hz / poles
    slip, most = 100 * (1 - speed_rpm / synchronous), criteria.no_load_slip.value
    if within(slip, most):
        return []
    text = f"Uncoupled it turns {speed_rpm:g} r/min, {slip:.0f} % under {synchronous:g}; up to {most:g} % is usual."
    return [act("no-load-slow", f"{text} Check the connection, the volts, the bearings, then the rotor.")]


def _remarks(lines: _Lines, test: CurrentTest) -> list[Finding]:
    out = []
    taken = [line for line, value in test.brake_a.items() if value]
    if taken:
        out.append(sound("brake-pair", f"The brake's current on {' and '.join(taken)} was taken off first."))
    if _root3(lines.amps):
        text = f"{lines.highest} reads √3 times the two others: a clamp round two, one turned, shows that. Repeat."
        out.append(watch("clamp-round-more", text))
    return out


def _root3(amps: Mapping[str, float]) -> bool:
    low, middle, high = sorted(amps.values())
    return low > 0 and middle / low < 1.05 and abs(2 * high / (low + middle) / math.sqrt(3) - 1) < 0.04
