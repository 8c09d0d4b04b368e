"""Parts on the live motor, and the end of a job."""

from __future__ import annotations

from dataclasses import replace

from grimcoil.core.choices import SupplySystem
from grimcoil.core.plan.brief import AS_RUNNING, LEAD_ROLL, RUNNING_OPEN, Brief
from grimcoil.core.plan.parts import aside, safe
from grimcoil.core.plan.steps import RUNNING, Act, Circuit, Input, Slot, Step, Where
from grimcoil.core.points import LINE_PAIRS, LINES

EARTHED = frozenset({SupplySystem.WYE_EARTHED, SupplySystem.CORNER_EARTHED, SupplySystem.HIGH_LEG})
WAYS = ("right way", "wrong way")
SPEED = "speed"
LIFTS = ("lifts", "drags or stays on")
HOLDS = ("holds", "slips")
LIVE_WORK = "Live work: only by those qualified, under your site's rules."


def running(brief: Brief) -> tuple[Step, ...]:
    """Volts, then settled amps; a motor of two speeds at the low one first."""
    steps = (step for speed in brief.speeds for step in (supply_at(brief, speed), current_at(brief, speed)))
    return tuple(step for step in steps if not brief.wishes.no_clamp or step.kind != "line_current")


OPENED = "In an opened box: arc-rated gear, one hand, its own permit; nothing is lifted or tightened. "


def as_running(brief: Brief) -> tuple[Step, ...]:
    """What is read before it is switched off, since a restart clears many a fault: volts and amps at the starter, the
    frame; drops and the volts at the motor's box only where that was chosen. All of it may be left out.
    """
    steps: list[tuple[Step, str, str]] = []
    if AS_RUNNING in brief.taking:
        steps += [(supply_at(brief, ""), RUNNING, ""), (_frame_temperature(), RUNNING, "")]
        steps[1:1] = [] if brief.wishes.no_clamp else [(current_at(brief, ""), RUNNING, "")]
    if RUNNING_OPEN in brief.taking:
        at_box = replace(supply_at(brief, ""), where=Where.BOX, title="Volts at the motor box")
        steps += [(_contact_drop(), RUNNING, OPENED), (at_box, f"{RUNNING}-box", OPENED)]
    return tuple(_before(*one) for one in steps)


def _before(step: Step, suffix: str, caution: str) -> Step:
    slots = tuple(
        replace(
            slot, act=Act.AS_RUNNING if slot.input is Input.READING else Act.NONE, optional=True, waited=True,
            ask=slot.ask.removesuffix(", motor running"),
        )
        for slot in step.slots
    )  # fmt: skip
    return replace(
        step, key=f"{step.key}{suffix}", suffix=suffix, slots=slots, title=f"As it runs: {_small(step.title)}",
        caution=f"{caution}{step.caution}",
    )  # fmt: skip


def _small(title: str) -> str:
    return title[0].lower() + title[1:]


def uncoupled(brief: Brief) -> tuple[Step, ...]:
    """The same without load: the baseline of later ones."""
    steps = (step for speed in brief.speeds for step in (supply_at(brief, speed), uncoupled_at(brief, speed)))
    return tuple(step for step in steps if not brief.wishes.no_clamp or step.kind != "uncoupled_run")


def _at_speed(step: Step, speed: str) -> Step:
    if not speed:
        return step
    key, suffix = f"{step.key}@{speed}", f"@{speed}"
    caution = f"Running at {speed} speed. {step.caution}"
    return replace(
        step, key=key, suffix=suffix, winding=speed, title=f"{step.title}, {speed} speed", caution=caution
    )  # fmt: skip


def supply_at(brief: Brief, speed: str) -> Step:
    """Volts between lines while it runs, and to earth where the supply's system is declared."""
    slots = [
        Slot(
            pair, pair.replace("-", "–"), "Volts {} to {}, motor running".format(*pair.split("-")), field="voltage",
            ends=tuple(pair.split("-")), act=Act.LIVE_READING, part=pair, functions=("volt-ac",),
        )
        for pair in LINE_PAIRS
    ]  # fmt: skip
    if brief.system in EARTHED:
        slots += [
            Slot(
                line, f"{line}–earth", f"Volts {line} to earth", field="voltage", ends=(line, "E"),
                act=Act.LIVE_READING, part=line, optional=True, functions=("volt-ac",), waited=True,
            )
            for line in LINES
        ]  # fmt: skip
    step = Step(
        "supply_voltage", 0, "Supply volts", Where.STARTER, Circuit.LIVE, tuple(slots), LIVE_WORK, False,
        "Voltmeter", kind="supply_voltage",
    )  # fmt: skip
    return _at_speed(step, speed)


