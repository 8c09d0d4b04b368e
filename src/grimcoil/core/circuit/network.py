"""The circuit of a position as a network: volts and amps by complex nodal analysis, ohms and megohms by real ones.

A live motor is three phase windings coupled by positive and negative sequence: standing still both are the locked-rotor
admittance, running the positive one is the load's and the negative one stays, which holds a lost line up as a turning
motor does. Figures of the model (locked rotor 6 times, contacts of 1 mΩ) are common practice without source; its
arithmetic is checked against an independent circuit simulator.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.circuit.place import LINES, NEIGHBOURS, Place, State

Matrix = NDArray[Any]
Figures = NDArray[np.float64]
Key = tuple[str, int]
NetKey = tuple[object, ...]
OPEN_S = 1e-9  # siemens: what is left of an open contact
CONTACT_S = 1e3
WELDED_S = 900.0
LEAK_S = 1e-10
LEADS_OHM = 0.2  # of the ohmmeter's own test leads, in the reading
VOLTMETER_OHM = 3000.0
LOCKED = 6.0
LOCKED_PF, FULL_PF, IDLE = 0.45, 0.86, 0.35
A = cmath.exp(2j * math.pi / 3)
_FORTESCUE = np.array([[1, 1, 1], [1, A * A, A], [1, A, A * A]])
_TO_SEQUENCE = np.linalg.inv(_FORTESCUE)


@dataclass(frozen=True, slots=True)
class Change:
    """What a fault does to the network. branch: siemens of a branch by name; shunt: siemens from point to point.

    source: per unit of each phase of the supply; coil: a factor on the admittance of every phase winding; extra: turns
    shorted in a phase, in parts of its locked admittance; turned: the phase whose ends are exchanged; load: of the
    running motor in parts of full; stall: it doesn't turn.
    """

    branch: Mapping[Key, float] | None = None
    shunt: Sequence[tuple[str, str, float]] = ()
    source: tuple[float, float, float] = (1.0, 1.0, 1.0)
    coil: float = 1.0
    extra: Sequence[tuple[int, float]] = ()
    turned: int | None = None
    load: float = 0.9
    stall: bool = False


NONE = Change()


def merged(changes: Iterable[Change]) -> Change:
    """Several faults at once."""
    branch: dict[Key, float] = {}
    shunt: list[tuple[str, str, float]] = []
    extra: list[tuple[int, float]] = []
    source, coil, turned, load, stall = [1.0] * 3, 1.0, None, 0.9, False
    for one in changes:
        for key, siemens in (one.branch or {}).items():
            branch[key] = min(siemens, branch[key]) if key in branch else siemens
        shunt += one.shunt
        extra += one.extra
        source = [a * b for a, b in zip(source, one.source, strict=True)]
        coil *= one.coil
        turned = one.turned if one.turned is not None else turned
        load = one.load if one.load != NONE.load else load
        stall = stall or one.stall
    return Change(branch, shunt, _three(source), coil, extra, turned, load, stall)


def _three(values: Sequence[float]) -> tuple[float, float, float]:
    return values[0], values[1], values[2]


@dataclass(frozen=True, slots=True)
class Layout:
    """Points of the network in order, and its branches by name: which points they join, closed siemens."""

    index: Mapping[str, int]
    branches: Mapping[Key, tuple[str, str, float]]
    size: int


@lru_cache(maxsize=256)
def layout_of(place: Place, control: bool = False) -> Layout:
    """What a position consists of: its power circuit, or the control circuit, which is a net of its own for ohms."""
    branches: dict[Key, tuple[str, str, float]] = {}
    same: dict[str, str] = {}  # points with nothing between them
    if control:
        _control(place, branches)
    else:
        _power(place, branches, same)
    points = ["earth", *(() if control else ("neutral",))]
    for a, b, _ in branches.values():
        points += [p for p in (a, b) if p not in points]
    points += [p for p in ("frame", *(("star",) if place.wound == "wye" else ())) if p not in points and not control]
    index = {point: i for i, point in enumerate(dict.fromkeys(points))}
    return Layout(index | {point: index[other] for point, other in same.items()}, branches, len(index))


def _power(place: Place, branches: dict[Key, tuple[str, str, float]], same: dict[str, str]) -> None:
    stages = place.stages()
    names = {"supply-L{n}": "source", "protection-L{n}": "protection", "disconnect-L{n}": "disconnect",
             "line-L{n}": "joint-line", "load-L{n}": "pole", "overload-T{n}": "heater", "cable-T{n}": "joint-cable",
             "local-L{n}": "cable", "local-T{n}": "local", "box-T{n}": "cable", "lead-{n}": "splice"}  # fmt: skip
    heater = 1 / max(1.0 / max(place.amps, 0.1), 1e-3)  # about a volt at full load
    siemens = {"cable": 1 / max(place.cable_ohm, 1e-4), "heater": heater}
    for n in LINES:
        before = f"phase-{n}"
        for stage in stages:
            point, name = stage.format(n=n), names[stage]
            if name == "cable" and ("cable", n) in branches:
                name = "cable-2"
            branches[name, n] = before, point, siemens.get(name, CONTACT_S)
            before = point
        branches["wire", n] = before, f"cut-{n}", CONTACT_S  # of coil n, from its first end
        same[f"winding-{n}"] = before
        if place.wound == "wye" and place.protector == "star-point":
            branches["star", n] = f"inner-{n}", "star", CONTACT_S
        elif place.wound == "wye":
            same[f"inner-{n}"] = "star"
    if "bypass-T1" in place.points():
        branches |= {("bypass", n): (f"load-L{n}", f"bypass-T{n}", CONTACT_S) for n in LINES}
    if place.protector == "brought-out":
        branches["protector", 0] = "P1", "P2", CONTACT_S


def _control(place: Place, branches: dict[Key, tuple[str, str, float]]) -> None:
    after = "control-F" if place.control_fuse else "control-L"
    if place.control_fuse:
        branches["control-fuse", 0] = "control-L", "control-F", CONTACT_S
    before = after
    for k in range(len(place.chain)):
        point = f"chain-{k + 1}"
        branches["chain", k] = before, point, CONTACT_S
        before = point
    branches["chain-end", 0] = before, "coil-A1", CONTACT_S
    branches["coil", 0] = "coil-A1", "coil-A2", 1 / coil_ohm(place)
    branches["coil-return", 0] = "coil-A2", "control-N", CONTACT_S
    branches["secondary", 0] = "control-L", "control-N", 0.5  # the transformer's winding, for ohms


def coil_ohm(place: Place) -> float:
    """Ohms of a contactor's coil: about 10 VA held in. Common practice."""
    return max(10.0, place.control_volts**2 / 30.0)


