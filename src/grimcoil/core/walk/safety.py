"""What may be done next, by what was done: proofs, resets, and a load side that must be shown clear before closing.

Rules of the trade (common practice; local rules come first). They stand here alone: whatever chooses a test asks
`allowed` first.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from grimcoil.core.circuit.place import LINES, Place, State
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.limits import reaches
from grimcoil.core.readings import Reading, Shown
from grimcoil.core.walk.catalogue import Trial
from grimcoil.core.walk.evidence import Measured

CLEAR_OHM, PATH_OHM = 1e6, 1e5
OHMMETER_OPEN = 2e6
RATIO = 1.6
# Of the ohms that the plate makes likely no sound pair reads less than this share; common practice without source.
LEAST_SHARE = 0.3
# Complaints of a motor that turns: only then is anything measured running.
TURNING = frozenset({"trips-later", "runs-hot", "slow-weak", "noisy", "runs-backwards", "runs-on", "earth-leakage"})
TURNS = frozenset({"runs", "slow", "trips-later", "backwards"})
CONTROL_TESTS = frozenset({"volts-coil", "volts-chain", "contactor-look", "start-try"})
TRIPS = frozenset({"blows-fuse", "trips-at-once", "earth-leakage"})
SHORT_ANSWERS = {
    ("breaker-look", "tripped"), ("breaker-reclose", "trips-at-once"), ("start-try", "blows"),
    ("start-try", "trips-at-once"), ("uncoupled-run", "blows"),
}  # fmt: skip
LOAD_SIDE = ("load-L", "overload-T", "cable-T", "box-T", "lead-", "local-")
# With what a circuit that tripped or blew is closed first: the door shut, nobody at it (common practice).
DOOR_SHUT = frozenset({"breaker-reclose", "start-try"})
NOT_CLOSED = frozenset({"will-not-latch", "nothing"})  # answers after which the load side was never fed
HANDS = frozenset({"shaft-by-hand", "motor-shaft-uncoupled", "load-shaft-uncoupled"})


PAIRS = frozenset(frozenset(pair) for pair in ((1, 2), (2, 3), (1, 3)))


@dataclass(frozen=True, slots=True)
class Apart:
    """What was read of the cable, or of the motor, by itself: lines to earth with the least asked, and pairs; Ω."""

    earth: Mapping[int, tuple[float, float]] = field(default_factory=dict)
    pairs: Mapping[frozenset[int], Ohms] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Ohms:
    """A pair as it was read, ohms at the least; count: of the meter's last digit, as far as it shows one."""

    low: float
    count: float = 0.0


def _whole(pairs: Mapping[frozenset[int], Ohms]) -> bool:
    return pairs.keys() >= PAIRS


def _to_earth(earth: Mapping[int, tuple[float, float]]) -> bool:
    return set(earth) >= set(LINES) and all(low >= least for low, least in earth.values())


LEADS_OHM, OF_LOWEST = 0.2, 0.6  # the test leads' own ohms may be in a reading, at most this part of the lowest
COARSE_OHM, LITTLE_OHM = 0.01, 1.0  # a meter without milliohms, and where its test leads count beside the winding
COUNTS = 1.5  # of the last digit: less apart is the meter's own step


def _winding(pairs: Mapping[frozenset[int], Ohms], place: Place) -> bool:
    """Three pairs alike, none far under what the plate makes likely: three legs shorted alike don't pass.

    Low ohms are compared without what the test leads may add: 0.6 beside 0.4 may be 0.4 beside 0.2.
    """
    if not _whole(pairs):
        return False
    low, high = (pick(one.low for one in pairs.values()) for pick in (min, max))
    likely = place.phase_ohm * (2 if place.wound == "wye" else 2 / 3)
    count = max(one.count for one in pairs.values())
    leads = min(LEADS_OHM, OF_LOWEST * low) if count >= COARSE_OHM and low < LITTLE_OHM else 0.0
    if reaches((high + count / 2) / max(low - count / 2, 1e-6), RATIO):
        return False  # what the last digit leaves open can hide a pair that is clearly low
    apart = high - low > COUNTS * count
    uneven = reaches(high / max(low, 1e-6), RATIO) or (
        apart and reaches((high - leads) / max(low - leads, 1e-6), RATIO)
    )
    return not uneven and reaches(low, LEAST_SHARE * likely)


