"""The hands' side of a drying: heat, off, shorted to frame, read; what may come next, and what would be unsafe.

A winding under current, charged by a tester or shorted to frame each allows of something else. What it is follows from
the acts in their order alone, so that an act taken back undoes itself.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from grimcoil.core.insulation.hold import discharge_s

# Common practice without source: a winding that carried direct current is shorted a minute before it is touched.
AFTER_HEAT_S = 60.0
CYCLE = timedelta(minutes=25)  # of heat; 15 to 30 minutes, common practice without source


class Act(StrEnum):
    """What is done."""

    HEAT_ON = "heat-on"
    HEAT = "heat"
    HEAT_OFF = "heat-off"
    SHORTED = "shorted"
    FREED = "freed"
    READ = "read"
    ROTATED = "rotated"


class Stage(StrEnum):
    """How the winding stands: free of all, under current, after current and not yet shorted, shorted, charged."""

    FREE = "free"
    HEATED = "heated"
    OPEN = "open"
    SHORTED = "shorted"
    CHARGED = "charged"


@dataclass(frozen=True, slots=True)
class Done:
    """An act at its moment. held_s, ends: of a reading."""

    act: Act
    at: datetime
    held_s: float = 0.0
    ends: str = ""


@dataclass(frozen=True, slots=True)
class Stands:
    """Where it stands. since: of the stage, or of the heat; due: when a shorted winding may be let go, or when the
    cycle of heat is over; held_s, ends: of the hold that charges it; cycles: of heat so far.
    """

    stage: Stage = Stage.FREE
    since: datetime | None = None
    due: datetime | None = None
    held_s: float = 0.0
    ends: str = ""
    cycles: int = 0
    latest: datetime | None = None


@dataclass(frozen=True, slots=True)
class Shut:
    """Why an act may not be done now: what was found, and what opens it."""

    found: str
    accepted: str


def stands(done: Sequence[Done]) -> Stands:
    """Fold the acts, each of which was allowed when it was kept."""
    now = Stands()
    for one in done:
        now = _after(now, one)
    return now


def _after(was: Stands, one: Done) -> Stands:
    at, cycles = max(one.at, was.latest or one.at), was.cycles  # a clock that was set back ends nothing early
    if one.act is Act.HEAT_ON:
        return Stands(Stage.HEATED, at, at + CYCLE, cycles=cycles + 1, latest=at)
    if one.act is Act.HEAT_OFF:
        return Stands(Stage.OPEN, at, cycles=cycles, latest=at)
    if one.act is Act.SHORTED:
        waits = discharge_s(was.held_s) if was.stage is Stage.CHARGED else AFTER_HEAT_S
        return Stands(Stage.SHORTED, at, at + timedelta(seconds=waits), cycles=cycles, latest=at)
    if one.act is Act.FREED:
        return Stands(Stage.FREE, at, cycles=cycles, latest=at)
    if one.act is Act.READ:
        held = max(one.held_s, was.held_s if was.stage is Stage.CHARGED else 0.0)
        return Stands(Stage.CHARGED, at, None, held, one.ends, cycles, at)
    return Stands(was.stage, was.since, was.due, was.held_s, was.ends, cycles, at)


ALLOWED: dict[Act, tuple[frozenset[Stage], str]] = {
    Act.HEAT_ON: (frozenset({Stage.FREE}), "a winding that is neither shorted nor charged, the tester off"),
    Act.HEAT: (frozenset({Stage.HEATED}), "amps and volts while the heat is on"),
    Act.HEAT_OFF: (frozenset({Stage.HEATED}), "heat that is on"),
    Act.SHORTED: (frozenset({Stage.OPEN, Stage.CHARGED}), "a winding that was heated or charged, the current off"),
    Act.FREED: (frozenset({Stage.SHORTED}), "a winding that is shorted to frame"),
    Act.READ: (
        frozenset({Stage.FREE, Stage.CHARGED}),
        "no current, and a winding shorted to frame and let go again before the tester is put on",
    ),
    Act.ROTATED: (frozenset({Stage.FREE, Stage.SHORTED}), "the heat off and the winding shorted to frame"),
}
STAGE_WORDS = {
    Stage.FREE: "the winding is free",
    Stage.HEATED: "the heat is on",
    Stage.OPEN: "it was heated and isn't shorted to frame yet",
    Stage.SHORTED: "it stands shorted to frame",
    Stage.CHARGED: "the tester has charged it",
}


def shut(now: Stands, one: Done) -> Shut | None:
    """Why this act can't be; None where it may. Safety: no reason overrules it."""
    stages, accepted = ALLOWED[one.act]
    if now.stage not in stages:
        return Shut(STAGE_WORDS[now.stage], accepted)
    if one.act is Act.FREED and now.due is not None and one.at < now.due:
        left = (now.due - one.at) / timedelta(seconds=1)
        return Shut(f"discharging, {left:.0f} s to go", "Leave the strap on.")
    if one.act is Act.READ and now.stage is Stage.CHARGED and one.ends != now.ends:
        return Shut(STAGE_WORDS[now.stage], "shorted to frame first: another pair of ends is another hold")
    return None


def wanted(now: Stands) -> Act:
    """What comes next in a cycle."""
    return {
        Stage.FREE: Act.HEAT_ON if now.cycles else Act.READ,
        Stage.HEATED: Act.HEAT,
        Stage.OPEN: Act.SHORTED,
        Stage.SHORTED: Act.FREED,
        Stage.CHARGED: Act.SHORTED,
    }[now.stage]