def _admittances(place: Place, state: State, change: Change) -> tuple[complex, complex, complex]:
    """Zero, positive, negative sequence of a phase winding, siemens."""
    across = place.volts if place.wound == "delta" else place.volts / math.sqrt(3)
    amps = place.amps / (math.sqrt(3) if place.wound == "delta" else 1.0)
    locked = LOCKED * amps / across * cmath.exp(-1j * math.acos(LOCKED_PF))
    positive = locked
    if state.at == "run" and not change.stall:
        level = max(0.6, sum(change.source) / 3)  # the load takes its power, whatever the volts
        share = max(IDLE, change.load if state.load == "coupled" else IDLE) / level**2
        positive = share * amps / across * cmath.exp(-1j * math.acos(FULL_PF * min(1.0, share + 0.1)))
    return locked * 2, positive, locked


def _phases(place: Place, state: State, change: Change) -> Matrix:
    """Admittances between the three phase windings, with what the fault does to each."""
    zero, positive, negative = _admittances(place, state, change)
    sequence = _FORTESCUE @ np.diag([zero, positive, negative]) @ _TO_SEQUENCE
    sign = np.ones(3)
    if change.turned is not None:
        sign[change.turned] = -1
    scaled = sequence * np.outer(sign, sign) * change.coil
    for phase, times in change.extra:
        scaled[phase, phase] += times * negative
    return np.asarray(scaled, dtype=np.complex128)


