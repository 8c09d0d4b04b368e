"""Holds of a test voltage: each group to frame and between groups, every one followed by its own discharge."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from grimcoil.core.choices import Occasion
from grimcoil.core.decision.needs import AT_OHMMETER, Need, NeedKind
from grimcoil.core.decision.needs import by_ohmmeter as by_ohmmeter_needs
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.parts.dead import place_of, speed_of
from grimcoil.core.plan.steps import Act, Circuit, Input, Slot, Step, Where

TESTER = ("insulation",)
VOLTS = Slot("volts", "Test voltage", "Set the insulation tester", field="voltage", part="volts", functions=TESTER)
# Seconds since voltage on. One minute is what every verdict rests on, all others may be left out: the first few make
# the curve, and a value of 10 s alone is a spot value; each whole minute up to ten follows.
MINUTE_S = 60.0
INDEX_S = 30.0  # the ratio that says whether a dried winding is dry
STAND_CLEAR = (
    "Nobody touches leads or frame under test: the case of a motor that fails is live. Frame earthed, not on a"
    " conducting bench. No insulation tester into electronics."
)
# IEEE 43 prefers one phase at a time where the phases can be separated; standard, read second-hand
WEAKER = " One phase at a time, the others earthed, finds more."
MARKS_S = (10.0, 15.0, 30.0, 45.0, MINUTE_S, *(MINUTE_S * i for i in range(2, 11)))


def insulation(brief: Brief) -> tuple[Step, ...]:
    """Each group that continuity joins, against the frame; nothing where the maker forbids."""
    return insulation_at(brief, place_of(brief))


def insulation_at(brief: Brief, where: Where, suffix: str = "") -> tuple[Step, ...]:
    """The same at one place; suffix tells a repeat."""
    if brief.ohmmeter_only:
        return by_ohmmeter(brief, where, suffix)
    needed = brief.needed(NeedKind.FRAME)
    if brief.joined and len(needed) > 1 and not suffix:  # a repeat tells which group it is
        needed = [_all_joined(brief, needed)]
    return tuple(step for need in needed for step in _hold(brief, need, where, suffix))


def part_at(brief: Brief, leads: tuple[str, ...], where: Where) -> tuple[Step, ...]:
    """A part of an open winding against the frame, the rest of its leads earthed."""
    words = f"insulation of {', '.join(leads)} to frame, held 1 minute"
    need = Need(NeedKind.FRAME, f"insulation.{'-'.join(leads)}.60", words, leads, ("frame",))
    return _hold(brief, need, where, "")


def _all_joined(brief: Brief, needed: Sequence[Need]) -> Need:
    sets = frozenset(number for need in needed for number in need.groups)
    words = "insulation of all leads joined to frame, held 1 minute"
    return Need(NeedKind.FRAME, f"insulation.{'-'.join(brief.leads)}.60", words, brief.leads, ("frame",), (), sets)


def between(brief: Brief) -> tuple[Step, ...]:
    """Each pair of groups that continuity doesn't join."""
    return between_at(brief, place_of(brief))


def between_at(brief: Brief, where: Where, suffix: str = "") -> tuple[Step, ...]:
    """The same at one place; suffix tells a repeat."""
    if brief.ohmmeter_only:
        return ()  # read with those to frame
    return tuple(step for need in brief.needed(NeedKind.BETWEEN) for step in _hold(brief, need, where, suffix))


def by_ohmmeter(brief: Brief, where: Where, suffix: str = "") -> tuple[Step, ...]:
    """Each group to frame and to each other by an ordinary ohmmeter: it may be done on any motor, near zero condemns,
    and nothing it shows proves insulation. Its few volts need no discharge.
    """
    asked = by_ohmmeter_needs(brief.scheme) if brief.known else ()
    slots = tuple(
        Slot(
            need.place.removeprefix("insulation.").removesuffix(AT_OHMMETER),
            f"{'–'.join(need.points)} to {'–'.join(need.to)}",
            f"Ohms from lead {brief.lead(need.points[0])} to"
            f" {need.to[0] if need.to == ('frame',) else 'lead ' + brief.lead(need.to[0])},"
            " highest range",
            field="insulation", ends=("+".join(need.points), "+".join(need.to)),
            part=f"{'+'.join(need.points)}/{'+'.join(need.to)}", functions=("ohm", "low-ohm"),
        )
        for need in asked
    )  # fmt: skip
    if not slots:
        return ()
    caution = "A few volts stress nothing: near zero is bad, more proves no insulation."
    return (
        Step(
            f"insulation{suffix}{AT_OHMMETER}", 0, "Insulation by ohmmeter", where, Circuit.APART, slots, caution,
            tool="Ohmmeter", kind="ohmmeter", suffix=f"{suffix}{AT_OHMMETER}",
        ),
    )  # fmt: skip


