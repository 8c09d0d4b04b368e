"""All suspects of a position in one row of circuits: what a meter would show with each, and with nothing wrong."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.circuit.network import Change, NetKey, Solved, merged, net_keys, solve
from grimcoil.core.circuit.place import LINES, Place, State
from grimcoil.core.walk.faults import GUARD, Suspect, Variant, both, line_up

Array = NDArray[np.float64]
PULLS_IN, DROPS = 0.85, 0.55  # of the control volts
HIGH_Z_OHM = 1e7
IDLE_VA = (8.0, 25.0, 60.0)  # that control transformers take idle: a lost line is fed back to that (common practice)
CHANGE_OVER = ("star-T", "delta-T")
Key = tuple[str, str | None, str]


@dataclass(frozen=True, slots=True)
class Panel:
    """Every variant of every suspect of a position, and last a circuit with nothing wrong.

    besides: faults that are there as well, by key and number of their variant: those mended later, or the one that is
    believed; reset: the overload was reset and stayed; renewed: fuses or breaker are back; wanted: of each variant,
    whether anything is asked of it, all of them where it is empty: what is said of the others means nothing.
    """

    place: Place
    besides: tuple[tuple[Key, int], ...] = ()
    reset: bool = False
    renewed: bool = False
    wanted: tuple[bool, ...] = ()

    def fed(self) -> list[Panel]:
        """One for each supply that the control circuit may have, where nobody said which, and each transformer."""
        out = []
        for feed in self.place.feeds or (self.place.control,):
            for idle in IDLE_VA if feed != "separate" else IDLE_VA[:1]:
                out.append(replace(self, place=replace(self.place, control=feed, feeds=(), control_va=idle)))
        return out

    @property
    def suspects(self) -> tuple[Suspect, ...]:
        """In the order of all arrays by suspect."""
        return line_up(self.place)

    @property
    def owner(self) -> NDArray[np.int64]:
        """The number of the suspect that each variant belongs to. No unit (nothing computed)."""
        return _owner(self.place)

    @property
    def weights(self) -> Array:
        """Share of each variant among those of its suspect. No unit (common practice without source)."""
        return _weights(self.place)

    def variants(self) -> list[Variant]:
        """Every variant as the circuit is now, and the sound one."""
        return _variants(self.whole)

    @property
    def whole(self) -> Panel:
        """The same with every variant wanted."""
        return replace(self, wanted=()) if self.wanted else self

    def solved(self, state: State, control: bool = False) -> Solved:
        """The network with each variant, or with those that are wanted; of the control circuit for its ohms."""
        if state.live:  # a start that is held is the same net
            state = replace(state, at="run" if state.at == "run" else "rest")
        return _solved(self, state, control)

    def by_suspect(self, of_variants: Array) -> Array:
        """The weighed mean over each suspect's variants, in their unit (computed)."""
        mine = of_variants[: len(self.owner)]
        sums = np.bincount(self.owner, weights=mine * self.weights, minlength=len(self.suspects))
        return np.asarray(sums, dtype=np.float64)

    def of_variants(self, of_suspects: Array) -> Array:
        """The figure of each variant's suspect, without the sound one. Same unit (nothing computed)."""
        return np.asarray(of_suspects[self.owner])


@lru_cache(maxsize=64)
def _owner(place: Place) -> NDArray[np.int64]:
    return np.array([i for i, one in enumerate(line_up(place)) for _ in one.variants])


@lru_cache(maxsize=64)
def _weights(place: Place) -> Array:
    return np.array([variant.weight for one in line_up(place) for variant in one.variants])


@lru_cache(maxsize=256)
def _variants(panel: Panel) -> list[Variant]:
    known = {one.key: one.variants for one in panel.suspects}
    also = [known[key][number].again(panel.reset, panel.renewed) for key, number in panel.besides]
    out = []
    for variant in [*(each for one in panel.suspects for each in one.variants), Variant(Change())]:
        now = variant.again(panel.reset, panel.renewed)
        for other in also:
            now = replace(now, change=merged([now.change, other.change]), control=both(now.control, other.control))
        out.append(now)
    return out


@lru_cache(maxsize=12)
def _solved(panel: Panel, state: State, control: bool) -> Solved:
    if panel.besides:  # of one entry alone: keys of those that are wanted, and no others
        return solve(panel.place, state, [one.change for one in panel.variants()], (), panel.wanted, control)
    changes, keys = _changes(panel.whole, state, control)
    return solve(panel.place, state, changes, keys, panel.wanted, control)


@lru_cache(maxsize=128)
def _changes(panel: Panel, state: State, control: bool) -> tuple[list[Change], list[NetKey]]:
    changes = [variant.change for variant in panel.variants()]
    return changes, net_keys(panel.place, state, changes, control)


def expected(panel: Panel, quantity: str, state: State, a: str, b: str) -> Array:
    """What a meter would show with each variant: volts, ohms, or amps in line `a` (computed)."""
    if of_control(a) and of_control(b):
        if quantity.startswith("volts"):
            return _control_volts(panel, state, a, b)
        return panel.solved(state, control=True).ohms(a, b)
    if of_control(a) or of_control(b):
        return _across_to_control(panel, quantity, state, a, b)
    if a.startswith(CHANGE_OVER) or b.startswith(CHANGE_OVER):
        return _change_over(panel, a, b)
    solved = panel.solved(state)
    if quantity == "amps":
        return solved.amps(int(a[1]))
    a, b = panel.place.net_point(a), panel.place.net_point(b)
    if not a or not b or a == b:
        return np.full(len(panel.variants()), np.nan)  # between leads of the winding that the network doesn't part
    if quantity.startswith("volts"):
        return solved.between(a, b, HIGH_Z_OHM if quantity == "volts-ac-high-z" else 3000.0)
    if state.fuses == "out" and a.startswith("supply") and b.startswith("protection"):
        branches = [dict(variant.change.branch or {}) for variant in panel.variants()]
        line = int(a[-1])
        blown = np.array([branch.get(("protection", line), 1e3) < 1 for branch in branches])
        return np.where(blown, 1e9, 0.2)
    return solved.ohms(a, b)


