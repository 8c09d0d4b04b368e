"""A plant walked from its complaint to an end, through the walk's own file and nothing else."""

from __future__ import annotations

import json
import time
from dataclasses import dataclass, field
from random import Random
from typing import Any

from grimcoil.exchange.walks import walked
from tools.plants.faults import Fault
from tools.plants.person import Plant, plant, right

MOST = 50


@dataclass
class Played:
    """How it went. found: the end names a fault that is there; over: by handing it to the dead tests."""

    plant: Plant
    truth: list[Fault]
    told: dict[str, Any]
    done: list[dict[str, Any]]
    found: bool
    seconds: list[float] = field(default_factory=list)

    @property
    def verdict(self) -> str:
        """What it was told to be."""
        return self.told["verdict"]["suspect"] if self.told["verdict"] else ""

    @property
    def tests(self) -> int:
        """How many were made, proofs aside."""
        return sum(one.get("test") not in (None, "prove-dead") for one in self.done)


def play(at: Plant, done: list[dict[str, Any]] | None = None, order: str = "most-telling") -> Played:
    """From where it stands to an end, or to where nothing more is asked."""
    done, seconds, truth = list(done or ()), [], list(at.faults)
    while True:
        begin = time.process_time()
        told = walked(json.dumps(at.document(done, order)))
        seconds.append(time.process_time() - begin)
        if told["verdict"] or told["next"] is None or len(done) >= MOST:
            return Played(at, truth, told, done, right(at, told, truth), seconds)
        done.append(at.entry(told["next"]))


def mend(played: Played) -> dict[str, Any] | None:
    """The repair that the end of a walk leads to: the first of those it names that is there; None where none is."""
    told = played.told
    named = [told["verdict"], *told["verdict"]["alternatives"]] if told["verdict"] else told["hand_over"]["suspects"]
    for one in named:
        alone = {"verdict": one | {"alternatives": []}, "hand_over": None}
        for fault in played.truth:
            if right(played.plant, alone, [fault]) and played.plant.mend(fault.name, fault.line):
                return {"mended": fault.name} | ({"line": fault.line} if fault.line else {})
    return None


def play_two(at: Plant) -> tuple[Played, Played | None]:
    """The same with two faults: to the first end, its repair, and on with what was read."""
    first = play(at)
    repair = mend(first) if first.found else None
    if repair is None or at.start() == "runs":
        return first, None  # what is left doesn't show at a start
    return first, play(at, [*first.done, repair])


def singles(count: int, seed: str = "one") -> list[Plant]:
    """Plants with one fault each."""
    return [plant(Random(f"{seed} {k}")) for k in range(count)]


def doubles(count: int, seed: str = "two") -> list[Plant]:
    """Plants with two."""
    return [plant(Random(f"{seed} {k}"), 2) for k in range(count)]