def _amps(line: str, how: str) -> Slot:
    ask = f"{how} amps in {line}, one conductor in the clamp"
    return Slot(
        line, line, ask, field="current", ends=(line,), act=Act.LIVE_READING, part=line, functions=("amp-clamp",)
    )


BRAKE = "brake"


def _brake_amps(brief: Brief) -> tuple[Slot, ...]:
    """What the brake takes by itself, which is taken off the lines that feed it; only where they are on record."""
    if not brief.brake_lines:
        return ()
    ask = (
        f"Amps of the brake: one conductor of its own feed from {brief.brake_lines.replace('-', ' and ')} in the clamp"
    )
    return (
        Slot(
            BRAKE, "Brake", ask, field="current", act=Act.LIVE_READING, part=f"{BRAKE}/{brief.brake_lines}",
            functions=("amp-clamp",), optional=True,
        ),
    )  # fmt: skip


def current_at(brief: Brief, speed: str) -> Step:
    """Settled amps of each line."""
    slots = (*(_amps(line, "Settled") for line in LINES), *_brake_amps(brief))
    caution = f"{LIVE_WORK} One conductor at a time, settled value, rated clamp."
    if brief.brake_on_lines:
        which = brief.brake_lines.replace("-", " and ") or "two of these lines"
        caution = f"{caution} The brake is fed from {which}: they carry its current too."
    step = Step(
        "line_current", 0, "Line currents", Where.STARTER, Circuit.LIVE, slots, caution, False, "Clamp meter",
        kind="line_current",
    )  # fmt: skip
    return _at_speed(step, speed)


def brake(brief: Brief) -> tuple[Step, ...]:
    """Whether the brake lifts as it starts, and holds as it stops; only where one is on record."""
    if not brief.brake:
        return ()
    lifts = Slot("lifts", "Lifts", "At the start: does the brake lift at once, without rubbing", Input.CHOICE,
                 act=Act.LIVE_READING, choices=LIFTS, part="lifts")  # fmt: skip
    holds = Slot("holds", "Holds", "Stopped: does the brake hold the load where it stands", Input.CHOICE,
                 act=Act.LIVE_READING, choices=HOLDS, part="holds")  # fmt: skip
    caution = "Nobody under the load, nobody in its way. Keep clear of the shaft. The motor could start by itself."
    return (
        Step("brake", 0, "Brake", Where.SHAFT, Circuit.LIVE, (lifts, holds), caution, False, "", kind="brake"),
    )  # fmt: skip


def rotation(_: Brief) -> tuple[Step, ...]:
    """Which way it turns, before it is coupled."""
    slots = (
        Slot(
            "turns", "Turns", "With the motor uncoupled, start it briefly. Does it turn as the arrow shows",
            Input.CHOICE, act=Act.LIVE_READING, choices=WAYS,
        ),
    )  # fmt: skip
    caution = "Guards on, people clear. Backwards wrecks some pumps, backstops and compressors."
    return (Step("rotation", 0, "Rotation", Where.SHAFT, Circuit.LIVE, slots, caution, kind="rotation"),)


def uncoupled_at(_: Brief, speed: str) -> Step:
    """Amps without load."""
    turns = Slot(
        "speed", "Speed", "Speed of the shaft, uncoupled, where a tachometer is at hand", field="speed",
        act=Act.LIVE_READING, part=SPEED, optional=True,
    )  # fmt: skip
    slots = (*(_amps(line, "Uncoupled, settled") for line in LINES), turns)
    step = Step(
        "uncoupled_run", 0, "Uncoupled run", Where.STARTER, Circuit.LIVE, slots, LIVE_WORK, False, "Clamp meter",
        kind="uncoupled_run",
    )  # fmt: skip
    return _at_speed(step, speed)


