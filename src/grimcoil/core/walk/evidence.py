"""What an entry says of each variant of each suspect: the reading beside the one that its circuit would give.

Readings of one entry come from one hand: the worst of them decides, so that a mislaid probe counts once. No entry
weighs more than 250 to 1, looks and hearsay no more than their tables say.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from grimcoil.core.amount import Amount
from grimcoil.core.circuit.place import LINES, Place, State
from grimcoil.core.readings import Reading, Shown
from grimcoil.core.walk.catalogue import Trial
from grimcoil.core.walk.faults import GUARD, OVERLOAD, Suspect
from grimcoil.core.walk.panel import Array, Panel, expected, pulls_in, rests_on_feed, starts

FLOOR = 0.004
OPEN_X, TIGHT_X = 6.5, 7.0  # decades of ohms: above these an ohmmeter, an insulation tester tells no more
SPREAD = {"volts-ac": 0.06, "volts-ac-high-z": 0.3, "volts-across": 0.45, "ohms": 0.3, "insulation": 0.5}
LEVEL = 0.7  # decades that the plate's likely ohms may be off
SHAPE = 0.08


@dataclass(frozen=True, slots=True)
class Measured:
    """One entry with a meter: what, in which state, between which points (amps: the line and nothing).

    asked: the start was asked for; whether the contactor came in nobody said.
    """

    quantity: str
    state: State
    readings: tuple[tuple[str, str, Reading], ...]
    asked: bool = False


def likelihood(panel: Panel, measured: Measured) -> Array:
    """Of the entry, for each variant and the sound circuit. No unit (computed).

    Where a start was asked for and nobody said what the contactor did, it is weighed for in and out.
    """
    if not measured.asked:
        return _over_feeds(panel, measured)
    comes = pulls_in(panel)
    out = replace(measured, state=replace(measured.state, contactor="out", at="start"))
    return np.asarray(comes * _over_feeds(panel, measured) + (1 - comes) * _over_feeds(panel, out))


def _over_feeds(panel: Panel, measured: Measured) -> Array:
    points = [point for a, b, _ in measured.readings for point in (a, b)]
    panels = panel.fed() if any(rests_on_feed(point) for point in points) else [panel]
    of_each = [_likelihood(one, measured) for one in panels]
    return np.asarray(sum(of_each) / len(of_each))


@lru_cache(maxsize=4096)
def _likelihood(panel: Panel, measured: Measured) -> Array:
    shown = [(expected(panel, measured.quantity, measured.state, a, b), reading) for a, b, reading in measured.readings]
    shown = [(value, reading) for value, reading in shown if not np.isnan(value).any()]
    if not shown:
        return np.ones(len(panel.variants()))
    if measured.quantity == "amps":
        return _amps(panel.place, measured, shown)
    if measured.quantity == "ohms" and len(shown) == len(LINES) and _windings(measured):
        framed = any(b in ("earth", "frame") for _, b, _ in measured.readings)
        return _shape(shown, 2.5 * SHAPE if framed else SHAPE)
    if measured.quantity == "volts-across" and len(shown) == len(LINES):
        relay = any(b.startswith("overload-T") for _, b, _ in measured.readings)
        return _drops(shown, RELAY_V if relay else CONTACT_V)
    out = np.ones(len(panel.variants()))
    for value, reading in shown:
        out = np.minimum(out, _one(panel.place, measured.quantity, value, reading))
    return out


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
    """Three amps beside one another: how they differ counts, each beside the highest, and their level roughly."""
    full = max(place.amps, 1e-3)
    drawn = np.stack([amps for amps, _ in shown])
    read = np.array([max(reading.amount.value, 0.0) for _, reading in shown])
    highest, most = np.maximum(drawn.max(axis=0), LEAST * full), max(float(read.max()), LEAST * full)
    predicted, seen = np.log10(drawn / highest + 0.08), np.log10(read / most + 0.08)
    apart = np.abs((predicted - predicted.mean(axis=0)) - (seen - seen.mean())[:, None]).max(axis=0)
    alike = np.abs(np.log10(highest / full + 0.08) - math.log10(most / full + 0.08))
    if measured.state.at == "run":
        over, is_over = highest > OVER_PLATE * full, most > OVER_PLATE * full
        near = np.minimum(alike / 0.04, 3.3)  # on either side of it, hardly apart: no sign of anything
        level = np.where(over == is_over, np.where(over, alike / 0.3, 0.0), near)  # far over it isn't a grown load
    else:
        level = alike / 0.25
    spread = 0.035 if measured.state.at == "run" else 0.06
    return np.asarray(FLOOR + (1 - FLOOR) * np.exp(-0.5 * (level**2 + (apart / spread) ** 2)))


LEAST = 0.05  # of the plate's amps: below it nothing flows
OVER_PLATE = 1.06  # of plate amps
LOOKED = 0.98  # of what stands before one's eyes


def answered(panel: Panel, trial: Trial, answer: str) -> Array:
    """Likelihood of an answer, for each variant and the sound circuit. No unit (computed)."""
    return np.asarray(shares(panel, trial)[:, list(trial.usual).index(answer)])


def shares(panel: Panel, trial: Trial) -> Array:
    """How often each answer comes with each variant, a row each. No unit (common practice without source)."""
    return _brake(panel, list(trial.usual)) if trial.model == "brake" else _shares(panel.whole, trial)


@lru_cache(maxsize=1024)
def _shares(panel: Panel, trial: Trial) -> Array:
    match trial.model:
        case "contactor":
            return _contactor(panel, list(trial.usual))
        case "overload":
            open_now = [one.left == OVERLOAD and one.shut is not None for one in panel.variants()]
            return _either(np.array(open_now), trial, "tripped")
        case "guard":
            return _either(
                np.array([one.left == GUARD and one.shut is not None for one in panel.variants()]), trial, "tripped"
            )
    by_suspect = [_answers(trial, suspect) for suspect in panel.suspects]
    rows = np.array([[share[answer] for answer in trial.usual] for share in [*by_suspect, dict(trial.usual)]])
    out = rows[np.append(panel.owner, len(panel.suspects))]
    return _started(panel, trial, out) if trial.model == "start" else out


def _contactor(panel: Panel, answers: list[str]) -> Array:
    comes = pulls_in(panel)
    low = np.array([*(panel.suspects[int(i)].name == "control-volts-low" for i in panel.owner), False])
    into = np.where(low, 0.2, comes)
    chatters = np.where(low, 0.5, (1 - comes) * 0.1)
    known = {"pulls-in": into, "in": into, "chatters": chatters}
    stays = 1 - into - chatters
    return np.stack([known.get(answer, stays) for answer in answers], axis=1)


def _brake(panel: Panel, answers: list[str]) -> Array:
    """It lifts where the contactor comes in and its own lines have volts, unless it is what is stuck."""
    lifts = pulls_in(panel)
    if panel.place.brake == "two-lines":
        a, b = panel.place.brake_lines
        held = State(contactor="in", at="start")
        volts = expected(panel, "volts-ac", held, f"overload-T{a}", f"overload-T{b}")
        lifts = np.where(volts > BRAKE_LIFTS * panel.place.volts, lifts, 0.03)
    stuck = np.array([*(panel.suspects[int(i)].name == "brake-not-lifting" for i in panel.owner), False])
    lifts = np.where(stuck, 0.02, lifts) * 0.99
    known = {"lifts": lifts, "none": np.full(len(lifts), 0.01)}
    return np.stack([known.get(answer, 0.99 - lifts) for answer in answers], axis=1)


BRAKE_LIFTS = 0.7  # of its volts (common practice without source)


def _either(yes: np.ndarray, trial: Trial, answer: str) -> Array:
    """What is seen plainly: one answer or the usual ones."""
    rest = sum(share for name, share in trial.usual.items() if name != answer)
    columns = []
    for name, share in trial.usual.items():
        seen, unseen = (LOOKED, 0.02) if name == answer else (0.02 * share / rest, LOOKED * share / rest)
        columns.append(np.where(yes, seen, unseen))
    return np.stack(columns, axis=1)


OF_COMPLAINT = {
    "hums": "hums", "trips-later": "trips-later", "trips-at-once": "trips-at-once", "blows-fuse": "blows",
    "earth-leakage": "trips-at-once", "slow-weak": "slow", "runs-backwards": "backwards", "dead-silent": "nothing",
    "runs-hot": "runs", "noisy": "runs", "runs-on": "runs",
}  # fmt: skip
AS_USUAL, AS_COMPLAINED = 0.65, 0.25  # of starts that go as a suspect usually makes them, as its complaints have it


def _started(panel: Panel, trial: Trial, usual: Array) -> Array:
    """A start goes as the suspect makes it, or as its other complaints have it; nothing where the contactor is out."""
    answers = list(trial.usual)
    out = (1 - AS_USUAL - AS_COMPLAINED) * usual
    for i, does in enumerate(starts(panel)):
        out[i, answers.index(does)] += AS_USUAL
        kind = panel.suspects[int(panel.owner[i])].kind if i < len(panel.owner) else None
        if kind is None or does in ("nothing", "runs") or does != kind.start:
            out[i, answers.index(does)] += AS_COMPLAINED
            continue
        whole = sum(kind.fits.values())
        for complaint, weight in kind.fits.items():
            out[i, answers.index(OF_COMPLAINT.get(complaint, does))] += AS_COMPLAINED * weight / whole
    return out


def _answers(trial: Trial, suspect: Suspect) -> dict[str, float]:
    told = dict(trial.told.get(suspect.name, {}))
    left = 1.0 - sum(told.values())
    rest = sum(share for answer, share in trial.usual.items() if answer not in told) or 1.0
    return {answer: told.get(answer, left * share / rest) for answer, share in trial.usual.items()}