@dataclass(frozen=True, slots=True)
class Guard:
    """Where things stand. proved: places proved dead since the supply was last on; tripped: something tripped or blew
    and the load side isn't shown clear yet; earth, pairs: what the load side showed, by line and by pair; turns: the
    motor is known to; stays_out: the contactor was seen not to come in; held: it was closed since, and nothing tripped;
    came_in: the contactor was seen to, since the last repair.
    """

    off: bool = False
    proved: frozenset[str] = frozenset()
    tripped: bool = False
    resets: int = 0
    overload_tripped: bool = False
    unproved: tuple[int, ...] = ()
    earth: Mapping[int, tuple[float, float]] = field(default_factory=dict)
    pairs: Mapping[frozenset[int], Ohms] = field(default_factory=dict)
    apart: Mapping[str, Apart] = field(default_factory=dict)
    found_live: bool = False
    lifted: bool = False
    turns: bool = True
    stays_out: bool = False
    held: bool = False
    came_in: bool = False
    complaint: str = ""

    def clear(self, place: Place) -> bool:
        """Everything that closing will feed is shown clear: each line to earth and each of the three pairs, with the
        motor landed; or the cable by itself and the motor by its own leads.
        """
        if _to_earth(self.earth) and _winding(self.pairs, place):
            return True
        cable, motor = self.apart.get("cable", Apart()), self.apart.get("motor", Apart())
        open_cores = _whole(cable.pairs) and min(one.low for one in cable.pairs.values()) >= PATH_OHM
        return _to_earth(cable.earth) and open_cores and _to_earth(motor.earth) and _winding(motor.pairs, place)


def begun(symptom: str) -> Guard:
    """At the start of a walk: the supply may be on, and what blew or tripped has a reason."""
    return Guard(tripped=symptom in TRIPS, turns=symptom in TURNING, complaint=symptom)


def refuse_danger(place: Place, where: str, trial: Trial | None, measured: Measured | None, state: State) -> None:
    """Raise RecordRefusal for what hurts: ohms, insulation, a hand on a shaft with the supply on, or at live points."""
    quantity = measured.quantity if measured else trial.quantity if trial else ""
    by_hand = trial is not None and trial.name in HANDS
    if state.live and (quantity in ("ohms", "insulation") or by_hand):
        what = "a hand on the shaft" if by_hand else quantity
        raise RecordRefusal(
            where, f"{what} with the supply on", "danger: isolate, lock and prove dead first; then the state says off"
        )
    if measured is None or quantity not in ("ohms", "insulation"):
        return
    live = place.live_when_off()
    for a, b, _ in measured.readings:
        fuse = state.fuses == "out" and {a[:6], b[:6]} == {"supply", "protec"} and quantity == "ohms"
        at = next((point for point in (a, b) if point in live), None)
        if at is not None and not fuse:
            raise RecordRefusal(
                where, f"{quantity} at {at}", "danger: that point stays live; measure behind what isolates"
            )


def after_answer(guard: Guard, number: int, trial: Trial, answer: str, where: str) -> Guard:
    """Guard after an answer."""
    if trial.quantity == "prove-dead":
        if answer == "live":
            return replace(guard, off=False, proved=frozenset(), found_live=True)
        return replace(guard, off=True, proved=guard.proved | {where}, unproved=(), found_live=False)
    state = trial.circuit
    out = _switched(guard, state, number, trial.where) if state is not None else guard
    if trial.closing and state is None:
        out = replace(out, off=False, proved=frozenset())
    if (trial.name, answer) in SHORT_ANSWERS:
        out = replace(out, tripped=True, earth={}, pairs={}, apart={}, held=False)
    elif trial.name in DOOR_SHUT and answer not in NOT_CLOSED:
        out = replace(out, held=True)
    if trial.name == "start-try":
        out = replace(out, turns=answer in TURNS)
    if trial.model == "contactor":
        out = replace(out, stays_out=answer in ("stays-out", "out"), came_in=answer in ("pulls-in", "in"))
    if trial.name == "overload-look":
        out = replace(out, overload_tripped=answer == "tripped")
    if trial.name == "overload-reset":
        out = replace(out, resets=out.resets + 1, overload_tripped=answer == "will-not")
    return out