def extras(brief: Brief) -> tuple[Step, ...]:
    """What is wanted of the running motor beside its volts and amps."""
    made = {"contact_drop": _contact_drop, "frame_temperature": _frame_temperature}
    own = tuple(made[name]() for name in made if name in brief.taking)
    return (
        *brake(brief),
        *own,
        *aside.vibration(brief),
        *aside.sparking(brief),
        *aside.starter(brief),
        *aside.capacitor_live(brief),
    )


# The first roll is the motor as it is joined; then all three leads move on by one terminal, twice. Rotation stays.
FIRST = {"L1": "1", "L2": "2", "L3": "3"}
ROLLS = {"#2": {"L1": "3", "L2": "1", "L3": "2"}, "#3": {"L1": "2", "L2": "3", "L3": "1"}}


def lead_roll(brief: Brief) -> tuple[Step, ...]:
    """Whether an odd current stays on its line or travels with its lead: two further isolations at the motor box, each
    with its own lock and proof, the leads moved on by one, and the amps of each line again.
    """
    if LEAD_ROLL not in brief.taking:
        return ()
    return tuple(step for suffix in ROLLS for step in _rolled(brief, suffix))


def _rolled(brief: Brief, suffix: str) -> tuple[Step, ...]:
    turn = suffix.removeprefix("#")
    lies = ", ".join(f"{line} takes lead {lead}" for line, lead in ROLLS[suffix].items())
    ask = f"All three move on by one: {lies}, numbered as they were at first"
    shift = Step(
        f"lead_roll.shift{suffix}", 0, f"Roll {turn}: shift the leads", Where.BOX, Circuit.DEAD,
        (Slot("shifted", "Leads shifted", ask, Input.CONFIRM),),
        "Move all three leads on by one terminal. Swapping only two reverses the motor.", suffix=suffix,
    )  # fmt: skip
    read = Step(
        f"lead_roll{suffix}", 0, f"Roll {turn}: line currents", Where.STARTER, Circuit.LIVE,
        tuple(_amps(line, "Settled") for line in LINES), f"{LIVE_WORK} Same load as before.", False, "Clamp meter",
        kind="lead_roll", suffix=suffix,
    )  # fmt: skip
    return (*safe.again(brief, suffix), shift, *safe.restore_after(suffix), read)


def _contact_drop() -> Step:
    slots = tuple(
        Slot(
            line, f"Pole of {line}", f"Volts across the closed pole of {line}, line side to load side, under load",
            field="drop", ends=(line,), act=Act.LIVE_READING, part=line, optional=True, functions=("volt-ac",),
        )
        for line in LINES
    )  # fmt: skip
    caution = f"{LIVE_WORK} Contact drop is read in the open panel under load: its own permit, fused leads."
    return Step(
        "contact_drop", 0, "Contact drop", Where.STARTER, Circuit.LIVE, slots, caution, False, "Voltmeter",
        kind="contact_drop",
    )  # fmt: skip


def _frame_temperature() -> Step:
    slots = (
        Slot(
            "reading", "Frame", "At the marked spot, after steady work", field="temperature", act=Act.LIVE_READING,
            part="frame", optional=True,
        ),
        Slot("spot", "Spot", "Where on the frame", Input.WORDS, optional=True, waited=True),
    )  # fmt: skip
    caution = "Guards stay on; mind the shaft and hot metal."
    return Step(
        "frame_temperature", 0, "Frame temperature", Where.SHAFT, Circuit.LIVE, slots, caution, False, "Thermometer",
        kind="frame_temperature",
    )  # fmt: skip


def walk(_: Brief) -> tuple[Step, ...]:
    """A call-out begins with the symptom."""
    ask = "What it does, and what troubleshooting found so far"
    slots = (Slot("told", "Fault walk", ask, Input.WORDS),)
    return (Step("walk", 0, "Fault walk", Where.STARTER, Circuit.LIVE, slots, LIVE_WORK),)


def close(_: Brief) -> tuple[Step, ...]:
    """Decide and sign."""
    return (Step("decision", 0, "Decision", "", Circuit.LIVE), Step("sign", 0, "Sign", "", Circuit.LIVE))