def _coils(place: Place) -> tuple[tuple[str, str], ...]:
    if place.wound == "delta":
        return tuple((f"cut-{a}", f"winding-{b}") for a, b in NEIGHBOURS)
    return tuple((f"cut-{n}", f"inner-{n}") for n in LINES)


class _Stamps:
    """Admittances put by the names of points into a matrix, or into one for each fault at once."""

    def __init__(self, index: Mapping[str, int], matrix: Matrix) -> None:
        self.index, self.matrix = index, matrix

    def put(self, a: str, b: str, siemens: complex | Matrix) -> None:
        """One branch."""
        i, j, m = self.index[a], self.index[b], self.matrix
        m[..., i, i] += siemens
        m[..., j, j] += siemens
        m[..., i, j] -= siemens
        m[..., j, i] -= siemens

    def couple(self, one: tuple[str, str], other: tuple[str, str], siemens: complex | Matrix) -> None:
        """Current in one pair of points for a volt across another."""
        (a, b), (c, d) = ((self.index[p], self.index[q]) for p, q in (one, other))
        m = self.matrix
        m[..., a, c] += siemens
        m[..., a, d] -= siemens
        m[..., b, c] -= siemens
        m[..., b, d] += siemens


def closed(place: Place, state: State, key: Key) -> bool:
    """Whether a contact is closed in a state, as far as nothing is broken."""
    name = key[0]
    if name == "pole":
        return state.contactor == "in"
    if name == "protection":
        return state.fuses == "in" and (state.live or place.disconnect == "panel" or place.protection == "fuses")
    if name == "disconnect":
        return state.supply == "on"
    if name == "local":
        return state.local != "open"
    if name == "chain" and place.chain[key[1]] == "start":
        return state.at != "rest"
    if name == "joint-cable":
        return state.motor != "lifted-at-starter"
    if name == "splice":
        return state.motor != "lifted-at-box"
    return True


@dataclass(frozen=True, slots=True)
class Solved:
    """Networks in one state, one for each fault or a single one: whatever lies between two points can be asked.

    Figures come as an array over the faults.
    """

    place: Place
    state: State
    index: Mapping[str, int]
    impedance: Matrix
    volts: Matrix
    heaters: Matrix
    of: NDArray[np.int64]  # the net of each fault

    def _z(self, a: str, b: str) -> Matrix:
        i, j, z = self.index[a], self.index[b], self.impedance
        return np.asarray(z[..., i, i] + z[..., j, j] - z[..., i, j] - z[..., j, i])

    def between(self, a: str, b: str, meter_ohm: float = VOLTMETER_OHM) -> Figures:
        """Volts that a meter of so many ohms shows between two points."""
        open_volts = self.volts[..., self.index[a]] - self.volts[..., self.index[b]]
        return np.asarray(np.abs(open_volts * meter_ohm / (meter_ohm + self._z(a, b))))[self.of]

    def ohms(self, a: str, b: str, leads_ohm: float = LEADS_OHM) -> Figures:
        """Ohms between two points, with those of the test leads. Ω (computed)."""
        return np.asarray(np.abs(self._z(a, b)) + leads_ohm)[self.of]

    def amps(self, line: int) -> Figures:
        """Amps in a line, at the overload."""
        i, j = self.index[f"load-L{line}"], self.index[f"overload-T{line}"]
        return np.asarray(np.abs((self.volts[..., i] - self.volts[..., j]) * self.heaters[..., line - 1]))[self.of]