def _switched(guard: Guard, state: State, number: int, where: str) -> Guard:
    if state.live:
        return replace(guard, off=False, proved=frozenset(), lifted=False, unproved=())
    lacking = "panel" not in guard.proved or (where == "motor-box" and "motor-box" not in guard.proved)
    out = replace(guard, off=True, lifted=state.motor != "connected")
    return replace(out, unproved=(*out.unproved, number)) if lacking else out


def after_measuring(guard: Guard, place: Place, number: int, measured: Measured) -> Guard:
    """Guard after an entry with a meter; a dead look at the load side adds to what is shown clear."""
    at_box = any(point.startswith(("box-", "lead-", "P")) for a, b, _ in measured.readings for point in (a, b))
    out = _switched(guard, measured.state, number, "motor-box" if at_box else "panel")
    if measured.state.closing:
        turned = out.turns or measured.state.at == "run"
        out = replace(out, overload_tripped=False, turns=turned, held=True, came_in=out.came_in or not measured.asked)
    if measured.state.live or measured.state.contactor == "in":
        return out
    for a, b, reading in measured.readings:
        out = _looked(out, place, measured, a, b, reading)
    return out


def _looked(guard: Guard, place: Place, measured: Measured, a: str, b: str, reading: Reading) -> Guard:
    """With what one reading shows of the load side; points as a set, of what hangs on them as it was read."""
    if b.startswith(LOAD_SIDE) and not a.startswith(LOAD_SIDE):
        a, b = b, a
    side, line = _side(a, measured.state), _line(a)
    if not side or line is None:
        return guard
    was = Apart(guard.earth, guard.pairs) if side == ALL else guard.apart.get(side, Apart())
    other = _line(b) if b.startswith(LOAD_SIDE) and _side(b, measured.state) == side else None
    now = was
    if b in ("earth", "frame") and measured.quantity in ("ohms", "insulation"):
        found = _earth(place, measured.quantity, reading)
        now = was if found is None else replace(was, earth={**was.earth, line: found})
    elif measured.quantity == "ohms" and other is not None and other != line:
        now = replace(was, pairs={**was.pairs, frozenset({line, other}): Ohms(_low(reading), reading.count or 0.0)})
    if side == ALL:
        return replace(guard, earth=now.earth, pairs=now.pairs)
    return replace(guard, apart={**guard.apart, side: now})


ALL = "all"


def _line(point: str) -> int | None:
    """1, 2 or 3 of a point of the load side; other leads of the motor are no line."""
    number = point.removeprefix("lead-")[-2 if point[-2:].isdigit() else -1 :]
    return int(number) if number.isdigit() and int(number) in LINES else None


def _side(point: str, state: State) -> str:
    """What hangs on a point of the load side as the circuit was: all of it, the cable, the motor, or neither."""
    if not point.startswith(LOAD_SIDE):
        return ""
    at_motor, at_panel = point.startswith("lead-"), point.startswith(("load-L", "overload-T"))
    if state.motor == "lifted-at-box":
        return "motor" if at_motor else "cable"
    if state.motor == "lifted-at-starter":
        return "" if at_panel else ALL
    if state.local == "open":
        return "motor" if point.startswith(("lead-", "box-T", "local-T")) else "cable"
    return ALL


def read_elsewhere(before: Guard, after: Guard) -> Guard:
    """After a reading of a job: it needs no proof of the walk's, and leaves none. Hours may lie between: whoever comes
    back proves dead anew, at each place.
    """
    return replace(after, off=True, proved=frozenset(), unproved=before.unproved, lifted=False)


