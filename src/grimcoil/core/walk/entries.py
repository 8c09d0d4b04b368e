"""Entries of a walk folded: what each says of every variant, what was done and skipped, and where the guard stands."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.circuit.place import LINES, Place, State
from grimcoil.core.readings import Reading, Shown
from grimcoil.core.walk.catalogue import Trial, trials
from grimcoil.core.walk.evidence import Measured, answered, likelihood
from grimcoil.core.walk.faults import Suspect, line_up
from grimcoil.core.walk.panel import Key, Panel, of_control, pulls_in
from grimcoil.core.walk.safety import (
    Guard,
    after_answer,
    after_measuring,
    begun,
    mended,
    read_elsewhere,
    refuse_danger,
)
from grimcoil.core.walk.words import answer_words, measured_words

Array = NDArray[np.float64]
STAYED = frozenset({"at-once", "after-cooling"})  # what an overload did that could be reset
RENEWED = frozenset({"fuse-blown", "breaker-tripped", "breaker-pole-open"})
MISFIT = 0.08  # of what fits: an entry below it is given by no circuit that is known
DROPS_V = 0.005  # less across a pole is no current: what hangs free behind it reads alike
FLOWS = 0.05  # of the plate's amps, of the supply's volts: as much at the load side and the contactor came in


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of what was done: a test with its answer, what was measured, or both; or a skip, or a repair.

    told: the entry itself says in which state the circuit was; elsewhere: read in a job, under that job's own proof.
    """

    trial: Trial | None = None
    answer: str = ""
    where: str = "panel"
    measured: Measured | None = None
    skip: str = ""
    mended: tuple[str, str | None] | None = None
    path: str = ""
    told: bool = False
    elsewhere: bool = False


@dataclass(frozen=True, slots=True)
class Said:
    """What one entry says: its words, and its likelihood for each variant, the sound circuit last."""

    words: str
    rows: Array
    panel: Panel
    entry: Entry | None = None
    plain: str = ""  # the same in the trade's words
    old: bool = False  # something was mended since


@dataclass(frozen=True, slots=True)
class Twice:
    """Points read twice, with both readings; they differ, and neither counts until one of them is read again."""

    first: str
    second: str
    trial: str


@dataclass(slots=True)
class Fold:
    """All entries together."""

    place: Place
    symptom: str
    guard: Guard
    said: list[Said] = field(default_factory=list)
    done: set[str] = field(default_factory=set)
    skipped: set[str] = field(default_factory=set)
    mended: list[tuple[str, str | None]] = field(default_factory=list)
    asked: set[str] = field(default_factory=set)
    twice: list[Twice] = field(default_factory=list)
    reset: bool = False
    renewed: bool = False
    start_asked: bool = False
    electronics: bool = False

    @property
    def panel(self) -> Panel:
        """The circuit as it is now."""
        return Panel(self.place, (), self.reset, self.renewed)


def folded(place: Place, symptom: str, entries: Sequence[Entry]) -> Fold:
    """Raises RecordRefusal where an entry tells of something dangerous."""
    return _Folding(place, symptom, entries).fold


