"""Starters by their figures: star-delta, autotransformer, starts an hour."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.findings import Finding, Result, act, sound, unproven, watch
from grimcoil.core.limits import reaches, within
from grimcoil.core.readings import three_digits

EARLY, LATE = 0.9, 1.5  # of the run-up: before it a change-over peak, long after it heat in star; common practice
THIRD, THIRD_OFF = 1 / 3, 0.25  # line amps in star over delta, and how far meters and load may shift it
LEAST_TAP = 10.0
TAPS = ((0.1, 1.0), (LEAST_TAP, 100.0))  # in parts of full volts, and in percent; common practice without source
LONGEST_S = 600.0  # of a timer or a run-up; longer is a slip. Common practice without source
MANY, A_FEW = 10.0, 6.0  # starts an hour without the maker's word; common practice without source


@dataclass(frozen=True, slots=True)
class StarDeltaTest:
    """The timer and the run-up, seconds; amps in a line in star and, at the same slip, in delta."""

    timer_s: float | None = None
    run_up_s: float | None = None
    line_a_star: float | None = None
    line_a_delta: float | None = None


@dataclass(frozen=True, slots=True)
class AutotransformerTest:
    """The tap, of full volts (0.65 or 65), and the amps at full volts."""

    tap: float | None = None
    full_voltage_a: float | None = None


@dataclass(frozen=True, slots=True)
class StartsTest:
    """Starts an hour, the run-up in seconds, the overload's trip class."""

    per_hour: float | None = None
    run_up_s: float | None = None
    trip_class: float | None = None


@dataclass(frozen=True, slots=True)
class StarDeltaResult(Result):
    """Timer over run-up; line amps in star over delta."""

    timer_share: float | None = None
    star_share: float | None = None


@dataclass(frozen=True, slots=True)
class AutotransformerResult(Result):
    """Amps in motor and line at the tap; torque in parts of full."""

    motor_a: float | None = None
    line_a: float | None = None
    torque_share: float | None = None


@dataclass(frozen=True, slots=True)
class StartsResult(Result):
    """Seconds of run-up, one start's and those of an hour."""

    run_up_s_per_hour: float | None = None
    run_up_s: float | None = None


def judge_star_delta(test: StarDeltaTest) -> StarDeltaResult:
    """The timer about the run-up; a third of line amps in star. (computed; limits common practice)"""
    out: list[Finding] = []
    share = star = None
    if test.timer_s is not None and test.run_up_s:
        share = test.timer_s / test.run_up_s
        shown = f"Timer {test.timer_s:g} s, run-up {test.run_up_s:g} s"
        if share < EARLY * (1 - 1e-9):
            text = f"{shown}: it changes over too early, with a peak near a direct start. Set it to the run-up."
            out.append(act("star-delta-early", text))
        elif share > LATE * (1 + 1e-9):
            out.append(watch("star-delta-late", f"{shown}: it stays in star too long. Set it to the run-up."))
        else:
            out.append(sound("star-delta-timer", f"{shown}: they fit."))
    if test.line_a_star is not None and test.line_a_delta:
        star = test.line_a_star / test.line_a_delta
        shown = f"{three_digits(100 * star)} % of the delta's line amps in star; a third is usual"
        if abs(star / THIRD - 1) <= THIRD_OFF * (1 + 1e-9):
            out.append(sound("star-delta-third", f"{shown}."))
        else:
            out.append(watch("star-delta-share", f"{shown}: were both read at the same slip, and is it joined right?"))
    halves = (
        (test.timer_s is None) != (test.run_up_s is None),
        (test.line_a_star is None) != (test.line_a_delta is None),
    )
    if not out or any(halves):
        out.append(
            unproven("reading-missing", "Timer and run-up, or amps in star and delta, are needed: both of a pair.")
        )
    out += _long(test.timer_s, test.run_up_s)
    return StarDeltaResult(timer_share=share, star_share=star, findings=tuple(out))


def _long(*seconds: float | None) -> list[Finding]:
    absurd = [f"{one:g} s" for one in seconds if one is not None and one > LONGEST_S]
    return [unproven("size-absurd", f"{', '.join(absurd)}: no timer or run-up. Which?")] if absurd else []


def judge_autotransformer(test: AutotransformerTest) -> AutotransformerResult:
    """At a tap k: motor amps k, line amps and torque k squared. (computed)

    >>> judge_autotransformer(AutotransformerTest(0.5, 100)).torque_share
    0.25
    """
    if not test.tap:
        return AutotransformerResult(findings=(unproven("reading-missing", "The tap is needed."),))
    if not any(reaches(test.tap, low) and within(test.tap, high) for low, high in TAPS):
        likely = f" {10 * test.tap:g} %?" if reaches(10 * test.tap, LEAST_TAP) and test.tap < LEAST_TAP else ""
        text = f"A tap of {test.tap:g} is none: 0.1 to 1, or 10 to 100 % of full volts.{likely}"
        return AutotransformerResult(findings=(unproven("tap-unclear", text),))
    k = test.tap / 100 if test.tap > 1 else test.tap
    motor = None if test.full_voltage_a is None else k * test.full_voltage_a
    line = None if test.full_voltage_a is None else k * k * test.full_voltage_a
    amps = "" if motor is None or line is None else f", motor {three_digits(motor)} A, line {three_digits(line)} A"
    text = f"Tap {100 * k:g} %: torque and line current {three_digits(100 * k * k)} %{amps}."
    return AutotransformerResult(
        motor_a=motor, line_a=line, torque_share=k * k, findings=(sound("autotransformer-share", text),)
    )


def judge_starts(test: StartsTest) -> StartsResult:
    """Each start heats like minutes of running; a run-up as long as the class trips at start. Common practice."""
    out: list[Finding] = []
    if test.per_hour is not None:
        shown = f"{test.per_hour:g} starts an hour"
        if test.per_hour > MANY * (1 + 1e-9):
            out.append(act("starts-many", f"{shown}: too many without the maker's word. Fewer, or another drive."))
        elif test.per_hour > A_FEW * (1 + 1e-9):
            out.append(watch("starts-some", f"{shown}: ask the maker what this motor stands."))
        else:
            out.append(sound("starts-few", f"{shown}."))
    if test.run_up_s is not None and test.trip_class is not None:
        if test.run_up_s >= test.trip_class * (1 - 1e-9):
            text = f"Run-up {test.run_up_s:g} s, class {test.trip_class:g}: it trips at start."
            out.append(watch("overload-class-short", text))
        else:
            out.append(sound("starts-class", f"Run-up {test.run_up_s:g} s is shorter than class {test.trip_class:g}."))
    if not out or (test.trip_class is not None and test.run_up_s is None):
        out.append(
            unproven("reading-missing", "Starts an hour, or run-up and trip class, are needed: both of that pair.")
        )
    out += _long(test.run_up_s)
    heat = None if test.per_hour is None or test.run_up_s is None else test.per_hour * test.run_up_s
    return StartsResult(run_up_s_per_hour=heat, run_up_s=test.run_up_s, findings=tuple(out))
