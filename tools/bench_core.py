"""The core without pages: jobs a second through `assess --lines`, against vectorised arithmetic; fits; coverage."""

from __future__ import annotations

import json
import random
import time
from collections.abc import Callable
from datetime import date
from pathlib import Path
from statistics import median
from typing import Any

import numpy as np
from pydantic_core import to_json

from grimcoil.cli.documents import spare_collector
from grimcoil.core.assessment import assess
from grimcoil.core.insulation.absorption import fit_absorption
from grimcoil.core.leads.identify import Puzzle, identify
from grimcoil.core.leads.next_reading import NextTest
from grimcoil.core.leads.ohms import Path as Shown
from grimcoil.core.trend.judge import judge_trend
from grimcoil.exchange.assessments import to_document
from grimcoil.exchange.jobs import read_job
from tests.core.leads.simulated import Motor, solve
from tools.trends import history, over_range

EXAMPLE = Path(__file__).parents[1] / "docs/formats/example-job.json"
JOBS = 10_000
LINES = (("L1", "L2"), ("L2", "L3"), ("L3", "L1"))
START = date(2015, 1, 1)


def varied(dice: random.Random) -> dict[str, Any]:
    """The example job with readings of its own."""
    job: dict[str, Any] = json.loads(EXAMPLE.read_text("utf-8"))
    job["conditions"]["winding_temperature_c"] = round(dice.uniform(12, 40), 1)
    for test in job["tests"]:
        if test["kind"] == "winding_resistance":
            test["readings"] = {pair: f"{dice.gauss(0.83, 0.004):.2f}" for pair in test["readings"]}
        elif test["kind"] == "insulation":
            level = dice.uniform(20, 900)
            for i, point in enumerate(test["series"]):
                point["reading"] = f"{level * (1 + 0.35 * i):.0f}M"
        elif test["kind"] == "supply_voltage":
            test["line_to_line"] = {pair: f"{dice.gauss(478, 3):.0f}" for pair in test["line_to_line"]}
        elif test["kind"] == "line_current":
            test["readings"] = {line: f"{dice.gauss(18, 0.6):.1f}" for line in test["readings"]}
    return job


def routine(dice: random.Random) -> dict[str, Any]:
    """A routine job on a three-lead motor: the four main tests, eleven readings."""
    ohm, level = dice.uniform(0.1, 3), dice.uniform(20, 900)
    pairs, lines = ("1-2", "2-3", "3-1"), ("L1", "L2", "L3")
    series = [{"t_s": 30, "reading": f"{level:.0f}M"}, {"t_s": 60, "reading": f"{level * 1.4:.0f}M"}]
    plate = {"rated_voltage_v": 460, "frequency_hz": 60, "power": "15 hp", "full_load_current_a": 21}
    return {
        "format": "grimcoil-job/1",
        "motor": {"tag": "BW-114", "lead_scheme": "three-lead"} | plate,
        "conditions": {"winding_temperature_c": round(dice.uniform(12, 40), 1)},
        "tests": [
            {"kind": "winding_resistance", "readings": {p: f"{dice.gauss(ohm, ohm * 0.004):.4g}" for p in pairs}},
            {"kind": "insulation", "test_voltage_v": 500, "series": series},
            {"kind": "supply_voltage", "line_to_line": {f"{a}-{b}": f"{dice.gauss(478, 3):.0f}" for a, b in LINES}},
            {"kind": "line_current", "readings": {line: f"{dice.gauss(18, 0.6):.1f}" for line in lines}},
        ],
    }


def assessing() -> None:
    """Jobs a second on one core, where the time goes, and the core beside the same arithmetic vectorised."""
    spent = _streamed("the example", varied)
    _streamed("routine jobs", routine)
    reference = vectorised(JOBS)
    print(
        f"core           {1e6 * spent['core'] / JOBS:6.0f} µs a job; the bare arithmetic vectorised in numpy"
        f" {1e6 * reference:.2f} µs   ratio {spent['core'] / JOBS / reference:.0f}   aim 5"
    )


def _streamed(name: str, make: Callable[[random.Random], dict[str, Any]]) -> dict[str, float]:
    dice = random.Random(14)
    lines = [json.dumps(make(dice)).encode() for _ in range(JOBS)]
    spare_collector()  # as the command does
    spent = dict.fromkeys(("parsing", "core", "writing"), 0.0)
    for line in lines:
        a = time.perf_counter()
        record = read_job(line)
        b = time.perf_counter()
        whole = assess(record)
        c = time.perf_counter()
        to_json(to_document(whole))
        d = time.perf_counter()
        for stage, part in zip(spent, (b - a, c - b, d - c), strict=True):
            spent[stage] += part
    total = sum(spent.values())
    shares = ", ".join(f"{stage} {100 * part / total:.0f} %" for stage, part in spent.items())
    print(f"assess         {JOBS / total:6.0f} jobs/s on one core   ({name} {JOBS} times varied; {shares})   aim 2000")
    return spent