def _earth(place: Place, quantity: str, reading: Reading) -> tuple[float, float] | None:
    """Ohms to earth at the least, and what is asked of it; an ohmmeter counts where the tester isn't allowed."""
    if quantity == "insulation":
        return _low(reading), CLEAR_OHM
    if place.no_insulation_test or place.electronics or _low(reading) < PATH_OHM:
        return _low(reading), OHMMETER_OPEN
    return None


def _low(reading: Reading) -> float:
    if reading.shown in (Shown.OVER_RANGE, Shown.NO_BEEP):
        return math.inf
    return reading.amount.low


def mended(guard: Guard, suspect: str) -> Guard:
    """After a repair: the resets are counted anew; a fuse or breaker asks for a clear load side; what was worked on
    behind them is shown clear anew.
    """
    again = suspect in ("fuse-blown", "breaker-tripped", "breaker-pole-open")
    out = replace(guard, resets=0, overload_tripped=False, stays_out=False, tripped=guard.tripped or again, held=False)
    out = replace(out, came_in=False)
    return out if again or suspect.startswith("control-") else replace(out, earth={}, pairs={}, apart={})


def allowed(guard: Guard, place: Place, trial: Trial, blown: bool) -> bool:
    """Whether this test may be offered now; one with the supply off may have its proof still to come.

    blown: a fuse or breaker is likely to have opened.
    """
    if trial.needs in ("asked", "feeds"):
        return False  # asked where something rests on it, never chosen
    state = trial.circuit
    held_back = (guard.tripped or blown) and not guard.clear(place)
    if guard.found_live:
        return trial.quantity in ("look", "ask") and (state is None or not state.live) and not trial.closing
    if trial.name == "overload-reset":
        return guard.overload_tripped and guard.resets == 0 and not held_back
    if trial.name == "breaker-reclose":
        return (guard.tripped or blown) and not held_back
    closing = trial.closing or (state is not None and state.closing)
    if guard.tripped and not guard.held and trial.name not in DOOR_SHUT and (closing or (state and state.live)):
        return not closing and trial.quantity in ("look", "ask")
    if state is not None and state.at == "run" and not guard.turns:
        return False
    if guard.stays_out and closing and trial.name not in CONTROL_TESTS:
        return False
    if closing:
        return not held_back and not guard.overload_tripped and not guard.unproved
    if state is not None and state.live and held_back and (guard.off or guard.tripped):
        return False
    return not (guard.unproved and (state is None or not state.live) and trial.quantity not in ("look", "ask"))


CONTROL_HELD = frozenset({"volts-coil", "volts-chain", "contactor-look"})
CONTROL_REST = frozenset({"volts-control", "volts-control-fuse", "volts-coil-rest"})


def idle(guard: Guard, trial: Trial) -> bool:
    """Whether a test asks what is known: a contactor that comes in has its volts; a motor that hums with the start held
    needs no other start for it (common practice).
    """
    if not guard.came_in:
        return False
    if trial.name in CONTROL_HELD:
        return True
    if trial.name in CONTROL_REST:
        return guard.complaint not in ("chatters", "runs-on")
    return trial.name == "start-try" and guard.complaint == "hums"


def _by_hands(state: State) -> bool:
    """A state that hands must make first: leads lifted, the load uncoupled. They need their own lock and proof."""
    return state.motor != "connected" or state.load == "uncoupled"


def proofs_needed(guard: Guard, trial: Trial) -> Sequence[str]:
    """Where it must be proved dead before this test; empty where nothing is lacking."""
    state = trial.circuit
    if state is None or (state.live and not _by_hands(state)):
        return ()
    out = [] if guard.off and "panel" in guard.proved else ["panel"]
    if trial.where == "motor-box" or state.motor == "lifted-at-box":
        out += [] if "motor-box" in guard.proved and not out else ["motor-box"]
    return out