class _Folding:
    """One walk's entries, one after the other."""

    def __init__(self, place: Place, symptom: str, entries: Sequence[Entry]) -> None:
        self.place, self.entries = place, entries
        self.fold = Fold(place, symptom, begun(symptom))
        self.came_in: set[str] = set()
        self.read: dict[tuple[str, State], set[frozenset[str]]] = {}
        self.shown: dict[tuple[str, State, frozenset[str]], list[Reading]] = {}
        for number, entry in enumerate(entries):
            self._take(number, entry)

    def _take(self, number: int, entry: Entry) -> None:
        fold = self.fold
        if entry.mended is not None:
            self._mended(entry.mended)
            return
        if entry.skip:
            fold.done.add(entry.skip)
            fold.skipped.add(entry.skip)
            return
        measured = entry.measured
        state = measured.state if measured else (entry.trial.circuit if entry.trial else None)
        if state is not None and not (entry.trial is not None and entry.trial.name == "prove-dead"):
            refuse_danger(self.place, entry.path, entry.trial, measured, state)
        if measured is not None:
            measured = self._as_it_was(entry, measured)
        if _came_in(entry, measured):
            fold.reset = True  # a contactor that comes in has its overload in, whoever reset it
        panel = Panel(self.place, _later(self.place, self.entries, number), fold.reset, fold.renewed)
        if measured is not None:
            self._measured(number, entry, measured, panel)
        elif entry.trial is not None:
            fold.guard = after_answer(fold.guard, number, entry.trial, entry.answer, entry.where)
            self._answered(entry, panel)
        if entry.trial is not None and entry.trial.name != "prove-dead":
            fold.done.add(entry.trial.name)
            self._acted(entry.trial, entry.answer)

    def _mended(self, repair: tuple[str, str | None]) -> None:
        fold = self.fold
        fold.guard = mended(fold.guard, repair[0])
        fold.mended.append(repair)
        fold.done, fold.reset, fold.start_asked = set(), False, False
        fold.renewed = fold.renewed or repair[0] in RENEWED
        fold.twice = []
        fold.said = [replace(one, old=True) for one in fold.said if float(one.rows.max()) >= MISFIT]
        self.came_in, self.read, self.shown = set(), {}, {}

    def _acted(self, trial: Trial, answer: str) -> None:
        """What a reset or a reclosing changes of the circuit."""
        fold = self.fold
        now = _resets(trial, answer)
        if trial.name == "breaker-reclose" and answer == "holds":
            fold.renewed, now = True, fold.reset
        if now is None:
            return
        fold.reset = now
        self.came_in, self.read, self.shown = set(), {}, {}
        fold.done -= {"overload-look"} if trial.name == "overload-reset" else set()

    def _answered(self, entry: Entry, panel: Panel) -> None:
        trial = entry.trial
        if trial is None or not trial.asks or trial.quantity == "prove-dead":
            return
        if trial.model == "contactor":
            self.fold.start_asked = False
            if self.came_in & {"in", "out"} and trial.name == "contactor-did":
                return
            self.came_in.update(("in", "out"))
        elif trial.circuit is not None and trial.circuit.at == "start" and "in" not in self.came_in:
            self.fold.start_asked = False
        rows, plain = answered(panel, trial, entry.answer), answer_words(trial, entry.answer)
        self.fold.said.append(Said(f"{trial.name}: {entry.answer}", rows, panel, entry, plain))

    def _measured(self, number: int, entry: Entry, measured: Measured, panel: Panel) -> None:
        fold = self.fold
        kept = self._differing(entry, measured)
        if kept.readings:
            plain = measured_words(self.place, kept)
            fold.said.append(Said(_words(kept), likelihood(panel, kept), panel, replace(entry, measured=kept), plain))
        if not measured.asked:
            self._contactor(entry, panel, measured)
        fold.said += _below_setting(panel, fold.symptom, measured)
        after = after_measuring(fold.guard, self.place, number, measured)
        fold.guard = read_elsewhere(fold.guard, after) if entry.elsewhere else after
        fold.electronics = fold.electronics or (
            measured.quantity == "insulation" and (self.place.electronics or self.place.no_insulation_test)
        )
        fold.done |= _made(self.place, measured, self.read)

    def _as_it_was(self, entry: Entry, measured: Measured) -> Measured:
        """A start that was asked for isn't a contactor that came in: unless somebody said so, or something flows."""
        state = measured.state
        if entry.told or not state.live or state.at == "rest" or state.contactor == "out":
            return measured
        if _flows(self.place, measured):
            self.fold.start_asked = False
            return measured
        self.fold.start_asked = not self.came_in & {"in", "out"}
        return replace(measured, asked=True)

    def _differing(self, entry: Entry, measured: Measured) -> Measured:
        """Without what differs from an earlier reading at the same points: named, and read again before it counts."""
        fold, kept = self.fold, []
        for a, b, reading in measured.readings:
            at = (measured.quantity, measured.state, points_of(measured.state, a, b))
            before = self.shown.setdefault(at, [])
            name = f"{a}~{b}" if b else a
            before.append(reading)
            others = [one for one in before[:-1] if not _differ(self.place, measured.quantity, one, reading)]
            if len(before) == 1 or others:
                kept.append((a, b, reading))
                fold.twice = [one for one in fold.twice if not one.second.startswith(f"{name} ")]
                continue
            test = entry.trial.name if entry.trial else ""
            fold.twice.append(Twice(f"{name} {before[-2].text}", f"{name} {reading.text}", test))
            fold.said = [_without(one, at) for one in fold.said]
        return replace(measured, readings=tuple(kept))

    def _contactor(self, entry: Entry, panel: Panel, measured: Measured) -> None:
        """A start that was held says whether the contactor came in; a motor that turned says that it can."""
        state = measured.state
        if not state.live or state.at == "rest":
            return
        if not entry.told and any(of_control(point) for a, b, _ in measured.readings for point in (a, b)):
            return
        if state.contactor not in self.came_in:
            self.came_in.add(state.contactor)
            share = pulls_in(panel)
            words = f"contactor {state.contactor} with the start held"
            self.fold.said.append(Said(words, share if state.contactor == "in" else 1 - share, panel))
        if state.at == "run" and "run" not in self.came_in:
            self.came_in.add("run")
            turning = [0.15 if one.kind.start in ("hums", "nothing", "blows") else 0.9 for one in panel.suspects]
            rows = np.append(panel.of_variants(np.array(turning)), 0.9)
            self.fold.said.append(Said("it turns", rows, panel))


