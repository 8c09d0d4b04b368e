"""Steps that come while a job runs, because of what was read. Rules are rows; each says which steps come, after what,
and why. A step that was begun stays, also when what brought it is taken back.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from grimcoil.core.assessment import Assessment, kind_of
from grimcoil.core.choices import Occasion
from grimcoil.core.decision.needs import NeedKind
from grimcoil.core.decision.standing import OPEN, OPEN_STOPS
from grimcoil.core.findings import Verdict
from grimcoil.core.measured import JobRecord
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.parts import alone, dead, holds, safe
from grimcoil.core.plan.recipes import DEAD_PATH, numbered
from grimcoil.core.plan.steps import HELD_AGAIN, OPEN_PARTS, PROOF, Act, Circuit, Plan, Step, Where
from grimcoil.core.points import groups_touched
from grimcoil.core.together import through_cable

BOX, AGAIN = "@motor-box", "#2"
# A winding this much above the air, or this warm, may hold an open protector; common practice without source.
WARM_K, WARM_C = 10.0, 40.0
NO_LONGER = "no longer asked for: what brought it was undone"


@dataclass(frozen=True, slots=True)
class Known:
    """What a rule asks. begun: keys of the steps with an entry; walked: the fault walk has said its word."""

    brief: Brief
    whole: Assessment
    record: JobRecord
    begun: frozenset[str] = frozenset()
    walked: bool = False
    again: Sequence[str] = ()


@dataclass(frozen=True, slots=True)
class Rule:
    """A row. wants: whether it holds; steps: what comes; after: names of the steps it follows, the last one there."""

    key: str
    wants: Callable[[Known], bool]
    steps: Callable[[Known], tuple[Step, ...]]
    after: tuple[str, ...]
    because: str


def _failed_at_starter(known: Known, kind: NeedKind) -> list[tuple[Any, Any]]:
    """Tests of a kind that failed through the cable, with their results."""
    if not known.brief.at_starter:
        return []
    tests = [test for test in known.record.tests if kind_of(test) == kind]
    pairs = zip(tests, known.whole.by_kind.get(kind, ()), strict=True)
    return [(test, result) for test, result in pairs if through_cable(test) and result.verdict is Verdict.ACT]


def _fails(kind: NeedKind) -> Callable[[Known], bool]:
    return lambda known: bool(_failed_at_starter(known, kind))


def _ohms_at_box(known: Known) -> tuple[Step, ...]:
    """The sets that failed, no others: what passed through the cable is cleared with it."""
    failed = _failed_at_starter(known, NeedKind.OHMS)
    sets = [one for _, result in failed for one in result.sets or (result,) if one.verdict is Verdict.ACT]
    wanted = {pair for one in sets for pair in one.ohms}
    return tuple(
        replace(step, slots=tuple(slot for slot in step.slots if slot.part in wanted))
        for step in dead.resistance_at(known.brief, Where.BOX, BOX)
    )


def _held_at_box(known: Known, kind: NeedKind, steps: Sequence[Step]) -> tuple[Step, ...]:
    """Likewise the holds, each with its discharge."""
    scheme = known.brief.scheme
    failed = [
        (groups_touched(test.ends, scheme), groups_touched(test.to, scheme))
        for test, _ in _failed_at_starter(known, kind)
    ]

    def again(step: Step) -> bool:
        marks = (slot for slot in step.slots if slot.act is Act.MARK)
        near, far = (groups_touched(end.split("+"), scheme) for end in next(marks).ends)
        return any(not ends or near | far <= ends | to for ends, to in failed)

    wanted = {step.hold for step in steps if step.does(Act.APPLY) and again(step)}
    return tuple(step for step in steps if step.hold in wanted)


def _open_and_warm(known: Known) -> bool:
    codes = {f.code for result in known.whole.winding_resistance for f in result.findings}
    at = known.record.conditions
    warm, air = at.winding_temperature_c, at.ambient_temperature_c
    if not codes & OPEN or warm is None:
        return False
    return warm >= WARM_C or (air is not None and warm >= air + WARM_K)


def _wet_fails(known: Known) -> bool:
    results = known.whole.insulation
    return known.brief.occasion is Occasion.WET and any(r.verdict.value in ("act", "unproven") for r in results)


def _dead_path(known: Known) -> tuple[Step, ...]:
    brief = known.brief
    parts = list(DEAD_PATH)
    if not brief.known:
        parts.insert(parts.index(dead.temperature) + 1, dead.identify)
    return tuple(holds.with_volts([step for part in parts for step in part(brief)]))


def _opened(brief: Brief) -> tuple[Step, ...]:
    return (*safe.box_proof(brief), *safe.as_found_at(brief, Where.BOX, BOX))


_OHMS, _FRAME, _BETWEEN = "winding_resistance", "insulation", "winding_to_winding"
RULES: tuple[Rule, ...] = (
    Rule(
        "dead-path", lambda k: k.brief.occasion is Occasion.CALL_OUT and (k.walked or _any_dead(k)), _dead_path,
        ("walk",), "troubleshooting left motor or cable, or dead tests were begun",
    ),
    Rule(
        "ohms-at-box", _fails(NeedKind.OHMS), lambda k: (*_opened(k.brief), *_ohms_at_box(k)), (_OHMS,),
        "the ohms failed at the starter: the box tells the motor from its cable",
    ),
    Rule(
        "between-at-box", _fails(NeedKind.BETWEEN),
        lambda k: (
            *_opened(k.brief),
            *_held_at_box(k, NeedKind.BETWEEN, holds.between_at(k.brief, Where.BOX, BOX)),
            *alone.cable_alone(k.brief),
        ),
        (_BETWEEN, "discharge"), "insulation failed at the starter: the box clears the motor or its cable",
    ),
    Rule(
        "insulation-at-box", _fails(NeedKind.FRAME),
        lambda k: (
            *_opened(k.brief),
            *_held_at_box(k, NeedKind.FRAME, holds.insulation_at(k.brief, Where.BOX, BOX)),
            *alone.cable_alone(k.brief),
        ),
        (_FRAME, "discharge"), "insulation failed at the starter: the box clears the motor or its cable",
    ),
    Rule(
        "cool-down", _open_and_warm,
        lambda k: (*dead.cool_down(), *dead.resistance_at(k.brief, dead.place_of(k.brief), AGAIN)),
        (_OHMS,), "an open on a warm motor may be its protector",
    ),
    Rule(
        OPEN_PARTS, lambda k: bool(open_parts(k)),
        lambda k: tuple(step for part in open_parts(k) for step in holds.part_at(k.brief, part, _spot(k))),
        (_FRAME, "discharge"), "the winding is open: each part that can be reached is tested by itself",
    ),
    Rule(
        "rejoin-at-box", lambda k: any(_fails(kind)(k) for kind in (NeedKind.OHMS, NeedKind.BETWEEN, NeedKind.FRAME)),
        lambda k: safe.reconnect_box(k.brief, BOX), ("by_hand", "connection"),
        "its leads were lifted in the motor box too",
    ),
    Rule(
        "drying", _wet_fails,
        lambda k: (*dead.drying(), *holds.insulation_at(k.brief, dead.place_of(k.brief), AGAIN)), (_FRAME, "discharge"),
        "the wet winding failed, or can't be judged yet",
    ),
)  # fmt: skip


def _spot(known: Known) -> Where:
    """Where what comes next is read: the motor box once it was opened for a failure."""
    return Where.BOX if _fails(NeedKind.OHMS)(known) else dead.place_of(known.brief)


def open_parts(known: Known) -> tuple[tuple[str, ...], ...]:
    """What is left of a group that is open: leads that still read through to each other, or one by itself. Empty while
    nothing is open for sure, its open is being looked into, or no insulation tester may be used.
    """
    stopped = [one.need for one in known.whole.stands.stopped if one.because == OPEN_STOPS]
    if known.brief.ohmmeter_only or _open_and_warm(known):
        return ()
    through: set[frozenset[str]] = {
        frozenset(pair.split("-"))
        for result in known.whole.winding_resistance
        for pair, ohm in result.ohms.items()
        if ohm is not None
    }
    out: list[tuple[str, ...]] = []
    for need in stopped:
        if need.kind is NeedKind.FRAME:
            out += parts_of(need.points, through)
    return tuple(dict.fromkeys(out))


def parts_of(leads: Sequence[str], through: Collection[frozenset[str]]) -> list[tuple[str, ...]]:
    """Leads in parts that read through, in the order of the box.

    >>> parts_of(("1", "2", "3"), {frozenset({"2", "3"})})
    [('1',), ('2', '3')]
    """
    part = {lead: {lead} for lead in leads}
    for pair in through:
        joined = set().union(*(part.get(lead, set()) for lead in pair))
        for lead in joined:
            part[lead] = joined
    return list(dict.fromkeys(tuple(lead for lead in leads if lead in part[each]) for each in leads))


def _any_dead(known: Known) -> bool:
    return bool(known.whole.winding_resistance or known.whole.insulation)


def grow(plan: Plan, known: Known) -> Plan:
    """The plan with the steps that are wanted now; the same plan where nothing changes.

    Steps of the recipe stay as they are. A grown step that nothing wants any more goes, unless it was begun: then it
    stays and says so; one whose repeat was read did what it came for and keeps its reason. Each key comes once, by the
    first rule that wants it.
    """
    steps = [_back(step, known.begun) for step in plan.steps if not step.rule]
    standing = {step.key: step for step in plan.steps if step.rule}
    repeats = (step for key, step in standing.items() if step.suffix == AGAIN and key in known.begun)
    repeated = {step.rule for step in repeats if step.rule != HELD_AGAIN}
    wanted: set[str] = set()
    for rule in RULES:
        if not rule.wants(known):
            continue
        here = {step.key for step in steps}
        coming = [
            replace(standing.get(step.key, step), because=rule.because, rule=rule.key)
            for step in rule.steps(known)
            if step.key not in here
        ]
        wanted |= {step.key for step in coming}
        at = _after(steps, rule.after)
        steps[at:at] = coming
    wanted |= _held_again(steps, standing, known.again)
    for key, step in standing.items():
        if key not in wanted and (key in known.begun or _holds_on(step, standing, known.begun)):
            because = step.because if step.rule in repeated else NO_LONGER
            steps.insert(_beside(steps, plan, step), replace(step, because=because))
    grown = numbered(_at_box(steps, known.begun))
    return plan if grown == plan.steps else replace(plan, steps=grown)


AT_BOX = "the motor box is open: what is still to be read dead is read there"
STAYS = (Act.LIFT, Act.CHECK_JOINING, Act.PUT_BACK, Act.JOIN, *PROOF)


def _at_box(steps: Sequence[Step], begun: Collection[str]) -> list[Step]:
    """Once the box took over, every dead step behind it that wasn't begun at the starter is at the box."""
    first = next((i for i, step in enumerate(steps) if step.suffix == BOX), len(steps))
    begun_holds = {step.hold for step in steps if step.hold and step.key in begun}
    return [
        replace(step, where=Where.BOX, because=step.because or AT_BOX)
        if i > first and _moves(step) and step.key not in begun and step.hold not in begun_holds
        else step
        for i, step in enumerate(steps)
    ]


