"""Temperatures by resistance, R40 through the first dip to the steady end, and whether it is dry.

Limits are common practice without source: 90 °C by resistance, 100 at the most, 80 while still wet, 10 K an hour, half
of rated current.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.criteria import FIELD_GENERAL, Criteria
from grimcoil.core.drying.hookup import HOT_RISE, Hookup
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.findings import Finding, Verdict, act, sound, unproven, watch
from grimcoil.core.insulation.correction import HIGHEST_C, LOWEST_C, correction_factor
from grimcoil.core.insulation.minimum import Machine, minimum_mohm
from grimcoil.core.insulation.ratios import index_wanted
from grimcoil.core.resistance.temperature import temperature_by_resistance

WARM_C, HOT_C, WET_C = 90.0, 100.0, 80.0
RISE_K_PER_H, HALF = 10.0, 0.5
BACK = timedelta(minutes=15)
STEADY, WITHIN, WITHIN_K, AT_LEAST = timedelta(hours=2), 1.10, 10.0, 3
COLDEST_C, HOTTEST_C = -40.0, 250.0
RATIO = 1.25
NEAR_MINUTE_S, HALF_MINUTE_S, TEN_MINUTES_S = 60.0, 30.0, 600.0
LEAST_TO_FORECAST = 5  # readings since the lowest; common practice without source


@dataclass(frozen=True, slots=True)
class Set:
    """The motor and its hookup. cold_ohm: of the whole hookup at cold_c; rated_a, limit_a: None where not known; ends:
    what has to be read, and done, whether or not it was read yet.
    """

    hookup: Hookup
    cold_ohm: float
    cold_c: float
    conductor: str
    machine: Machine
    insulation_class: str | None
    rated_a: float | None = None
    limit_a: float | None = None
    other_meter: bool = False
    criteria: Criteria = FIELD_GENERAL
    ends: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Heat:
    """Amps and volts at the leads at a moment. path: of the entry, for a refusal."""

    at: datetime
    amps: float
    volts: float
    path: str


@dataclass(frozen=True, slots=True)
class Insulation:
    """One reading of a hold, in ohms; ends: `1-2-3~frame`, as what it was read between."""

    at: datetime
    reading: Amount
    t_s: float
    ends: str
    path: str


@dataclass(frozen=True, slots=True)
class Rotated:
    """From here another phase carries most."""

    at: datetime
    to: str
    path: str


@dataclass(frozen=True, slots=True)
class Warm:
    """What a heating entry shows. rise_k_per_h: since the newest entry at least 15 min back; None: there is none."""

    at: datetime
    ohm: float
    average_c: float
    hot_phase_c: float
    rise_k_per_h: float | None
    verdict: Verdict
    hot_rise_k_per_h: float | None = None


@dataclass(frozen=True, slots=True)
class Read:
    """What an insulation entry shows, MΩ; average_c: of the winding at that time, by its last heating entry."""

    at: datetime
    r_mohm: Amount
    r40_mohm: Amount | None
    average_c: float
    t_s: float
    ends: str


@dataclass(frozen=True, slots=True)
class Left:
    """Hours still to go, as a band."""

    low: float
    high: float


@dataclass(frozen=True, slots=True)
class Drying:
    """Where a drying stands."""

    shown: tuple[Warm | Read | Rotated, ...]
    hookup: Hookup
    done: bool
    why: str
    left: Left | None
    verdict: Verdict
    findings: tuple[Finding, ...] = field(default=())


def judge_drying(made: Set, entries: Sequence[Heat | Insulation | Rotated]) -> Drying:
    """Entries stand in order of time. Raises RecordRefusal with an entry's path for figures that no winding gives."""
    shown: list[Warm | Read | Rotated] = []
    hookup, former = made.hookup, made.cold_c
    minimum = minimum_mohm(made.machine, made.criteria)[0]
    for entry in entries:
        if isinstance(entry, Rotated):
            hookup = hookup.rotated(entry.to, entry.path)
            former = max((one.hot_phase_c for one in shown if isinstance(one, Warm)), default=made.cold_c)
            shown.append(entry)
        elif isinstance(entry, Heat):
            shown.append(_warm(made, entry, shown, former, hookup, minimum))
        else:
            shown.append(_read(made, entry, shown))
    readings = [one for one in shown if isinstance(one, Read)]
    done, why = _done(made, readings, minimum)
    findings = _findings(made, shown, readings, done, why)
    warm = [one for one in shown if isinstance(one, Warm)]
    verdict = _worst(warm[-1].verdict if warm else None, done)
    return Drying(tuple(shown), hookup, done, why, _left(made, readings, minimum, done), verdict, tuple(findings))