@lru_cache(maxsize=128)
def _base(place: Place, live: bool, control: bool) -> tuple[Mapping[str, int], Matrix]:
    """What no state and no fault changes."""
    layout = layout_of(place, control)
    size = layout.size
    matrix = np.zeros((size, size), dtype=np.complex128)
    matrix[np.arange(size), np.arange(size)] = LEAK_S
    stamps = _Stamps(layout.index, matrix)
    if control:
        return layout.index, matrix
    stamps.put("frame", "earth", 100.0)
    for n in LINES:
        stamps.put(f"winding-{n}", "frame", 1e-9)
        stamps.put(f"cable-T{n}", "earth", 3e-10)
    if place.control_lines:
        a, b = (f"line-L{n}" for n in place.control_lines)
        magnetising = place.volts**2 / place.control_va
        stamps.put(a, b, 1 / (magnetising * (0.3 + 0.95j)) if live else 1 / max(2.0, magnetising * 0.02))
    if live:
        _sources(place, stamps)
    return layout.index, matrix


_INNER = 1 / (0.01 + 0.03j)  # siemens of the supply behind the position


def _sources(place: Place, stamps: _Stamps) -> None:
    """Three sources behind a little impedance between neutral and phases, and how they hang on the earth."""
    earthing = {"wye-earthed": 20.0, "unearthed": 1e-6, "high-resistance-earthed": 1 / 277.0, "corner-earthed": 1e-7}
    for n in LINES:
        stamps.put("neutral", f"phase-{n}", _INNER)
        if place.system in ("unearthed", "high-resistance-earthed"):
            stamps.put(f"phase-{n}", "earth", 1e-5j)
    if place.system == "corner-earthed":
        stamps.put("phase-2", "earth", 20.0)
    if place.system == "high-leg":  # the middle between two phases is earthed: each hangs on it alike
        stamps.put("phase-1", "earth", 5.0)
        stamps.put("phase-2", "earth", 5.0)
    stamps.put("neutral", "earth", earthing.get(place.system, 1e-7 if place.system == "high-leg" else 20.0))


def _injected(place: Place, layout: Layout, change: Change) -> Matrix:
    index = layout.index
    injected = np.zeros(layout.size, dtype=np.complex128)
    for n in LINES:
        volts = place.volts / math.sqrt(3) * change.source[n - 1] * A ** -(n - 1)
        injected[index[f"phase-{n}"]] += volts * _INNER
        injected[index["neutral"]] -= volts * _INNER
    return injected


def _value(place: Place, state: State, change: Change, key: Key, siemens: float) -> float:
    changed = (change.branch or {}).get(key)
    if changed is not None and changed >= WELDED_S:
        return changed  # closed whatever it should be
    if not closed(place, state, key):
        return OPEN_S
    return siemens if changed is None else changed


def _matrices(
    place: Place, state: State, changes: Sequence[Change], control: bool
) -> tuple[Matrix, Figures]:  # fmt: skip
    """Admittances (changes, points, points), and those of the three heaters (changes, 3)."""
    index, base = _base(place, state.live, control)
    matrix = np.repeat(base[None], len(changes), axis=0)
    stamps = _Stamps(index, matrix)
    heaters = np.zeros((len(changes), 3))
    changed: dict[Key, list[int]] = {}
    for i, change in enumerate(changes):
        for key in change.branch or {}:
            changed.setdefault(key, []).append(i)
    for key, (a, b, siemens) in layout_of(place, control).branches.items():
        values = np.full(len(changes), _value(place, state, NONE, key, siemens))
        for i in changed.get(key, ()):
            values[i] = _value(place, state, changes[i], key, siemens)
        stamps.put(a, b, values)
        if key[0] == "heater":
            heaters[:, key[1] - 1] = values
    if control:
        return matrix, heaters
    _windings(place, state, changes, stamps)
    for i, change in enumerate(changes):
        for a, b, siemens in change.shunt:
            _Stamps(index, matrix[i]).put(a, b, siemens)
    return matrix, heaters


def _windings(place: Place, state: State, changes: Sequence[Change], stamps: _Stamps) -> None:
    coils = _coils(place)
    if state.live:
        phases = np.stack([_phases(place, state, change) for change in changes])
        for i, one in enumerate(coils):
            for j, other in enumerate(coils):
                stamps.couple(one, other, phases[:, i, j])
        return
    for i, (a, b) in enumerate(coils):
        more = [1 + sum(0.35 * times for number, times in change.extra if number == i) for change in changes]
        stamps.put(a, b, np.array([c.coil for c in changes]) / max(place.phase_ohm, 1e-4) * np.array(more))