def _came_in(entry: Entry, measured: Measured | None) -> bool:
    """Whether an entry says that the contactor came in."""
    if measured is not None:
        return measured.state.live and measured.state.contactor == "in" and not measured.asked
    return entry.trial is not None and entry.trial.model == "contactor" and entry.answer in ("pulls-in", "in")


def _without(said: Said, at: tuple[str, State, frozenset[str]]) -> Said:
    """An entry without the readings at these points."""
    entry = said.entry
    if entry is None or entry.measured is None or (entry.measured.quantity, entry.measured.state) != at[:2]:
        return said
    state = entry.measured.state
    left = tuple(one for one in entry.measured.readings if points_of(state, one[0], one[1]) != at[2])
    if len(left) == len(entry.measured.readings):
        return said
    measured = replace(entry.measured, readings=left)
    rows = likelihood(said.panel, measured) if left else np.ones_like(said.rows)
    return replace(said, rows=rows, entry=replace(entry, measured=measured))


TOLERANCE = {"ohms": 0.3, "insulation": 1.0, "volts-across": 0.7}  # decades; others in parts of the scale
PARTS = 0.12


def _differ(place: Place, quantity: str, one: Reading, other: Reading) -> bool:
    """Whether two readings at the same points can't both be right, nothing having changed between them."""
    if quantity in TOLERANCE:
        ends = [_span(reading) for reading in (one, other)]
        gap = max(ends[0][0] - ends[1][1], ends[1][0] - ends[0][1])
        return gap > TOLERANCE[quantity]
    scale = place.amps * 0.5 if quantity == "amps" else place.volts
    gap = max(one.amount.low - other.amount.high, other.amount.low - one.amount.high)
    return gap > PARTS * scale


def _span(reading: Reading) -> tuple[float, float]:
    if reading.shown in (Shown.OVER_RANGE, Shown.NO_BEEP):
        return 6.0, math.inf
    if reading.shown is Shown.BEEP:
        return -1.0, 1.7
    high = math.inf if math.isinf(reading.amount.high) else math.log10(reading.amount.high + 0.3)
    return math.log10(max(reading.amount.low, 0.0) + 0.3), high


def _flows(place: Place, measured: Measured) -> bool:
    """Current, or volts behind the contactor, or one pole that drops next to nothing beside one that drops much."""
    if measured.quantity == "volts-across" and all(a.startswith("line-L") for a, _, _ in measured.readings):
        drops = [reading.amount.value for _, _, reading in measured.readings]  # a pole that makes drops millivolts
        return all(DROPS_V <= drop < FLOWS * place.volts for drop in drops)
    for a, b, reading in measured.readings:
        shown = 0.0 if math.isnan(reading.amount.value) else reading.amount.value
        if measured.quantity == "amps" and shown > FLOWS * place.amps:
            return True
        behind = a.startswith(("load-L", "overload-T", "cable-T", "local-", "box-T", "lead-"))
        if measured.quantity.startswith("volts") and behind and shown > FLOWS * place.volts and not of_control(b):
            return True
    return False