def vectorised(count: int) -> float:
    """Seconds a job for the arithmetic alone, all jobs at once: balance and its ends, corrections, ratios, supply."""
    dice = np.random.default_rng(1)
    ohms, volts, amps = (
        dice.normal(0.83, 0.004, (count, 3)),
        dice.normal(478, 3, (count, 3)),
        dice.normal(18, 0.6, (count, 3)),
    )
    mohm, warm = dice.uniform(20, 900, (count, 3)), dice.uniform(12, 40, count)
    start = time.perf_counter()
    for values in (ohms, volts, amps):
        mean = values.mean(axis=1, keepdims=True)
        100 * np.abs(values - mean).max(axis=1) / mean[:, 0]
        100 * (values.max(axis=1) - values.min(axis=1)) / values.min(axis=1)
    low, high = ohms - 0.005, ohms + 0.005
    up = 3 * high / (low.sum(axis=1, keepdims=True) - low + high) - 1
    down = 1 - 3 * low / (high.sum(axis=1, keepdims=True) - high + low)
    np.maximum(up, down).max(axis=1)
    np.clip((low.max(axis=1) - high.min(axis=1)) / (low.max(axis=1) + high.min(axis=1)), 0, None)
    ohms * (234.5 + 25) / (234.5 + warm[:, None])
    wye = np.stack([ohms[:, 0] + ohms[:, 2] - ohms[:, 1], ohms[:, 0] + ohms[:, 1] - ohms[:, 2]], axis=1) / 2
    wye.prod(axis=1)
    mohm[:, 1] * np.exp(-1245 * (1 / (warm + 273) - 1 / 313))
    mohm[:, 2] / mohm[:, 1], mohm[:, 1] / mohm[:, 0]
    squares = volts**2
    d = 6 * ((squares - squares.mean(axis=1, keepdims=True)) ** 2).sum(axis=1) / squares.sum(axis=1) ** 2
    np.sqrt(d) / (1 + np.sqrt(1 - d))
    np.interp(d, (0, 1, 2, 3, 4, 5), (1, 1, 0.95, 0.88, 0.82, 0.75))
    return (time.perf_counter() - start) / count


def milliseconds(work: Callable[[], object], rounds: int = 30) -> float:
    """Median time of one call."""
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - start))
    return median(times)


def fits() -> None:
    """The censored line with its bands, and the absorption fit."""
    points = history(40, np.random.default_rng(3), over_range)
    bounds = sum(not p.r40_mohm.is_exact for p in points)
    print(
        f"trend          {milliseconds(lambda: judge_trend(points, 5)):6.1f} ms for 40 points, {bounds} bounds   aim 50"
    )
    times = [15, 30, 45, 60, 120, 180, 240, 300, 420, 600]
    values = [1 / (1 / 2097 + 0.03 * t**-0.684) for t in times]
    print(f"absorption     {milliseconds(lambda: fit_absorption(times, values)):6.1f} ms for 10 points   aim 5")


UNMARKED = (("six-lead", 9, 15), ("nine-lead-wye", 20, 36), ("nine-lead-delta", 20, 36), ("twelve-lead", 34, 66))


def leads(rounds: int = 40) -> None:
    """Unmarked leads: readings needed, and the time of an answer and of a proposal."""
    for scheme, most, pairs in UNMARKED:
        solved = [(motor, *solve(motor)) for motor in (Motor(scheme, seed) for seed in range(rounds))]
        right = sum(motor.is_among(found.candidates) for motor, found, _, _ in solved)
        ohms = [len(readings) for _, _, readings, _ in solved]
        tests = sum(len(made) for _, _, _, made in solved) / rounds
        print(
            f"leads          {sum(ohms) / rounds:5.1f} of {pairs} pairs (most {max(ohms)}), {tests:.1f} coupling tests,"
            f" {right} of {rounds} right: {scheme}   aim {most}"
        )
    motor = Motor("twelve-lead", 1)
    ohms_read = motor.all_ohms()
    coils = [(r.first, r.second) for r in ohms_read if r.path is Shown.VALUE]
    ten = [NextTest("excite", source=coils[0], across=q) for q in coils[1:]]
    ten += [NextTest("kick", source=p, across=coils[0]) for p in coils[1:]]
    made = tuple(motor.couple(test) for test in ten)
    whole = Puzzle(motor.leads, tuple(ohms_read), made)
    spent = milliseconds(lambda: identify(whole))
    print(f"identify       {spent:6.1f} ms, twelve leads, {len(ohms_read)} ohms, {len(made)} coupling tests   aim 150")
    start = Puzzle(motor.leads, tuple(ohms_read[:3]))
    spent = milliseconds(lambda: identify(start))
    print(f"next reading   {spent:6.1f} ms, twelve leads after 3 readings, with the answer   aim 100")


def main() -> None:
    """Everything, printed."""
    assessing()
    fits()
    leads()


if __name__ == "__main__":
    main()
