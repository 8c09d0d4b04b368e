"""How the tests of a job stand against what its verdict needs: proven, failed, unproven, or not made."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import IntEnum
from typing import Any

from grimcoil.core.choices import Spot
from grimcoil.core.decision.needs import LeftOut, Need, NeedKind, needs
from grimcoil.core.findings import Result, Verdict
from grimcoil.core.insulation.judge import InsulationResult
from grimcoil.core.measured import InsulationTest, ResistanceTest
from grimcoil.core.points import groups_of, groups_touched, line_of, line_pair_of
from grimcoil.core.resistance.judge import ResistanceResult
from grimcoil.core.subject import Subject

Done = Mapping[str, Sequence[tuple[Any, Any]]]
AT_BOX = "@motor-box"


class Grade(IntEnum):
    """What a test did for a need; the greatest of several counts."""

    NOT_MADE = 0
    BOX_FIRST = 1
    UNPROVEN = 2
    FAILED = 3
    PROVEN = 4


@dataclass(frozen=True, slots=True)
class Standing:
    """The needs that no test on record meets, those whose test proves nothing, those that failed, what is left out."""

    missing: tuple[Need, ...] = ()
    unproven: tuple[Need, ...] = ()
    failed: tuple[Need, ...] = ()
    left_out: tuple[LeftOut, ...] = ()
    at_box: frozenset[str] = frozenset()

    @property
    def open(self) -> bool:
        """Some key test is missing or unproven."""
        return bool(self.missing or self.unproven)

    def place(self, need: Need) -> str:
        """Where a missing one is to be read: at the motor box where the starter's reading failed."""
        return need.place + (AT_BOX if need.place in self.at_box else "")

    def words(self, need: Need) -> str:
        """The same for people."""
        return need.words + (", at the motor box" if need.place in self.at_box else "")


def standing(done: Done, subject: Subject, occasion: str) -> Standing:
    """Grade every need of the job by the tests and results on record, by kind of test."""
    scheme = subject.winding.lead_scheme
    ohms = [(t, r) for t, r in done.get("winding_resistance", ()) if not t.hot]
    holds = [*done.get("insulation", ()), *done.get("winding_to_winding", ())]
    wanted = needs(scheme, occasion, subject.winding.insulation_test_forbidden, bool(ohms or holds))
    graders: dict[NeedKind, Callable[[Need], Grade]] = {
        NeedKind.OHMS: lambda need: _best(_ohms_grade(need, t, r) for t, r in ohms),
        NeedKind.VOLTS: lambda need: _best(_volts_grade(need, t, r) for t, r in done.get("supply_voltage", ())),
        NeedKind.AMPS: lambda need: _best(_amps_grade(need, t, r) for t, r in done.get("line_current", ())),
        NeedKind.NO_LOAD: lambda need: _best(_amps_grade(need, t, r) for t, r in done.get("line_current", ())),
        NeedKind.WALK: lambda _: Grade.NOT_MADE,
        NeedKind.IDENTIFY: lambda _: Grade.NOT_MADE,
    }
    if wanted.keys and any(need.kind in (NeedKind.FRAME, NeedKind.BETWEEN) for need in wanted.keys):
        reached = _reached(holds, scheme)
        graders[NeedKind.FRAME] = lambda need: min(reached.frame.get(n, Grade.NOT_MADE) for n in need.groups)
        graders[NeedKind.BETWEEN] = lambda need: _between_grade(need, reached, scheme)
    grades = [(need, graders[need.kind](need)) for need in wanted.keys]

    def having(*which: Grade) -> tuple[Need, ...]:
        return tuple(need for need, grade in grades if grade in which)

    return Standing(
        having(Grade.NOT_MADE, Grade.BOX_FIRST),
        having(Grade.UNPROVEN),
        having(Grade.FAILED),
        wanted.left_out,
        frozenset(need.place for need, grade in grades if grade is Grade.BOX_FIRST),
    )


def _best(grades: Iterable[Grade]) -> Grade:
    return max(grades, default=Grade.NOT_MADE)


def _ohms_grade(need: Need, test: ResistanceTest, result: ResistanceResult) -> Grade:
    for one in result.sets or (result,):
        if set(one.pairs) != set(need.together) or need.points[0] not in one.ohms:
            continue
        return _graded(one, test.hookup.at == Spot.STARTER)
    return Grade.NOT_MADE


def _graded(result: Result, at_starter: bool) -> Grade:
    if result.verdict is Verdict.ACT:
        return Grade.BOX_FIRST if at_starter else Grade.FAILED
    return Grade.UNPROVEN if result.is_open else Grade.PROVEN


@dataclass(frozen=True, slots=True)
class _Reached:
    """Grades of the holds by group to frame, and by pair of groups."""

    frame: Mapping[int, Grade]
    between: Mapping[tuple[int, int], Grade]


def _reached(holds: Sequence[tuple[InsulationTest, InsulationResult]], scheme: str) -> _Reached:
    frame: dict[int, Grade] = {}
    between: dict[tuple[int, int], Grade] = {}
    for test, result in holds:
        if result.route != "insulation-tester" or test.scope == "cable" or (result.r_1min_mohm is None):
            continue
        grade = _graded(result, test.scope == "motor+cable")
        ends = _ends(test, scheme)
        others = groups_touched(test.to, scheme)
        if test.to_frame:
            for number in ends:
                frame[number] = max(frame.get(number, Grade.NOT_MADE), grade)
        for a in ends:
            for b in others - ends:
                pair = (min(a, b), max(a, b))
                between[pair] = max(between.get(pair, Grade.NOT_MADE), grade)
    return _Reached(frame, between)


def _ends(test: InsulationTest, scheme: str) -> frozenset[int]:
    """Groups on the tester. Leads that aren't named are the whole winding only where continuity joins them all."""
    if test.ends:
        return groups_touched(test.ends, scheme)
    groups = groups_of(scheme)
    if len(groups) == 1:
        return frozenset({0})
    named = {"low": 0, "high": 1}.get(test.hookup.part or "")
    return frozenset({named} if scheme == "two-speed-two-winding" and named is not None else ())


def _between_grade(need: Need, reached: _Reached, scheme: str) -> Grade:
    """The least of what its pairs of groups have: each half of a phase against each of the other."""
    first, second = groups_touched(need.points, scheme), groups_touched(need.to, scheme)
    return min(reached.between.get((min(a, b), max(a, b)), Grade.NOT_MADE) for a in first for b in second)


def _volts_grade(need: Need, test: Any, result: Result) -> Grade:
    return _line_grade(need, {line_pair_of(name) for name in test.line_to_line}, result)


def _amps_grade(need: Need, test: Any, result: Result) -> Grade:
    return _line_grade(need, {line_of(name) for name in test.readings}, result)


def _line_grade(need: Need, read: set[str | None], result: Result) -> Grade:
    if need.points[0] not in read:
        return Grade.NOT_MADE
    return _graded(result, at_starter=False)
