"""Put back, proved: each lead against the place it was found on, and what a difference does to the motor."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

from grimcoil.core.errors import Refusal
from grimcoil.core.findings import Finding, Verdict, act, sound, watch, worst
from grimcoil.core.plan.entries import NOT_READ, Kept
from grimcoil.core.plan.parts.safe import JOINT_STATE
from grimcoil.core.plan.steps import Act, Plan, Step
from grimcoil.core.points import groups_of
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.core.subject import Subject

On = Mapping[str, str]
# How a line's terminal is marked: L1, T1, 1T1, U, U1, 1U1, core 1; common practice without source.
_NUMBERED = re.compile(r"(?:[12]?[lt]|line ?|core ?|terminal ?)([123])")
_LETTERED = re.compile(r"[12]?([uvw])[12]?")
# A mark with a number before or behind tells a winding or an end from its twin: U1 isn't U2, 1T1 isn't 2T1.
_ALONE = re.compile(r"(?:t|terminal ?)([123])|[uvw]")
BACKWARDS = "Two leads are exchanged: the motor turns the other way."


@dataclass(frozen=True, slots=True)
class Difference:
    """A lead that doesn't lie where it was found."""

    lead: str
    found: str
    left: str

    @property
    def words(self) -> str:
        """`lead 1 on T2, found on T1`."""
        return f"lead {self.lead} on {self.left}, found on {self.found}"


def plain(text: str) -> str:
    """A terminal's mark without what doesn't tell it from another.

    >>> plain(" T1 "), plain("Joint  A")
    ('t1', 'joint a')
    """
    return " ".join(text.casefold().split())


def line_number(text: str) -> int | None:
    """Which line a terminal leads to; None for a joint, or a mark that says nothing of it.

    >>> line_number("1T2"), line_number("W1"), line_number("joint a")
    (2, 3, None)
    """
    mark = plain(text)
    if (numbered := _NUMBERED.fullmatch(mark)) is not None:
        return int(numbered[1])
    lettered = _LETTERED.fullmatch(mark)
    return None if lettered is None else "uvw".index(lettered[1]) + 1


def found_on(plan: Plan, kept: Kept, step: Step) -> On:
    """What each lead was on when it was lifted at this step's place, by lead."""
    lifted = [each for each in plan.steps if each.does(Act.LIFT) and each.suffix == step.suffix]
    return _told(kept, lifted[-1], Act.LIFT) if lifted else {}


def left_on(kept: Kept, step: Step) -> On:
    """What each lead was put back on, by lead."""
    return _told(kept, step, Act.PUT_BACK)


def _told(kept: Kept, step: Step, act: Act) -> On:
    places = ((slot.ends[0], step.place(slot)) for slot in step.slots if slot.act is act and slot.ends)
    said = ((lead, kept.standing.get(place)) for lead, place in places)
    return {lead: entry.text for lead, entry in said if entry is not None and entry.text != NOT_READ}


def joints_seen(plan: Plan, kept: Kept) -> list[str]:
    """The state of the joints at each place where leads were lifted, where it was said."""
    places = (
        step.place(slot) for step in plan.steps if step.does(Act.LIFT) for slot in step.slots if slot.key == JOINT_STATE
    )
    said = (kept.standing.get(place) for place in places)
    return [entry.text for entry in said if entry is not None and entry.text != NOT_READ]


def differences(found: On, left: On) -> list[Difference]:
    """Leads that lie otherwise than they were found; those of which either isn't told aren't among them."""
    both = [lead for lead in left if lead in found]
    return [Difference(lead, found[lead], left[lead]) for lead in both if place_of(found[lead]) != place_of(left[lead])]


def place_of(text: str) -> str | int:
    """One place however it is marked: T1 and U are one terminal. L1 is its line side, and U1 isn't U2.

    >>> place_of("U") == place_of("T1"), place_of("L1"), place_of("U2")
    (True, 'l1', 'u2')
    """
    number = line_number(text) if _ALONE.fullmatch(plain(text)) else None
    return plain(text) if number is None else number


def effect(found: On, left: On, subject: Subject) -> list[Finding]:
    """What the motor does where its leads lie otherwise, solved for its own scheme and supply where they are on record.
    Empty where nothing differs. (node potentials of the joined coils, computed)
    """
    changed = differences(found, left)
    if not changed:
        return []
    told = "; ".join(one.words for one in changed)
    solved = _solved(left, subject) if len(left) == len(_leads(subject)) else None
    turned = _turned(found, left)
    out = [act("rotation-wrong", f"{BACKWARDS[:-1]} ({told}).")] if turned else []
    if solved is not None:
        out += [one for one in solved if one.severity is not Verdict.SOUND]
    if not out and turned is False and _order(found) != _order(left):
        return [sound("right", f"It turns the same way: the lines are moved on by one ({told}).")]
    return out or [watch("pairs-contradict", f"Not as found: {told}. Say why, or put it back.")]


def _leads(subject: Subject) -> set[str]:
    return {lead for group in groups_of(subject.winding.lead_scheme) for lead in group}


def _turned(found: On, left: On) -> bool | None:
    """Whether the leads on the three lines are exchanged an odd number of times; None where that isn't told by them."""
    before, after = _order(found), _order(left)
    if set(before) != set(after) or sorted(before.values()) != [1, 2, 3] or sorted(after.values()) != [1, 2, 3]:
        return None
    order = [after[lead] for lead, _ in sorted(before.items(), key=lambda item: item[1])]
    return sum(a > b for i, a in enumerate(order) for b in order[i + 1 :]) % 2 == 1


def _order(on: On) -> dict[str, int]:
    return {lead: line for lead, text in on.items() if (line := line_number(text)) is not None}


def _solved(left: On, subject: Subject) -> list[Finding] | None:
    """Volts across every coil of the joining as it lies; None where plate, supply or a mark doesn't tell it."""
    from grimcoil.core.stator.connect import Supply, Wiring, judge_connection  # loads numpy, which most jobs don't need
    from grimcoil.core.stator.reconnect import rated_of

    scheme, volts = subject.winding.lead_scheme, subject.system_voltage_v
    if scheme not in SCHEMES or not volts or not subject.plate.rated_voltage_v:
        return None
    lines: tuple[list[str], list[str], list[str]] = ([], [], [])
    joints: dict[str, list[str]] = {}
    for lead, text in left.items():
        number = line_number(text)
        (lines[number - 1] if number is not None else joints.setdefault(plain(text), [])).append(lead)
    wiring = Wiring(tuple(tuple(one) for one in lines), tuple(tuple(one) for one in joints.values() if len(one) > 1))
    try:
        result = judge_connection(scheme, rated_of(subject), Supply((volts, volts, volts)), wiring)
    except Refusal:
        return None
    findings = [one for one in result.findings if one.code != "ambiguous-rating"]
    return findings if worst(one.severity for one in findings) is not Verdict.UNPROVEN else []
