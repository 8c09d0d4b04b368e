"""How the tests of a job stand against what its verdict needs: proven, failed, unproven, or not made."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import IntEnum
from typing import Any

from grimcoil.core.choices import Occasion, Spot
from grimcoil.core.decision.needs import LeftOut, Need, NeedKind, Stopped, needs
from grimcoil.core.findings import Result, Verdict
from grimcoil.core.insulation.judge import InsulationResult, has_index
from grimcoil.core.measured import InsulationTest, ResistanceTest
from grimcoil.core.points import groups_of, groups_touched, line_of, line_pair_of
from grimcoil.core.resistance.judge import ResistanceResult
from grimcoil.core.subject import Subject
from grimcoil.core.wishes import AS_USUAL, Wishes

Done = Mapping[str, Sequence[tuple[Any, Any]]]
AT_BOX = "@motor-box"
LIVE = frozenset({NeedKind.VOLTS, NeedKind.AMPS, NeedKind.NO_LOAD})
OPEN = frozenset(["open-phase", "lead-open-delta", "all-open", "open-coil-delta", "coil-open", "kilohm-open"])
OPEN_STOPS = "the winding is open: no insulation test of the whole"


class Grade(IntEnum):
    """What a test did for a need; the greatest of several counts."""

    NOT_MADE = 0
    BOX_FIRST = 1
    UNPROVEN = 2
    FAILED = 3
    PROVEN = 4


@dataclass(frozen=True, slots=True)
class Standing:
    """The needs that no test on record meets, those whose test proves nothing, those that failed, what is left out.

    stopped: needs that would be missing, but may not be asked for: what is live after a failed dead test, the
    insulation of what is open. opened: leads of the groups in which something is open.
    """

    missing: tuple[Need, ...] = ()
    unproven: tuple[Need, ...] = ()
    failed: tuple[Need, ...] = ()
    left_out: tuple[LeftOut, ...] = ()
    at_box: frozenset[str] = frozenset()
    stopped: tuple[Stopped, ...] = ()
    opened: frozenset[str] = frozenset()

    @property
    def failed_words(self) -> str:
        """The dead tests that failed, in words; empty where none did. One that failed at the starter only counts: no
        power on it either before the box has spoken.
        """
        found = [need.words for need in self.failed if need.dead]
        found += [f"{need.words}, at the starter" for need in self.missing if need.dead and need.place in self.at_box]
        return ", ".join(dict.fromkeys(found))

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


def standing(done: Done, subject: Subject, occasion: str, wishes: Wishes = AS_USUAL) -> Standing:
    """Grade every need of the job by the tests and results on record, by kind of test."""
    scheme = subject.winding.lead_scheme
    ohms = [(t, r) for t, r in done.get("winding_resistance", ()) if not t.hot]
    holds = [*done.get("insulation", ()), *done.get("winding_to_winding", ())]
    wanted = needs(scheme, occasion, subject.winding.insulation_test_forbidden, bool(ohms or holds), wishes)
    amps = _by_line(done.get("line_current", ()), line_of, "readings")
    graded: dict[NeedKind, _BySpeed] = {
        NeedKind.VOLTS: _by_line(done.get("supply_voltage", ()), line_pair_of, "line_to_line"),
        NeedKind.AMPS: amps,
        NeedKind.NO_LOAD: amps,
    }
    sets = _by_set(ohms)
    opened = open_groups(ohms, scheme)
    reached = _reached(holds, scheme, opened, dried=occasion == Occasion.WET)
    out: dict[Grade, list[Need]] = {grade: [] for grade in Grade}
    for need in wanted.keys:
        if need.kind is NeedKind.OHMS:
            grade = sets.get((need.together_set, need.points[0]), Grade.NOT_MADE)
        elif need.kind is NeedKind.FRAME:
            grade = min([reached.frame.get(number, Grade.NOT_MADE) for number in need.groups])
            if len(need.points) == 1 and not _held(need.points[0], holds):
                grade = Grade.NOT_MADE
        elif need.kind is NeedKind.OHMMETER:
            grade = _by_ohmmeter(need, holds, scheme)
        elif need.kind is NeedKind.INDEX:
            grade = Grade.PROVEN if need.groups <= reached.index else Grade.NOT_MADE
        elif need.kind is NeedKind.BETWEEN:
            grade = _between_grade(need, reached, scheme)
        else:
            by_speed = graded.get(need.kind, _NONE)
            point = need.points[0] if need.points else ""
            grade = max(by_speed.get((part, point), Grade.NOT_MADE) for part in {need.speed, ""})
        out[grade].append(need)
    made = Standing(
        (*out[Grade.NOT_MADE], *out[Grade.BOX_FIRST]),
        tuple(out[Grade.UNPROVEN]),
        tuple(out[Grade.FAILED]),
        wanted.left_out,
        frozenset(need.place for need in out[Grade.BOX_FIRST]),
    )
    leads = frozenset(lead for number in opened for lead in groups_of(scheme)[number])
    return _with_stops(replace(made, opened=leads) if leads else made, opened)


def _with_stops(made: Standing, opened: frozenset[int]) -> Standing:
    """What may not be asked for is not missing."""
    failed = made.failed_words
    stopped: list[Stopped] = []
    for need in made.missing:
        if not need.dead and need.kind in LIVE and failed:
            stopped.append(Stopped(need, f"failed at {failed}"))
        elif need.kind in (NeedKind.FRAME, NeedKind.INDEX, NeedKind.BETWEEN) and need.groups & opened:
            stopped.append(Stopped(need, OPEN_STOPS))
    if not stopped:
        return made
    places = {one.need.place for one in stopped}
    left = tuple(need for need in made.missing if need.place not in places)
    return replace(made, missing=left, stopped=tuple(stopped))


def open_groups(ohms: Sequence[tuple[ResistanceTest, ResistanceResult]], scheme: str) -> frozenset[int]:
    """Numbers of the groups in which something is open for sure, on a motor that isn't warm. Of a scheme, as
    `groups_of` counts.
    """
    out: set[int] = set()
    for _, result in ohms:
        if any(f.code in OPEN and f.severity is Verdict.ACT for f in result.findings):
            pairs = [pair for pair, ohm in result.ohms.items() if ohm is None]
            out |= {number for pair in pairs for number in groups_touched(pair.split("-"), scheme)}
    return frozenset(out)


_BySpeed = Mapping[tuple[str, str], Grade]
_NONE: _BySpeed = {}
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
) -> dict[tuple[str, str], Grade]:
    """The best grade of each line, or pair of lines, that was read, by the speed it was read at; a test that names none
    counts for each.
    """
    out: dict[tuple[str, str], Grade] = {}
    for test, result in done:
        grade = _graded(result, at_starter=False)
        for name in getattr(test, readings):
            point = canonical(name)
            if point is not None:
                key = (test.hookup.part or "", point)
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


def _reached(
    holds: Sequence[tuple[InsulationTest, InsulationResult]], scheme: str, opened: frozenset[int], dried: bool
) -> _Reached:  # fmt: skip
    """opened: groups in which something is open: a hold of some of their leads says nothing of the others. dried: a
    wet motor is held again after its drying, so that the last one judges.
    """
    parts: dict[int, set[str]] = {}
    failed: set[int] = set()
    frame: dict[int, Grade] = {}
    between: dict[tuple[int, int], Grade] = {}
    worst = _worst_of(holds, dried)
    index: set[int] = set()
    for test, result in holds:
        if result.route != "insulation-tester" or test.scope == "cable":
            continue
        ends = _ends(test, scheme)
        index |= ends if test.to_frame and has_index(test) else frozenset()
        if not result.reached:
            continue
        grade = worst[_same_hold(test)]
        others = groups_touched(test.to, scheme)
        if test.to_frame:
            for number in ends:
                if number in opened and grade is Grade.PROVEN and not _whole(test, scheme, number, parts):
                    continue
                frame[number] = max(frame.get(number, Grade.NOT_MADE), grade)
                failed |= {number} if grade is Grade.FAILED else set()
        for a in ends:
            for b in others - ends:
                pair = (min(a, b), max(a, b))
                between[pair] = max(between.get(pair, Grade.NOT_MADE), grade)
    frame |= dict.fromkeys(failed & opened, Grade.FAILED)  # a part that failed isn't passed by another
    return _Reached(frame, between, frozenset(index))


def _same_hold(test: InsulationTest) -> tuple[object, ...]:
    """What tells holds at one place on the same leads: of those the worst judges."""
    return type(test), test.scope == "motor+cable", test.hookup.part, frozenset(test.ends), frozenset(test.to)


def _worst_of(
    holds: Sequence[tuple[InsulationTest, InsulationResult]], dried: bool
) -> dict[tuple[object, ...], Grade]:  # fmt: skip
    """The worst grade of the holds that reached their mark, of each place and leads: a failed one before an unproven
    one; one by a tester that failed its check judges nothing. dried: the last one judges.
    """
    found: dict[tuple[object, ...], list[Grade]] = {}
    for test, result in holds:
        if result.reached and not test.failed_check:
            found.setdefault(_same_hold(test), []).append(_graded(result, test.scope == "motor+cable"))
    order = (Grade.FAILED, Grade.BOX_FIRST, Grade.UNPROVEN, Grade.PROVEN)
    worst = {same: grades[-1] if dried else min(grades, key=order.index) for same, grades in found.items()}
    return {_same_hold(test): worst.get(_same_hold(test), Grade.UNPROVEN) for test, _ in holds}


def _whole(test: InsulationTest, scheme: str, number: int, parts: dict[int, set[str]]) -> bool:
    """Whether every lead of an open group was held by now, all of them joined or part by part."""
    leads = set(groups_of(scheme)[number])
    parts.setdefault(number, set()).update(leads.intersection(test.ends) if test.ends else leads)
    return parts[number] == leads


def _held(lead: str, holds: Sequence[tuple[InsulationTest, InsulationResult]]) -> bool:
    """Whether one lead was on the tester, by itself or with all others; a hold that names none has them all."""
    reached = (test for test, result in holds if result.reached and test.to_frame and test.scope != "cable")
    return any(not test.ends or lead in test.ends for test in reached)


def _ends(test: InsulationTest, scheme: str) -> frozenset[int]:
    """Groups on the tester. Leads that aren't named are the whole winding only where continuity joins them all."""
    if test.ends:
        return groups_touched(test.ends, scheme)
    groups = groups_of(scheme)
    if len(groups) == 1:
        return frozenset({0})
    named = {"low": 0, "high": 1}.get(test.hookup.part or "")
    return frozenset({named} if scheme == "two-speed-two-winding" and named is not None else ())


def _by_ohmmeter(need: Need, holds: Sequence[tuple[InsulationTest, InsulationResult]], scheme: str) -> Grade:
    """What an ohmmeter, or anything that says more, showed between two sides: it needs no more than to be read."""
    best = Grade.NOT_MADE
    near = groups_touched(need.points, scheme)
    far = groups_touched(need.to, scheme)
    for test, result in holds:
        if test.scope == "cable" or not test.series:
            continue
        ends, others = _ends(test, scheme), groups_touched(test.to, scheme)
        reached = near <= ends and test.to_frame if need.to == ("frame",) else near <= ends and far <= others
        back = need.to != ("frame",) and far <= ends and near <= others
        if reached or back:
            grade = Grade.FAILED if result.verdict is Verdict.ACT else Grade.PROVEN
            best = max(best, Grade.UNPROVEN if test.failed_check else grade)
    return best


def _between_grade(need: Need, reached: _Reached, scheme: str) -> Grade:
    """The least of what its pairs of groups have: each half of a phase against each of the other."""
    first, second = groups_touched(need.points, scheme), groups_touched(need.to, scheme)
    return min(reached.between.get((min(a, b), max(a, b)), Grade.NOT_MADE) for a in first for b in second)