def with_volts(steps: Sequence[Step]) -> list[Step]:
    """The test voltage is set once, before the first hold; later ones go by it."""
    out, done = [], False
    for step in steps:
        holds = not done and step.does(Act.APPLY)
        out.append(replace(step, slots=(VOLTS, *step.slots)) if holds else step)
        done = done or holds
    return out


def _hold(brief: Brief, need: Need, where: Where, suffix: str) -> tuple[Step, Step]:
    frame = need.kind is NeedKind.FRAME
    near, far = "-".join(need.points), "-".join(need.to)
    part = near if frame else f"{near}.{far}"
    ends = ("+".join(need.points), "+".join(need.to))
    title = f"Insulation {near} to frame" if frame else f"Insulation {near} to {far}"
    together = frame and need.points == brief.leads
    if together:
        title = "Insulation to frame" if len(brief.groups) == 1 else "Insulation to frame, all leads joined"
    listed = brief.listed(need.points)
    other = "bare frame" if frame else f"leads {brief.listed(need.to)}"
    with_it = {lead for group in brief.groups if set(group) & set(need.points) for lead in group}
    rest = [lead for lead in brief.leads if lead not in with_it and lead not in need.to]
    earthed = f"; leads {brief.listed(rest)} to the frame" if frame and rest else ""
    on = (
        f"Join leads {listed} and connect them to − of the tester. Connect {other} to +{earthed}."
        " Stand clear. Switch the test voltage on"
    )
    name = f"{need.kind.value}.{part}{suffix}"
    wanted = {MINUTE_S, *([INDEX_S] if frame and brief.occasion is Occasion.AFTER_DRYING else [])}
    hold = Step(
        name, 0, title, where, Circuit.APART,
        (
            Slot("on", "Voltage on", on, Input.CONFIRM, ends=ends, act=Act.APPLY),
            *(_mark(seconds, ends, seconds in wanted) for seconds in MARKS_S),
        ),
        STAND_CLEAR + (WEAKER if together and len(brief.groups) > 1 else ""),
        tool="Insulation tester", hold=name, kind=need.kind.value, suffix=suffix,
        winding=speed_of(brief, need.points[0]) if frame and not together else "",
    )  # fmt: skip
    return hold, _discharge(name, part, suffix, where, ends, brief)


def _mark(seconds: float, ends: tuple[str, ...], needed: bool) -> Slot:
    minutes = seconds / MINUTE_S
    words = f"{seconds:g} s" if seconds < MINUTE_S else f"{minutes:g} min"
    said = f"Value at {seconds:g} seconds" if seconds < MINUTE_S else f"Value at {minutes:g} minutes, or end the hold"
    return Slot(
        f"{seconds:g}", words, "Value at 1 minute" if seconds == MINUTE_S else said, field="insulation", ends=ends,
        act=Act.MARK, part=f"{seconds:g}", mark_s=seconds, optional=not needed, functions=TESTER,
    )  # fmt: skip


def _discharge(
    hold: str, part: str, suffix: str, where: Where, ends: tuple[str, ...], brief: Brief
) -> Step:  # fmt: skip
    key = f"discharge.{part}{suffix}"
    listed = brief.listed(brief.leads)
    return Step(
        key, 0, "Discharge", where, Circuit.APART,
        (
            Slot("off", "Voltage off", "Switch the insulation tester off", Input.CONFIRM, ends=ends, act=Act.REMOVE),
            Slot(
                "short", "Shorted to frame", f"Connect the shorting strap from leads {listed} to the frame",
                Input.CONFIRM, ends=(*brief.leads, "frame"), act=Act.SHORT,
            ),
            Slot(
                "volts", "Volts DC left",
                "Remove the strap. Measure volts DC from the leads to the frame at once. It must read about 0 V."
                " Connect the strap again",
                field="dead_voltage", ends=("+".join(brief.leads), "frame"), act=Act.RESIDUAL, functions=("volt-dc",),
            ),
        ),
        "A charged winding gives a shock. Leave it shorted to the frame until the timer reaches 0:00.",
        True, "Voltmeter, volts DC", hold, suffix=suffix,
    )  # fmt: skip