def _made(place: Place, measured: Measured, read: dict[tuple[str, State], set[frozenset[str]]]) -> set[str]:
    """Tests that the readings make by now, whoever named them: all their points were read in their state."""
    state = measured.state if place.disconnect == "local" else replace(measured.state, local="closed")
    known = read.setdefault((measured.quantity, state), set())
    known |= {points_of(state, a, b) for a, b, _ in measured.readings}
    return {
        trial.name
        for trial in trials(place).values()
        if (trial.quantity, trial.circuit) == (measured.quantity, state)
        and known >= {points_of(state, *pair) for pair in _asked(trial)}
    }


def _asked(trial: Trial) -> Sequence[tuple[str, ...]]:
    """The readings of a test by their points; amps by line."""
    return [(f"L{line}",) for line in LINES] if trial.quantity == "amps" else trial.between


def points_of(state: State, a: str, b: str = "") -> frozenset[str]:
    """Points of a reading as a set, each by one name: the cable's end is the overload's until it is lifted there."""
    if state.motor == "lifted-at-starter":
        return frozenset((a, b))
    return frozenset((a.replace("cable-T", "overload-T"), b.replace("cable-T", "overload-T")))


def _resets(trial: Trial, answer: str) -> bool | None:
    """Whether an overload stays in from here on; None where nothing is said of it."""
    if trial.name == "overload-reset":
        return answer in STAYED
    return False if (trial.name, answer) == ("overload-look", "tripped") else None


def _later(place: Place, entries: Sequence[Entry], number: int) -> tuple[tuple[Key, int], ...]:
    """Faults that were still there at an entry: those mended afterwards, each in the size that its readings tell."""
    out: list[tuple[Key, int]] = []
    for at, entry in enumerate(entries[number:], number):
        if entry.mended is None:
            continue
        before = tuple(one.measured for one in entries[:at] if one.measured is not None)
        out += [(one.key, _size(place, one.key, before)) for one in line_up(place) if _is(one, entry.mended)]
    return tuple(dict.fromkeys(out))


def _is(suspect: Suspect, repair: tuple[str, str | None]) -> bool:
    return repair in ((suspect.name, suspect.line), (suspect.name, None))


@lru_cache(maxsize=256)
def _size(place: Place, key: Key, before: tuple[Measured, ...]) -> int:
    """Which variant of a suspect gives the readings best; the first where none was read."""
    panel = Panel(place)
    first = next(i for i, owner in enumerate(panel.owner) if panel.suspects[int(owner)].key == key)
    sizes = len(next(one for one in panel.suspects if one.key == key).variants)
    fits = sum(np.log(likelihood(panel, one)[first : first + sizes]) for one in before)
    return int(np.argmax(fits)) if before else 0


# Trips with a settled current below its setting: the relay or what is round it (rule of the trade without source).
ROUND_THE_RELAY = {
    "overload-faulty": 1.0, "overload-misset": 1.0, "joint-loose": 1.0, "starts-too-many": 1.0,
    "overload-tripped": 0.5,  # by a load that has passed
}  # fmt: skip
EVEN, AT_PLATE = 0.05, 1.02


def _below_setting(panel: Panel, symptom: str, measured: Measured) -> list[Said]:
    if symptom != "trips-later" or measured.quantity != "amps" or measured.state.at != "run" or measured.asked:
        return []
    amps = [reading.amount.value for _, _, reading in measured.readings]
    if len(amps) < 3 or max(amps) > AT_PLATE * panel.place.amps or max(amps) - min(amps) > EVEN * max(amps):
        return []
    weight = np.array([ROUND_THE_RELAY.get(one.name, 0.1) for one in panel.suspects])
    rows = np.append(panel.of_variants(weight), 0.1)  # a sound circuit doesn't trip
    return [Said("it trips with even current at or below the plate", rows, panel)]


def _words(measured: Measured) -> str:
    state = measured.state
    parts = [f"{a if not b else f'{a}~{b}'} {reading.text}" for a, b, reading in measured.readings]
    how = "dead" if not state.live else "live"
    lifted = ", motor lifted" if state.motor != "connected" else ""
    at = {"rest": "at rest", "start": "while trying", "run": "running"}[state.at]
    return f"{', '.join(parts)} {at}, {how}{lifted}"