def _across_to_control(panel: Panel, quantity: str, state: State, a: str, b: str) -> Array:
    """Between control and power or earth: through the transformer nothing passes; one side of the control circuit is
    earthed as a rule, so that a live point of it reads its volts to earth (common practice; not everywhere).
    """
    point, other = (a, b) if of_control(a) else (b, a)
    none = np.zeros(len(panel.variants()))
    if not quantity.startswith("volts"):
        return none + 1e9
    if other in ("earth", "frame"):
        return _control_volts(panel, state, point, "control-N") if _stage(panel.place, point) >= 0 else none
    return panel.solved(state).between(panel.place.net_point(other), "earth")


def _change_over(panel: Panel, a: str, b: str) -> Array:
    """Volts at the contactors of a star-delta starter after run-up: joined in star only where it stays in star."""
    of_suspect = np.array([*(one.name == "star-delta-stuck-star" for one in panel.suspects), False])
    stuck = of_suspect[np.append(panel.owner, len(panel.suspects))]
    star = a.startswith("star") and b.startswith("star")
    return np.where(stuck if star else ~stuck, 0.0 if star else panel.place.volts, panel.place.volts if star else 0.0)


def of_control(point: str) -> bool:
    """Whether a point lies in the control circuit."""
    return point.startswith(("control-", "chain-", "coil-"))


def rests_on_feed(point: str) -> bool:
    """Whether what is read there depends on what feeds the control circuit."""
    return of_control(point) or point.startswith("line-L")


def _stage(place: Place, point: str) -> int:
    """How far along the control circuit a point lies; the return side is -1."""
    if point in ("control-N", "coil-A2"):
        return -1
    if point == "control-L":
        return 0
    if point == "control-F":
        return 1
    return len(place.chain) + 2 if point == "coil-A1" else int(point.split("-")[1]) + 1


def _fed(panel: Panel, state: State, control: str = "") -> Array:
    """Volts of the control supply with each variant, in parts of its own; of another one where it is named."""
    lines = replace(panel.place, control=control).control_lines if control else panel.place.control_lines
    supply = np.array([variant.control.supply for variant in panel.variants()])
    if not state.live:
        return supply * 0.0
    if lines is None:
        return supply
    volts = panel.solved(state).between(f"line-L{lines[0]}", f"line-L{lines[1]}")
    return supply * volts / panel.place.volts


def reach(place: Place, variant: Variant, state: State) -> int:
    """The last stage of the control circuit that has volts with this variant."""
    control = variant.control
    if control.fuse_open:
        return 0
    places = [k for k, device in enumerate(place.chain) if device == "start" and state.at == "rest"]
    if control.closed:
        places = []
    if control.open_at is not None:
        places.append(control.open_at)
    return 1 + min(places) if places else len(place.chain) + 2


def _reached(panel: Panel, state: State) -> NDArray[np.int64]:
    return _stages(panel.whole, state)


@lru_cache(maxsize=128)
def _stages(panel: Panel, state: State) -> NDArray[np.int64]:
    return np.array([reach(panel.place, variant, state) for variant in panel.variants()])


def _control_volts(panel: Panel, state: State, a: str, b: str) -> Array:
    place = panel.place
    fed = _fed(panel, state) * place.control_volts
    first, second = (_stage(place, point) for point in (a, b))
    reached = _reached(panel, state)
    if (first < 0) == (second < 0):
        low, high = sorted((first, second))
        return np.where((low <= reached) & (reached < high), fed, 0.0)  # across what is open, the coil behind it
    return np.where(reached >= max(first, second), fed, 0.0)


def pulls_in(panel: Panel) -> Array:
    """How surely the contactor comes in with each variant while the start is held. A share, no unit (computed)."""
    return _pulls_in(panel.whole)


@lru_cache(maxsize=128)
def _pulls_in(panel: Panel) -> Array:
    held = State(contactor="out", at="start")
    ready = (_reached(panel, held) >= len(panel.place.chain) + 2) & ~_coil_open(panel)
    of_each = [_fed(panel, held, feed) for feed in panel.place.feeds or ("",)]
    sure = [np.where(volts >= PULLS_IN, 0.98, np.where(volts >= DROPS, 0.4, 0.02)) for volts in of_each]
    return np.where(ready, sum(sure) / len(sure), 0.02)


def _coil_open(panel: Panel) -> NDArray[np.bool_]:
    return np.array([variant.control.coil_open for variant in panel.variants()])


def _open_lines(variant: Variant) -> list[int]:
    return [n for name, n in variant.change.branch or {} if name == "protection"]


@lru_cache(maxsize=128)
def starts(panel: Panel) -> list[str]:
    """What a start does with each variant, as `start-try` calls it: nothing where the contactor stays out."""
    comes = pulls_in(panel)
    out = []
    for i, variant in enumerate(panel.variants()):
        if comes[i] < 0.1:
            out.append("nothing")
        elif i == len(panel.owner):
            out.append("runs")
        elif variant.left == GUARD and variant.shut is not None:
            out.append("nothing" if len(_open_lines(variant)) == len(LINES) else "hums")
        else:
            does = panel.suspects[int(panel.owner[i])].kind.start
            out.append("runs" if variant.left and variant.shut is None and does == "nothing" else does)
    return out
