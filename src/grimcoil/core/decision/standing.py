"""How the tests of a job stand against what its verdict needs: proven, failed, unproven, or not made."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from enum import IntEnum
from typing import Any

from grimcoil.core.choices import Spot
from grimcoil.core.decision.needs import LeftOut, Need, NeedKind, needs
from grimcoil.core.findings import Result, Verdict
from grimcoil.core.insulation.judge import InsulationResult, has_index
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
    amps = _by_line(done.get("line_current", ()), line_of, "readings")
    graded: dict[NeedKind, Mapping[str, Grade]] = {
        NeedKind.VOLTS: _by_line(done.get("supply_voltage", ()), line_pair_of, "line_to_line"),
        NeedKind.AMPS: amps,
        NeedKind.NO_LOAD: amps,
    }
    sets = _by_set(ohms)
    reached = _reached(holds, scheme)
    out: dict[Grade, list[Need]] = {grade: [] for grade in Grade}
    for need in wanted.keys:
        if need.kind is NeedKind.OHMS:
            grade = sets.get((need.together_set, need.points[0]), Grade.NOT_MADE)
        elif need.kind is NeedKind.FRAME:
            grade = min([reached.frame.get(number, Grade.NOT_MADE) for number in need.groups])
        elif need.kind is NeedKind.INDEX:
            grade = Grade.PROVEN if need.groups <= reached.index else Grade.NOT_MADE
        elif need.kind is NeedKind.BETWEEN:
            grade = _between_grade(need, reached, scheme)
        else:
            grade = graded.get(need.kind, _NONE).get(need.points[0] if need.points else "", Grade.NOT_MADE)
        out[grade].append(need)
    return Standing(
        (*out[Grade.NOT_MADE], *out[Grade.BOX_FIRST]),
        tuple(out[Grade.UNPROVEN]),
        tuple(out[Grade.FAILED]),
        wanted.left_out,
        frozenset(need.place for need in out[Grade.BOX_FIRST]),
    )


_NONE: Mapping[str, Grade] = {}
_Sets = dict[tuple[frozenset[str], str], Grade]


def _by_set(ohms: Sequence[tuple[ResistanceTest, ResistanceResult]]) -> _Sets:
    """The best grade of each pair within the set it is compared in."""
    out: _Sets = {}
    for test, result in ohms:
        for one in result.sets or (result,):
            grade, together = _graded(one, test.hookup.at == Spot.STARTER), frozenset(one.pairs)
            for pair in one.ohms:
                out[together, pair] = max(out.get((together, pair), Grade.NOT_MADE), grade)
    return out


def _by_line(
    done: Sequence[tuple[Any, Result]], canonical: Callable[[str], str | None], readings: str
) -> dict[str, Grade]:
    """The best grade of each line, or pair of lines, that was read."""
    out: dict[str, Grade] = {}
    for test, result in done:
        grade = _graded(result, at_starter=False)
        for name in getattr(test, readings):
            key = canonical(name)
            if key is not None:
                out[key] = max(out.get(key, Grade.NOT_MADE), grade)
    return out


def _graded(result: Result, at_starter: bool) -> Grade:
    if result.verdict is Verdict.ACT:
        return Grade.BOX_FIRST if at_starter else Grade.FAILED
    return Grade.UNPROVEN if result.is_open else Grade.PROVEN


@dataclass(frozen=True, slots=True)
class _Reached:
    """Grades of the holds by group to frame, and by pair of groups; index: groups with a second value for a ratio."""

    frame: Mapping[int, Grade]
    between: Mapping[tuple[int, int], Grade]
    index: frozenset[int]


def _reached(holds: Sequence[tuple[InsulationTest, InsulationResult]], scheme: str) -> _Reached:
    frame: dict[int, Grade] = {}
    between: dict[tuple[int, int], Grade] = {}
    index: set[int] = set()
    for test, result in holds:
        if result.route != "insulation-tester" or test.scope == "cable":
            continue
        ends = _ends(test, scheme)
        index |= ends if test.to_frame and has_index(test) else frozenset()
        if result.r_1min_mohm is None:
            continue
        grade = _graded(result, test.scope == "motor+cable")
        others = groups_touched(test.to, scheme)
        if test.to_frame:
            for number in ends:
                frame[number] = max(frame.get(number, Grade.NOT_MADE), grade)
        for a in ends:
            for b in others - ends:
                pair = (min(a, b), max(a, b))
                between[pair] = max(between.get(pair, Grade.NOT_MADE), grade)
    return _Reached(frame, between, frozenset(index))


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