def _worst(last: Verdict | None, done: bool) -> Verdict:
    if last in (Verdict.ACT, Verdict.WATCH):
        return last
    return Verdict.SOUND if done else Verdict.UNPROVEN


def _warm(
    made: Set, entry: Heat, shown: Sequence[Warm | Read | Rotated], former: float, hookup: Hookup, minimum: float
) -> Warm:
    ohm = entry.volts / entry.amps
    average = temperature_by_resistance(ohm, made.cold_ohm, made.cold_c, made.conductor)
    if not COLDEST_C <= average <= HOTTEST_C:
        accepted = (
            f"amps and volts of a winding between {COLDEST_C:g} and {HOTTEST_C:g} °C: check both and the cold value"
        )
        raise RecordRefusal(entry.path, f"{ohm:.4g} Ω, {average:.0f} °C", accepted)
    hot = _hot(made, average, former, hookup)
    before = next((one for one in reversed(shown) if isinstance(one, Warm) and entry.at - one.at >= BACK), None)
    rise = hot_rise = None
    if before is not None:
        hours = (entry.at - before.at) / timedelta(hours=1)
        rise, hot_rise = (average - before.average_c) / hours, (hot - before.hot_phase_c) / hours
    wet = _wet(shown, minimum)
    verdict = _heat_verdict(made, entry.amps, hot, hot_rise, wet)
    return Warm(entry.at, ohm, average, hot, rise, verdict, hot_rise)


def _hot(made: Set, average: float, former: float, hookup: Hookup) -> float:
    """The hot phase: over the indicated rise where one carries all; a former one stays hot until the whole is so cool
    that it can't be any more.
    """
    rise = max(0.0, average - made.cold_c)
    if hookup.hot is None:
        return average
    now = max(average, made.cold_c + HOT_RISE * rise)
    still = min(former, made.cold_c + 6.0 * rise)  # it is a sixth of what is read, the others no colder than at first
    return max(now, still)


def _wet(shown: Sequence[Warm | Read | Rotated], minimum: float) -> bool:
    """R40 under the minimum at the last look; not looked at yet counts as wet."""
    newest = None
    for one in reversed(shown):  # entries stand in order of time: the last look is at the end
        if isinstance(one, Read) and one.t_s == NEAR_MINUTE_S:
            newest = newest or one.at
            if one.at != newest:
                return False
            if one.r40_mohm is None or not one.r40_mohm.surely_at_least(minimum):
                return True
        elif newest is not None and one.at < newest:
            return False
    return newest is None


def _heat_verdict(made: Set, amps: float, hot: float, hot_rise: float | None, wet: bool) -> Verdict:
    slack = 1 + 1e-9
    if hot > HOT_C * slack or (made.rated_a is not None and amps > made.rated_a * slack):
        return Verdict.ACT
    limits = [made.limit_a, None if made.rated_a is None else HALF * made.rated_a]
    over = any(limit is not None and amps > limit * slack for limit in limits)
    fast = hot_rise is not None and hot_rise > RISE_K_PER_H * slack
    if over or fast or hot > WARM_C * slack or (wet and hot > WET_C * slack):
        return Verdict.WATCH
    return Verdict.SOUND


def _read(made: Set, entry: Insulation, shown: Sequence[Warm | Read | Rotated]) -> Read:
    warm = next((one for one in reversed(shown) if isinstance(one, Warm)), None)
    average = warm.average_c if warm else made.cold_c
    mohm = entry.reading.scaled(1e-6)
    known = LOWEST_C <= average <= HIGHEST_C
    r40 = mohm.scaled(correction_factor(average, made.machine.insulation_system or "thermosetting")) if known else None
    return Read(entry.at, mohm, r40, average, entry.t_s, entry.ends)


def _done(made: Set, readings: Sequence[Read], minimum: float) -> tuple[bool, str]:
    """Every pair of ends by itself: steady, above the minimum, and its index or ratio."""
    if not readings:
        return False, "no insulation reading yet"
    for ends in _ends(made, readings):
        own = [one for one in readings if one.ends == ends]
        why = _not_steady([one for one in own if one.t_s == NEAR_MINUTE_S], minimum) or _no_index(made, own)
        if why:
            return False, f"{_spoken(ends)}: {why}"
    return True, "steady above the minimum for two hours, with its index"


