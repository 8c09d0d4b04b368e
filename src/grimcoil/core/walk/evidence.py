"""What an entry says of each suspect: the reading beside the one that the circuit would give with that fault.

Readings of one entry come from one hand: the worst of them decides, so that a mislaid probe counts once. No entry
weighs more than 250 to 1, looks and hearsay no more than their tables say.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.amount import Amount
from grimcoil.core.circuit.network import Change, Solved, merged, solve
from grimcoil.core.circuit.place import LINES, Place, State
from grimcoil.core.readings import Reading, Shown
from grimcoil.core.walk.catalogue import Trial
from grimcoil.core.walk.faults import RESETTABLE, TRIPPED, Suspect, Variant, line_up

Array = NDArray[np.float64]
FLOOR = 0.004
OPEN_X, TIGHT_X = 6.5, 7.0  # decades of ohms: above these an ohmmeter, an insulation tester tells no more
HIGH_Z_OHM = 1e7
SPREAD = {"volts-ac": 0.06, "volts-ac-high-z": 0.3, "volts-across": 0.45, "ohms": 0.3, "insulation": 0.5}
LEVEL = 0.7  # decades that the plate's likely ohms may be off
SHAPE = 0.08
PULLS_IN, DROPS = 0.85, 0.55  # of the control volts


@dataclass(frozen=True, slots=True)
class Measured:
    """One entry with a meter: what, in which state, between which points (amps: the line and nothing)."""

    quantity: str
    state: State
    readings: tuple[tuple[str, str, Reading], ...]


@dataclass(frozen=True, slots=True)
class Panel:
    """All suspects of a position, each with its variants in one row; mended: faults that were there besides.

    reset: the overload was reset and stayed: what it had opened is closed again, whatever made it trip.
    """

    place: Place
    mended: tuple[tuple[str, str | None, str], ...] = ()
    reset: bool = False

    @property
    def suspects(self) -> tuple[Suspect, ...]:
        """In the order of all arrays."""
        return line_up(self.place)

    def variants(self) -> tuple[list[Variant], NDArray[np.int64]]:
        """Every variant, and the number of the suspect it belongs to. No unit (computed)."""
        return _variants(self)

    def solved(self, state: State) -> Solved:
        """The network with each variant."""
        return _solved(self, state)

    def start_of(self, suspect: Suspect) -> str:
        """What a start does with it, as `start-try` calls it."""
        return "runs" if self.reset and suspect.name == TRIPPED else suspect.kind.start

    def by_suspect(self, of_variants: Array) -> Array:
        """The mean over each suspect's variants, in their unit (computed)."""
        _, owner = self.variants()
        sums = np.bincount(owner, weights=of_variants, minlength=len(self.suspects))
        return np.asarray(sums / np.bincount(owner, minlength=len(self.suspects)))


@lru_cache(maxsize=256)
def _variants(panel: Panel) -> tuple[list[Variant], NDArray[np.int64]]:
    also = [one.variants[0].change for one in panel.suspects if one.key in panel.mended]
    out, owner = [], []
    for i, suspect in enumerate(panel.suspects):
        closed = panel.reset and suspect.name in RESETTABLE
        for variant in [Variant(Change())] * len(suspect.variants) if closed else suspect.variants:
            change = merged([variant.change, *also]) if also else variant.change
            out.append(Variant(change, variant.control))
            owner.append(i)
    return out, np.array(owner)


@lru_cache(maxsize=512)
def _solved(panel: Panel, state: State) -> Solved:
    changes: Sequence[Change] = [variant.change for variant in panel.variants()[0]]
    return solve(panel.place, state, changes)


def expected(panel: Panel, quantity: str, state: State, a: str, b: str) -> Array:
    """What a meter would show with each variant: volts, ohms, or amps in line `a` (computed)."""
    if of_control(a) or of_control(b):
        if quantity.startswith("volts"):
            return _control_volts(panel, state, a, b)
        return panel.solved(state).ohms(a, b)
    if a.startswith(CHANGE_OVER) and b.startswith(CHANGE_OVER):
        return _change_over(panel, a, b)
    solved = panel.solved(state)
    if quantity == "amps":
        return solved.amps(int(a[1]))
    if quantity.startswith("volts"):
        return solved.between(a, b, HIGH_Z_OHM if quantity == "volts-ac-high-z" else 3000.0)
    if state.fuses == "out" and a.startswith("supply") and b.startswith("protection"):
        branches = [dict(variant.change.branch or {}) for variant in panel.variants()[0]]
        line = int(a[-1])
        blown = np.array([branch.get(("protection", line), 1e3) < 1 for branch in branches])
        return np.where(blown, 1e9, 0.2)
    return solved.ohms(a, b)


CHANGE_OVER = ("star-T", "delta-T")


def _change_over(panel: Panel, a: str, b: str) -> Array:
    """Volts at the contactors of a star-delta starter after run-up: joined in star only where it stays in star."""
    of_suspect = np.array([one.name == "star-delta-stuck-star" for one in panel.suspects])
    stuck = of_suspect[panel.variants()[1]]
    star = a.startswith("star") and b.startswith("star")
    return np.where(stuck if star else ~stuck, 0.0 if star else panel.place.volts, panel.place.volts if star else 0.0)


