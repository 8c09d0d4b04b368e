"""Random plants walked to their end: how many are found, in how many minutes and tests, and every step's safety."""

from __future__ import annotations

import sys
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from statistics import mean, median
from typing import Any

from grimcoil.bench.plant import Plant, double_plants, plants
from grimcoil.core.circuit.place import State
from grimcoil.core.fields import CURRENT, DEAD_VOLTAGE, DROP, INSULATION, LOW_OHM
from grimcoil.core.readings import parse_reading
from grimcoil.core.walk import walk as walking
from grimcoil.core.walk.catalogue import trials
from grimcoil.core.walk.choose import Choice
from grimcoil.core.walk.ending import PAIRS
from grimcoil.core.walk.evidence import Measured
from grimcoil.core.walk.walk import PROVE_DEAD, Entry, Walk, walk

FIELDS = {"volts-ac": DEAD_VOLTAGE, "volts-across": DROP, "ohms": LOW_OHM, "insulation": INSULATION, "amps": CURRENT}
MOST = 40


@dataclass
class Walked:
    """One walk: how it ended, what it cost."""

    plant: Plant
    found: bool
    verdict: str
    cost: float
    tests: int
    unsafe: int
    seconds: list[float]
    condemned_sound: bool
    steps: list[str]


def entry_of(plant: Plant, name: str, where: str) -> Entry:
    """What the plant gives for a test."""
    if name == "prove-dead":
        return Entry(PROVE_DEAD, answer="dead", where=where)
    trial = trials(plant.place)[name]
    if trial.asks:
        return Entry(trial, answer=plant.answers(trial))
    state = trial.circuit or State()
    if trial.quantity == "amps" and state.contactor == "in" and state.live and not plant.comes_in:
        none = tuple((f"L{n}", "", parse_reading("0", CURRENT)) for n in (1, 2, 3))  # the start is held, nothing comes
        return Entry(trial, measured=Measured("amps", replace(state, contactor="out", at="start"), none), told=True)
    readings = []
    for points, shown in plant.measured(trial).items():
        a, _, b = points.partition("~")
        readings.append((a, b, parse_reading(shown, FIELDS[trial.quantity])))
    return Entry(trial, measured=Measured(trial.quantity, state, tuple(readings)))


def unsafe(made: Walk) -> bool:
    """The next step breaks a rule: something dead without its proof, or a closing onto what isn't shown clear."""
    following = made.next
    if following is None or following.trial.quantity == "prove-dead":
        return False
    trial, state, guard = following.trial, following.state, made.guard
    dead = trial.quantity in ("ohms", "insulation") or (trial.circuit is not None and not trial.circuit.live)
    if dead and ("panel" not in guard.proved or state.live):
        return True
    if dead and trial.where == "motor-box" and "motor-box" not in guard.proved:
        return True
    return (trial.closing or state.closing) and guard.tripped and not guard.clear(made.place)


def one_walk(plant: Plant, order: str = "most-telling") -> Walked:
    """From the complaint to the end."""
    entries: list[Entry] = []
    cost, tests, wrong, seconds, steps = 0.0, 0, 0, [], []
    made = walk(plant.place, plant.symptom, order, entries)
    while made.end is None and made.next is not None and len(entries) < MOST:
        wrong += unsafe(made)
        following = made.next
        entries.append(entry_of(plant, following.trial.name, following.where))
        cost += following.trial.minutes * (1 + following.trial.risk)
        tests += following.trial.name != "prove-dead"
        steps.append(following.trial.name)
        plant = plant.after(following.trial)
        begin = time.perf_counter()
        made = walk(plant.place, plant.symptom, order, entries)
        seconds.append(time.perf_counter() - begin)
    faults = {plant.fault.name} | ({plant.besides.name} if plant.besides else set())
    names = faults.union(*(pair for pair, _ in PAIRS if pair & faults))
    verdict = made.end.suspect.name if made.end else ""
    over = {one.suspect.name for one in made.hand_over}
    alternatives = {other.name for other, _ in made.end.alternatives} if made.end else set()
    found = bool(faults & {verdict, *alternatives, *over})
    return Walked(
        plant,
        found,
        verdict or ("handed over" if over else "none"),
        cost,
        tests,
        wrong,
        seconds,
        bool(verdict) and verdict not in names,
        steps,
    )


def by_minutes(one: Choice) -> float:
    """What the reference takes: most expected bits for the test's own minutes and risk, one step deep."""
    return one.bits / (one.trial.minutes * (1 + one.trial.risk))


def by_count(one: Choice) -> float:
    """What the reference takes that counts tests: most expected bits."""
    return one.bits


@contextmanager
def chosen(rank: Callable[[Choice], float]) -> Iterator[None]:
    """Walks that take, of the same safe tests with the same odds, the first by another rank."""
    ours = walking.choices

    def ranked(*given: Any) -> list[Choice]:
        return sorted(ours(*given), key=lambda one: -rank(one))

    walking.choices = ranked  # type: ignore[attr-defined]
    try:
        yield
    finally:
        walking.choices = ours  # type: ignore[attr-defined]


def main(count: int) -> None:
    """Print the figures."""
    walks = [one_walk(plant) for plant in plants(count)]
    with chosen(by_minutes):
        quick = [one_walk(plant) for plant in plants(count)]
    with chosen(by_count):
        few = [one_walk(plant) for plant in plants(count)]
    every = [second for one in walks for second in one.seconds]
    missed = [one for one in walks if not one.found]
    print(f"{count} single-fault plants: {count - len(missed)} found or handed over rightly")
    print(
        f"unsafe steps {sum(one.unsafe for one in walks)}, sound condemned {sum(one.condemned_sound for one in walks)}"
    )
    print(
        f"mean minutes x (1 + risk) {mean(one.cost for one in walks):.1f},"
        f" mean tests {mean(one.tests for one in walks):.1f}"
    )
    minutes = mean(one.cost for one in walks) / mean(one.cost for one in quick)
    tests = mean(one.tests for one in walks) / mean(one.tests for one in few)
    print(f"times the reference by minutes and risk {minutes:.2f} (aim 1.25), by count of tests {tests:.2f} (aim 1.5)")
    late = sorted(every)[int(0.95 * len(every))]
    print(
        f"next test: median {1000 * median(every):.0f} ms, p95 {1000 * late:.0f} ms, worst {1000 * max(every):.0f} ms"
    )
    double = [one_walk(plant) for plant in double_plants(count // 4)]
    share = mean(one.found for one in double)
    print(f"{len(double)} plants with two faults: one of them found first in {share:.0%} (aim 90 %),", end=" ")
    print(f"unsafe steps {sum(one.unsafe for one in double)}")
    for (fault, verdict), n in Counter((one.plant.fault.name, one.verdict) for one in missed).most_common(25):
        print(f"   missed: {fault} came out as {verdict}, {n} times")
    if len(sys.argv) > 2:
        for one in missed[:6]:
            print(one.plant.symptom, one.plant.fault.key, one.plant.size, one.verdict, one.steps)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 400)