def _spoken(ends: str) -> str:
    first, _, second = ends.partition("~")
    return f"{first} to {second}"


def _window(own: Sequence[Read]) -> list[Read]:
    """The readings of the last two hours or more: back to the newest that is two hours older than the last."""
    if not own:
        return []
    last = own[-1].at
    old = [i for i, one in enumerate(own) if last - one.at >= STEADY]
    return list(own[old[-1] :]) if old else []


def _not_steady(own: Sequence[Read], minimum: float) -> str:
    window = _window(own)
    if len(window) < AT_LEAST:
        return "not three readings over two hours yet"
    values = [one.r40_mohm for one in window]
    if any(value is None or value.bound is not Bound.EXACT for value in values):
        if all(value is not None and value.bound is Bound.ABOVE for value in values):
            return "above the tester's range: steady or not isn't shown"
        return "a reading has no value at 40 °C"
    figures = [value.value for value in values if value is not None]
    if min(figures) < minimum * (1 - 1e-9):
        return f"under the minimum of {minimum:g} MΩ at 40 °C"
    if max(figures) > WITHIN * min(figures) * (1 + 1e-9):
        return "not steady within 10 % yet"
    warmth = [one.average_c for one in window]
    return "the winding isn't within 10 K" if max(warmth) - min(warmth) > WITHIN_K * (1 + 1e-9) else ""


def _no_index(made: Set, own: Sequence[Read]) -> str:
    """Index of the newest hold that has one; the ratio where the index doesn't apply."""
    wanted = index_wanted(made.insulation_class, made.criteria)
    index, ratio = _newest_ratio(own, TEN_MINUTES_S, NEAR_MINUTE_S), _newest_ratio(own, NEAR_MINUTE_S, HALF_MINUTE_S)
    minute = [one for one in own if one.t_s == NEAR_MINUTE_S]
    top = made.criteria.pi_meaningless_above_mohm.value
    high = bool(minute) and minute[-1].r40_mohm is not None and minute[-1].r40_mohm.surely_at_least(top)
    if index is not None and not high:
        return "" if index.surely_at_least(wanted) else f"the index is under {wanted:g}"
    if ratio is not None:
        return "" if ratio.low > RATIO else f"the ratio isn't above {RATIO:g}"
    return "neither index nor ratio is read"


def _newest_ratio(own: Sequence[Read], late_s: float, early_s: float) -> Amount | None:
    for moment in sorted({one.at for one in own}, reverse=True):
        hold = {one.t_s: one.r_mohm for one in own if one.at == moment}
        if late_s in hold and early_s in hold:
            return hold[late_s].over(hold[early_s])
    return None


def _left(made: Set, readings: Sequence[Read], minimum: float, done: bool) -> Left | None:
    """Hours until all of *done* holds, where the readings carry a forecast; of several pairs of ends the latest."""
    if done:
        return None
    bands = [_left_of(made, [one for one in readings if one.ends == ends], minimum) for ends in _ends(made, readings)]
    known = [band for band in bands if band is not None]
    if not known or len(known) < len(bands):
        return None
    return Left(max(low for low, _ in known), max(high for _, high in known))


def _ends(made: Set, readings: Sequence[Read]) -> Sequence[str]:
    return tuple(dict.fromkeys([*made.ends, *(one.ends for one in readings)]))


def _left_of(made: Set, own: Sequence[Read], minimum: float) -> tuple[float, float] | None:
    minute = [one for one in own if one.t_s == NEAR_MINUTE_S and one.r40_mohm is not None and one.r40_mohm.is_exact]
    lowest = min(range(len(minute)), key=lambda i: _decades(minute[i]), default=0)
    since = minute[lowest:]
    if len(since) < LEAST_TO_FORECAST or any(one.r40_mohm is None for one in own[-1:]):
        return None
    index = _index_from(made, own)
    if index is not None and not index:
        return None
    from grimcoil.core.drying import forecast  # loads numpy, which a drying that has just begun doesn't need

    hours = [(one.at - since[0].at) / timedelta(hours=1) for one in since]
    rising = forecast.Rising(
        *(forecast.column(one) for one in (hours, map(_decades, since), [r.average_c for r in since]))
    )
    wanted = forecast.Done(
        math.log10(minimum), STEADY / timedelta(hours=1), math.log10(WITHIN), AT_LEAST, index or None
    )
    return forecast.hours_left(rising, wanted)