def _key(place: Place, state: State, change: Change, control: bool) -> NetKey:
    """What of a change this state lets through: two faults of one key make one net."""
    branches = layout_of(place, control).branches
    moved = [
        (key, value)
        for key in change.branch or {}
        if key in branches
        and (value := _value(place, state, change, key, branches[key][2]))
        != _value(place, state, NONE, key, branches[key][2])
    ]
    if control:
        return tuple(sorted(moved))
    if not state.live:
        return tuple(sorted(moved)), tuple(change.shunt), change.coil, tuple(change.extra)
    if state.contactor == "out" and all(key[0] != "pole" for key, _ in moved):  # nothing is fed behind the contactor
        return tuple(sorted(one for one in moved if one[0][0] in BEFORE)), change.source
    turning = (change.stall, change.load) if state.at == "run" else ()
    of_motor = (change.turned, change.coil, tuple(change.extra), turning)
    return tuple(sorted(moved)), tuple(change.shunt), change.source, of_motor


BEFORE = frozenset({"source", "protection", "disconnect", "joint-line"})  # the contactor


class _Nets:
    """Nets of a position in one state as they were solved, by what makes each differ."""

    def __init__(self, place: Place, state: State, control: bool) -> None:
        self.place, self.state, self.control = place, state, control
        self.known: dict[NetKey, tuple[Matrix, Matrix, Figures]] = {}

    def solve(self, wanted: Mapping[NetKey, Change]) -> None:
        """Those that aren't known yet, all at once."""
        changes = {key: change for key, change in wanted.items() if key not in self.known}
        if not changes:
            return
        matrices, heaters = _matrices(self.place, self.state, list(changes.values()), self.control)
        if not self.state.live:
            matrices = matrices.real
        impedance = np.zeros_like(matrices)
        impedance[:, 1:, 1:] = np.linalg.inv(matrices[:, 1:, 1:])  # all against earth, the first point
        volts = np.zeros(matrices.shape[:2], dtype=matrices.dtype)
        if self.state.live:
            layout = layout_of(self.place)
            injected = np.stack([_injected(self.place, layout, change) for change in changes.values()])
            volts = np.einsum("mij,mj->mi", impedance, injected)
        self.known |= {key: (impedance[i], volts[i], heaters[i]) for i, key in enumerate(changes)}


@lru_cache(maxsize=24)  # some megabytes each
def _nets(place: Place, state: State, control: bool) -> _Nets:
    return _Nets(place, state, control)


def net_keys(place: Place, state: State, changes: Sequence[Change], control: bool = False) -> list[NetKey]:
    """What makes the net of each fault differ in a state."""
    return [_key(place, state, change, control) for change in changes]


def solve(
    place: Place, state: State, changes: Sequence[Change], keys: Sequence[NetKey] = (), wanted: Sequence[bool] = (),
    control: bool = False,
) -> Solved:  # fmt: skip
    """The network in a state, once with each of the faults; those that lie where this state doesn't reach share one.

    keys: theirs, where they are known; wanted: of each fault, whether anything will be asked of it, all where it is
    empty; the others stand as one that is wanted. control: of the control circuit, for its ohms.
    """
    nets = _nets(place, state, control)
    all_wanted = wanted or [True] * len(changes)
    keys = keys or [
        _key(place, state, change, control) if one else () for one, change in zip(all_wanted, changes, strict=True)
    ]
    asked = {key: change for key, change, one in zip(keys, changes, all_wanted, strict=True) if one}
    nets.solve(asked)
    number = {key: i for i, key in enumerate(asked)}
    solved = [nets.known[key] for key in asked]
    impedance, volts, heaters = (np.stack([one[part] for one in solved]) for part in range(3))
    of = np.array([number.get(key, 0) for key in keys])
    return Solved(place, state, layout_of(place, control).index, impedance, volts, heaters, of)