def of_control(point: str) -> bool:
    """Whether a point lies in the control circuit."""
    return point.startswith(("control-", "chain-", "coil-"))


def _stage(place: Place, point: str) -> int:
    """How far along the control circuit a point lies; the return side is -1."""
    if point in ("control-N", "coil-A2"):
        return -1
    if point == "control-L":
        return 0
    if point == "control-F":
        return 1
    return len(place.chain) + 2 if point == "coil-A1" else int(point.split("-")[1]) + 1


def _fed(panel: Panel, state: State) -> Array:
    """Volts of the control supply with each variant, in parts of its own."""
    lines = panel.place.control_lines
    supply = np.array([variant.control.supply for variant in panel.variants()[0]])
    if not state.live:
        return supply * 0.0
    if lines is None:
        return supply
    volts = panel.solved(state).between(f"line-L{lines[0]}", f"line-L{lines[1]}")
    return supply * volts / panel.place.volts


def reach(place: Place, control_open: Variant, state: State) -> int:
    """The last stage of the control circuit that has volts with this variant."""
    control = control_open.control
    if control.fuse_open:
        return 0
    places = [k for k, device in enumerate(place.chain) if device == "start" and state.at == "rest"]
    if control.closed:
        places = []
    if control.open_at is not None:
        places.append(control.open_at)
    return 1 + min(places) if places else len(place.chain) + 2


def _control_volts(panel: Panel, state: State, a: str, b: str) -> Array:
    place = panel.place
    fed = _fed(panel, state) * place.control_volts
    first, second = (_stage(place, point) for point in (a, b))
    if (first < 0) == (second < 0):
        reached = np.array([reach(place, variant, state) for variant in panel.variants()[0]])
        low, high = sorted((first, second))
        return np.where((low <= reached) & (reached < high), fed, 0.0)  # across what is open, the coil behind it
    stage = max(first, second)
    reached = np.array([reach(place, variant, state) for variant in panel.variants()[0]])
    return np.where(reached >= stage, fed, 0.0)


def pulls_in(panel: Panel) -> Array:
    """How surely the contactor comes in with each variant while the start is held. A share, no unit (computed)."""
    held = State(contactor="out", at="start")
    volts = _control_volts(panel, held, "coil-A1", "coil-A2") / panel.place.control_volts
    coil = np.array([not variant.control.coil_open for variant in panel.variants()[0]])
    sure = np.where(volts >= PULLS_IN, 0.98, np.where(volts >= DROPS, 0.4, 0.02))
    return np.where(coil, sure, 0.02)


def likelihood(panel: Panel, measured: Measured) -> Array:
    """Of the entry, for each suspect. No unit (computed)."""
    of_variants = np.ones(len(panel.variants()[0]))
    shown = [(expected(panel, measured.quantity, measured.state, a, b), reading) for a, b, reading in measured.readings]
    if measured.quantity == "amps":
        of_variants = _amps(panel.place, measured, shown)
    elif measured.quantity == "ohms" and len(shown) == len(LINES) and _windings(measured):
        framed = any(b in ("earth", "frame") for _, b, _ in measured.readings)
        of_variants = _shape(shown, 2.5 * SHAPE if framed else SHAPE)
    elif measured.quantity == "volts-across" and len(shown) == len(LINES):
        relay = any(b.startswith("overload-T") for _, b, _ in measured.readings)
        of_variants = _drops(shown, RELAY_V if relay else CONTACT_V)
    else:
        for volts, reading in shown:
            of_variants = np.minimum(of_variants, _one(panel.place, measured.quantity, volts, reading))
    return panel.by_suspect(of_variants)


def _windings(measured: Measured) -> bool:
    """Three pairs of lines or leads, all of them low: their ratios count more than their level."""
    pairs = all(a[:-1] == b[:-1] or b in ("earth", "frame") for a, b, _ in measured.readings)
    return pairs and all(_decades(reading.amount, reading)[0] < 4 for _, _, reading in measured.readings)


def _decades(amount: Amount, reading: Reading, top: float = OPEN_X) -> tuple[float, float]:
    """The ends of a reading in decades of ohms; over-range stands at the top."""
    if reading.shown is Shown.OVER_RANGE or reading.shown is Shown.NO_BEEP:
        return top, top
    if reading.shown is Shown.BEEP:
        return -0.6, 1.5
    low = min(math.log10(max(amount.low, 0.0) + 0.3), top)
    high = top if math.isinf(amount.high) else min(math.log10(amount.high + 0.3), top)
    return low, high