def _decades(one: Read) -> float:
    return math.log10(max(one.r40_mohm.value if one.r40_mohm else 0.0, 1e-9))


def _index_from(made: Set, own: Sequence[Read]) -> tuple[float, float] | tuple[()] | None:
    """The decades of R40 from which index or ratio will hold, and how surely, by how they rose with it so far; None
    where they hold, empty where that can't be said.
    """
    if not _no_index(made, own):
        return None
    points = _ratios(made, own)
    if len(points) < LEAST_TO_FORECAST:
        return ()
    x, y = [p[0] for p in points], [p[1] for p in points]
    slope, doubt = _line(y, x)  # decades for each unit of the ratio
    wanted = points[-1][2]
    mean_x, mean_y = sum(x) / len(x), sum(y) / len(y)
    if slope <= 0 or slope < 2 * doubt:
        return ()
    return mean_x + slope * (wanted - mean_y), doubt * abs(wanted - mean_y) + 0.05


def _ratios(made: Set, own: Sequence[Read]) -> list[tuple[float, float, float]]:
    """Decades of R40 of each hold, its index (or ratio, where no index was read), and what is wanted of it."""
    out: dict[float, list[tuple[float, float, float]]] = {TEN_MINUTES_S: [], HALF_MINUTE_S: []}
    for moment in sorted({one.at for one in own}):
        hold = {one.t_s: one for one in own if one.at == moment}
        minute = hold.get(NEAR_MINUTE_S)
        if minute is None or minute.r40_mohm is None:
            continue
        for mark, late, early in (
            (TEN_MINUTES_S, TEN_MINUTES_S, NEAR_MINUTE_S),
            (HALF_MINUTE_S, NEAR_MINUTE_S, HALF_MINUTE_S),
        ):
            if late in hold and early in hold and (ratio := hold[late].r_mohm.over(hold[early].r_mohm)).is_exact:
                wanted = RATIO if mark == HALF_MINUTE_S else index_wanted(made.insulation_class, made.criteria)
                out[mark].append((_decades(minute), ratio.value, wanted))
    return out[TEN_MINUTES_S] or out[HALF_MINUTE_S]


def _line(x: Sequence[float], y: Sequence[float]) -> tuple[float, float]:
    """Slope by least squares, and its standard error."""
    n = len(x)
    mean_x, mean_y = sum(x) / n, sum(y) / n
    spread = sum((a - mean_x) ** 2 for a in x)
    if spread <= 0:
        return 0.0, math.inf
    slope = sum((a - mean_x) * (b - mean_y) for a, b in zip(x, y, strict=True)) / spread
    rest = sum((b - mean_y - slope * (a - mean_x)) ** 2 for a, b in zip(x, y, strict=True))
    return slope, math.sqrt(rest / (n - 2) / spread)


def _findings(
    made: Set, shown: Sequence[Warm | Read | Rotated], readings: Sequence[Read], done: bool, why: str
) -> list[Finding]:
    out = []
    if made.other_meter:
        out.append(
            watch(
                "cold-other-meter",
                "The cold resistance was measured with another meter. Temperatures are then uncertain by 3.5 K.",
            )
        )
    warm = [one for one in shown if isinstance(one, Warm)]
    if warm and warm[-1].verdict is Verdict.ACT:
        out.append(act("drying-too-hot", f"Stop heating: hottest phase {warm[-1].hot_phase_c:.0f} °C, or current"
                       " above rated. Turn the current down to zero before you disconnect."))  # fmt: skip
    elif warm and warm[-1].verdict is Verdict.WATCH:
        out.append(
            watch(
                "drying-near-limit",
                "Reduce the current. The wet winding is too warm, heats too fast, or carries too much current.",
            )
        )
    if _dips(readings):
        text = "The reading falls as the winding warms: expected at first. Judge R40, not the reading."
        out.append(sound("drying-dip", text))
    if done:
        out.append(sound("drying-done", "Dry: steady above the minimum. Varnish only now, then the full set of tests."))
    else:
        out.append(unproven("drying-not-done", f"Not done: {why}."))
    return out


def _dips(readings: Sequence[Read]) -> bool:
    """The newest reading is lower than the first while the winding got warmer."""
    minute = [one for one in readings if one.t_s == NEAR_MINUTE_S]
    if len(minute) < 2:
        return False
    first, last = minute[0], minute[-1]
    return last.r_mohm.high < first.r_mohm.low and last.average_c > first.average_c + 5
