"""Plants that know their own fault, walked from complaint to end: how many come out right, in how many tests, how safe.

The plants share nothing with the walk's tables: their circuit, their faults and what somebody there answers are written
from the handbook (`tools.plants`), and a step is unsafe by what is true at the plant.
"""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from statistics import mean, median
from typing import Any

from grimcoil.core.walk import walk as walking
from grimcoil.core.walk.choose import Choice
from tools.plants.play import Played, doubles, play, play_two, singles


def by_count(one: Choice) -> float:
    """What the reference takes, one step deep: the most expected bits."""
    return one.bits


@contextmanager
def chosen(rank: Callable[[Choice], float]) -> Iterator[None]:
    """Walks that take, of the same safe tests with the same odds and after the same plain looks, the first by rank."""
    ours = walking.choices

    def ranked(*given: Any) -> list[Choice]:
        return sorted(ours(*given, every=True), key=lambda one: -rank(one))

    walking.choices = ranked  # type: ignore[attr-defined]
    try:
        yield
    finally:
        walking.choices = ours  # type: ignore[attr-defined]


def unsafe(walks: Sequence[Played]) -> list[str]:
    """Every unsafe step, with the plant's fault."""
    return [f"{said} ({', '.join(f.name for f in one.truth)})" for one in walks for said in one.plant.unsafe]


def condemned_sound(walks: Sequence[Played]) -> int:
    """How often the part that is named is sound, and none that may stand in its place is guilty."""
    return sum(bool(one.verdict) and not one.found for one in walks)


def main(count: int) -> None:
    """Print the figures."""
    walks = [play(one) for one in singles(count)]
    with chosen(by_count):
        few = [play(one) for one in singles(count)]
    missed = [one for one in walks if not one.found]
    print(
        f"{count} plants with one fault: {count - len(missed)} come out right ({1 - len(missed) / count:.1%}, aim 97 %)"
    )
    print(f"unsafe steps {len(unsafe(walks))}, sound condemned {condemned_sound(walks)} (aim 0)")
    tests = mean(one.tests for one in walks) / mean(one.tests for one in few)
    print(f"mean tests {mean(one.tests for one in walks):.1f}, times a reference one step deep {tests:.2f} (aim 1.2)")
    first = sorted(one.seconds[0] for one in walks)
    later = sorted(second for one in walks for second in one.seconds[1:])
    for name, seconds in (("first test at a new place", first), ("next test", later)):
        late = seconds[int(0.95 * len(seconds))]
        print(f"{name}: CPU median {1000 * median(seconds):.0f} ms, p95 {1000 * late:.0f} ms (aim 50)")
    pairs = [play_two(one) for one in doubles(count // 4)]
    firsts = [one for one, _ in pairs]
    seconds = [two for _, two in pairs if two is not None]
    print(
        f"{len(pairs)} plants with two faults: the first right in {mean(o.found for o in firsts):.0%} (aim 90 %),",
        end=" ",
    )
    print(
        f"the second, where it shows at a start, in {mean(o.found for o in seconds):.0%} of {len(seconds)} (aim 80 %),",
        end=" ",
    )
    print(f"unsafe steps {len(unsafe(firsts))}")
    for (fault, verdict), n in Counter((one.truth[0].name, one.verdict or "no end") for one in missed).most_common(25):
        print(f"   missed: {fault} came out as {verdict}, {n} times")
    for said in [*unsafe(walks), *unsafe(firsts)]:
        print(f"   unsafe: {said}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 400)