def _one(place: Place, quantity: str, predicted: Array, reading: Reading) -> Array:
    """Likelihood of one reading."""
    spread = SPREAD[quantity]
    if quantity in ("ohms", "insulation"):
        top = OPEN_X if quantity == "ohms" else TIGHT_X
        low, high = _decades(reading.amount, reading, top)
        value = np.minimum(np.log10(predicted + 0.3), top)
    elif quantity == "volts-across":
        low, high = (math.log10(min(end, 1e6) + 0.03) for end in (reading.amount.low, reading.amount.high))
        value = np.log10(predicted + 0.03)
    else:
        scale = place.control_volts if _low_volts(place, predicted) else place.volts
        low, high = reading.amount.low / scale, min(reading.amount.high, 1e6) / scale
        value = predicted / scale
    away = np.maximum(np.maximum(low - value, value - high), 0.0)
    return np.asarray(FLOOR + (1 - FLOOR) * np.exp(-0.5 * (away / spread) ** 2))


def _low_volts(place: Place, predicted: Array) -> bool:
    return float(predicted.max(initial=0.0)) <= place.control_volts * 1.3 < place.volts * 0.6


def _shape(shown: Sequence[tuple[Array, Reading]], spread: float) -> Array:
    """Three ohms beside one another: their ratios count, their level only roughly."""
    predicted = np.stack([np.minimum(np.log10(ohms + 0.0), OPEN_X) for ohms, _ in shown])
    seen = np.array([math.log10(max(reading.amount.value, 0.02)) for _, reading in shown])
    level = np.abs(predicted.mean(axis=0) - seen.mean())
    apart = np.abs((predicted - predicted.mean(axis=0)) - (seen - seen.mean())[:, None]).max(axis=0)
    return np.asarray(FLOOR + (1 - FLOOR) * np.exp(-0.5 * ((level / LEVEL) ** 2 + (apart / spread) ** 2)))


RELAY_V, CONTACT_V = 3.0, 0.1  # volts that say nothing yet: a relay's heaters drop some, a contact hardly any


def _drops(shown: Sequence[tuple[Array, Reading]], mute_v: float) -> Array:
    """Three drops beside one another: how they differ counts, their level hardly, as relays and contacts differ."""
    predicted = np.stack([np.log10(volts + mute_v) for volts, _ in shown])
    seen = np.array([math.log10(min(reading.amount.value, 1e6) + mute_v) for _, reading in shown])
    level = np.abs(predicted.mean(axis=0) - seen.mean()) / 1.5
    apart = np.abs((predicted - predicted.mean(axis=0)) - (seen - seen.mean())[:, None]).max(axis=0)
    return np.asarray(FLOOR + (1 - FLOOR) * np.exp(-0.5 * (level**2 + (apart / 0.35) ** 2)))


def _amps(place: Place, measured: Measured, shown: Sequence[tuple[Array, Reading]]) -> Array:
    full = max(place.amps, 1e-3)
    predicted = np.stack([np.log10(amps / full + 0.08) for amps, _ in shown])
    seen = np.array([math.log10(max(reading.amount.value, 0.0) / full + 0.08) for _, reading in shown])
    apart = np.abs((predicted - predicted.mean(axis=0)) - (seen - seen.mean())[:, None]).max(axis=0)
    if measured.state.at == "run":
        over = np.array([10**m > OVER_PLATE for m in predicted.max(axis=0)])
        level = np.where(over == (10 ** seen.max() > OVER_PLATE), 0.0, 1.0) * 3.3
    else:
        level = np.abs(predicted.max(axis=0) - seen.max()) / 0.25
    spread = 0.035 if measured.state.at == "run" else 0.06
    return np.asarray(FLOOR + (1 - FLOOR) * np.exp(-0.5 * (level**2 + (apart / spread) ** 2)))


OVER_PLATE = 1.14  # 1.06 of plate amps, on the scale above


def answered(panel: Panel, trial: Trial, answer: str) -> Array:
    """Likelihood of an answer, for each suspect. No unit (computed)."""
    return np.array([share[answer] for share in answers(panel, trial)])


def answers(panel: Panel, trial: Trial) -> list[Mapping[str, float]]:
    """How often each answer comes with each suspect. Shares, no unit (common practice without source)."""
    if trial.model == "contactor":
        return [
            {"pulls-in": p, "stays-out": (1 - p) * 0.9, "chatters": (1 - p) * 0.1}
            if suspect.name != "control-volts-low"
            else {"pulls-in": 0.2, "stays-out": 0.3, "chatters": 0.5}
            for suspect, p in zip(panel.suspects, panel.by_suspect(pulls_in(panel)), strict=True)
        ]
    return [_answers(panel, trial, suspect) for suspect in panel.suspects]


def _answers(panel: Panel, trial: Trial, suspect: Suspect) -> Mapping[str, float]:
    told = dict(trial.told.get(suspect.name, {}))
    if panel.reset and suspect.name == TRIPPED and trial.name == "overload-look":
        told = {}  # it was tripped; once reset it is no more
    if trial.model == "start" and panel.start_of(suspect) in trial.usual:
        told[panel.start_of(suspect)] = 0.65
    left = 1.0 - sum(told.values())
    rest = sum(share for answer, share in trial.usual.items() if answer not in told) or 1.0
    return {answer: told.get(answer, left * share / rest) for answer, share in trial.usual.items()}
