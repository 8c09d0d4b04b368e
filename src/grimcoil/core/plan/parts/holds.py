"""Holds of a test voltage: each group to frame and between groups, every one followed by its own discharge."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from grimcoil.core.decision.needs import Need, NeedKind
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.parts.dead import place_of, speed_of
from grimcoil.core.plan.steps import Act, Circuit, Input, Slot, Step, Where

TESTER = ("insulation",)
VOLTS = Slot("volts", "Test voltage", "Set the insulation tester", field="voltage", part="volts", functions=TESTER)
# Seconds since voltage on, and whether the mark may be left out. One minute is what every verdict rests on.
MARKS = ((30.0, "30 s", True), (60.0, "1 min", False), (600.0, "10 min", True))


def insulation(brief: Brief) -> tuple[Step, ...]:
    """Each group that continuity joins, against the frame; nothing where the maker forbids."""
    return insulation_at(brief, place_of(brief))


def insulation_at(brief: Brief, where: Where, suffix: str = "") -> tuple[Step, ...]:
    """The same at one place; suffix tells a repeat."""
    return tuple(step for need in brief.needed(NeedKind.FRAME) for step in _hold(brief, need, where, suffix))


def between(brief: Brief) -> tuple[Step, ...]:
    """Each pair of groups that continuity doesn't join."""
    return between_at(brief, place_of(brief))


def between_at(brief: Brief, where: Where, suffix: str = "") -> tuple[Step, ...]:
    """The same at one place; suffix tells a repeat."""
    return tuple(step for need in brief.needed(NeedKind.BETWEEN) for step in _hold(brief, need, where, suffix))


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
    if len(brief.groups) == 1:
        title = "Insulation to frame"
    listed = ", ".join(need.points)
    other = "bare frame" if frame else f"leads {', '.join(need.to)}"
    rest = [lead for lead in brief.leads if lead not in need.points and lead not in need.to]
    earthed = f"; leads {', '.join(rest)} to the frame" if frame and rest else ""
    on = f"Leads {listed} joined on minus, {other} on plus{earthed}. Stand clear, then start"
    name = f"{need.kind.value}.{part}{suffix}"
    hold = Step(
        name, 0, title, where, Circuit.APART,
        (
            Slot("on", "Voltage on", on, Input.CONFIRM, ends=ends, act=Act.APPLY),
            *(_mark(seconds, words, optional, ends) for seconds, words, optional in MARKS),
        ),
        "Nobody touches leads or frame under test. No insulation tester into electronics.",
        tool="Insulation tester", hold=name, kind=need.kind.value, suffix=suffix,
        winding=speed_of(brief, need.points[0]) if frame else "",
    )  # fmt: skip
    return hold, _discharge(name, part, suffix, where, ends, brief)


def _mark(seconds: float, words: str, optional: bool, ends: tuple[str, ...]) -> Slot:
    said = {30.0: "Value at 30 seconds", 60.0: "Value at 1 minute"}.get(seconds, "Value at 10 minutes, or end the hold")
    return Slot(
        f"{seconds:g}", words, said, field="insulation", ends=ends, act=Act.MARK, part=f"{seconds:g}", mark_s=seconds,
        optional=optional, functions=TESTER,
    )  # fmt: skip


def _discharge(
    hold: str, part: str, suffix: str, where: Where, ends: tuple[str, ...], brief: Brief
) -> Step:  # fmt: skip
    key = f"discharge.{part}{suffix}"
    listed = ", ".join(brief.leads)
    return Step(
        key, 0, "Discharge", where, Circuit.APART,
        (
            Slot("off", "Voltage off", "Switch the insulation tester off", Input.CONFIRM, ends=ends, act=Act.REMOVE),
            Slot(
                "short", "Shorted to frame", f"Lay the strap: leads {listed} to the frame", Input.CONFIRM,
                ends=(*brief.leads, "frame"), act=Act.SHORT,
            ),
            Slot(
                "volts", "Volts left", "Volts from the leads to frame: about 0", field="dead_voltage",
                ends=("+".join(brief.leads), "frame"), act=Act.RESIDUAL, functions=("volt-ac",),
            ),
        ),
        "A charged winding can hurt. It stays shorted to frame until the time is up.",
        True, "Voltage tester", hold, suffix=suffix,
    )  # fmt: skip