def _moves(step: Step) -> bool:
    return step.where == Where.STARTER and step.circuit is not Circuit.LIVE and not step.does(*STAYS)


def _back(step: Step, begun: Collection[str]) -> Step:
    """A step of the recipe as it was before the box took over; one that was begun there stays."""
    if step.because != AT_BOX or step.key in begun:
        return step
    return replace(step, where=Where.STARTER, because="")


def _held_again(steps: list[Step], standing: dict[str, Step], again: Sequence[str]) -> set[str]:
    """Each hold that is wanted once more, with its discharge, behind the one before it: into the steps, in place."""
    out: set[str] = set()
    for first in dict.fromkeys(again):
        hold = next((step for step in steps if step.key == first), None)
        if hold is None:
            continue
        pair = [step for step in steps if step.hold == hold.hold]
        at = steps.index(pair[-1]) + 1
        for number in range(2, again.count(first) + 2):
            coming = [standing.get(f"{step.key}#{number}", _repeat(step, number)) for step in pair]
            steps[at:at] = coming
            at += len(coming)
            out |= {step.key for step in coming}
    return out


def _repeat(step: Step, number: int) -> Step:
    mark = f"#{number}"
    key = f"{step.key.removesuffix(step.suffix)}{step.suffix}{mark}"
    slots = tuple(slot for slot in step.slots if slot.part != "volts")
    return replace(
        step, key=key, suffix=f"{step.suffix}{mark}", hold=f"{step.hold}{mark}", slots=slots,
        title=f"{step.title}, hold {number}", because="the hold was wanted once more", rule=HELD_AGAIN,
    )  # fmt: skip


def _holds_on(step: Step, standing: dict[str, Step], begun: Collection[str]) -> bool:
    """A discharge stays as long as its hold was begun."""
    return bool(step.hold) and any(other.hold == step.hold and key in begun for key, other in standing.items())


def _after(steps: Sequence[Step], names: Iterable[str]) -> int:
    """Behind the last step of these names that reads the motor itself; a discharge of another kind of hold isn't."""
    wanted = set(names)
    last = 0
    for i, step in enumerate(steps):
        of_hold = step.hold.partition(".")[0] in wanted if step.hold else True
        if step.name in wanted and of_hold:
            last = i + 1
    return last


def _beside(steps: Sequence[Step], plan: Plan, step: Step) -> int:
    """Where it stood: behind the nearest step before it that is still there."""
    keys = {one.key: i for i, one in enumerate(steps)}
    before = [one.key for one in plan.steps[: plan.steps.index(step)]]
    return next((keys[key] + 1 for key in reversed(before) if key in keys), 0)


def begun_of(plan: Plan, places: Iterable[str]) -> frozenset[str]:
    """Keys of the steps that some places belong to."""
    found = (plan.step_of(place) for place in places)
    return frozenset(step.key for step in found if step is not None)
