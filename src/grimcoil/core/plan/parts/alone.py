"""Parts of what hangs between starter and motor, each by itself: the cable, its cores looped, the terminal block."""

from __future__ import annotations

from collections.abc import Iterable

from grimcoil.core.choices import Occasion
from grimcoil.core.plan.brief import CABLE, TERMINAL_BLOCK, Brief
from grimcoil.core.plan.parts.aside import OHMS
from grimcoil.core.plan.steps import Circuit, Input, Slot, Step, Where

CORES, STUDS = ("U", "V", "W"), ("1", "2", "3")
LOOPS, BLOCK = "cable_loops", "terminal_block"
PUT_APART = "apart again"


def cable_alone(brief: Brief) -> tuple[Step, ...]:
    """The cable by itself, both ends apart: core to core and each to earth."""
    caution = "Disconnect both cable ends. Keep people away from them. Short each core to earth after its reading."
    slots = tuple(_apart(CORES, "core"))
    return (
        Step("cable", 0, "Cable alone", Where.CABLE, Circuit.APART, slots, caution, tool=_tester(brief), kind="cable"),
    )  # fmt: skip


def cable_wished(brief: Brief) -> tuple[Step, ...]:
    """The cable by itself by choice: insulation with its ends apart, then its cores looped by the far ends joined."""
    if CABLE not in brief.taking or brief.occasion is Occasion.DEAD_ONLY:
        return ()
    loops = tuple(
        Slot(
            f"{a}-{b}", f"{a}–{b}", f"Ohms from core {a} to core {b}, the far ends joined", field="winding",
            ends=(a, b), part=f"{a}-{b}", optional=True, functions=OHMS,
        )
        for a, b in _pairs(CORES)
    )  # fmt: skip
    apart = Slot("apart", "Far ends", "Take the far ends apart again", Input.CONFIRM, choices=(PUT_APART,))
    caution = "Join the three cores at the far end, bare and tight. Two readings out of line name the core they share."
    looped = Step(
        LOOPS, 0, "Cable, far ends joined", Where.CABLE, Circuit.APART, (*loops, apart), caution, tool="Ohmmeter",
        kind="cable",
    )  # fmt: skip
    return (looped,) if brief.wishes.no_tester else (*cable_alone(brief), looped)


def terminal_block(brief: Brief) -> tuple[Step, ...]:
    """The block by itself, everything off it: stud to stud and each to earth. An ohmmeter proves nothing there."""
    if TERMINAL_BLOCK not in brief.taking or brief.wishes.no_tester:
        return ()
    caution = (
        "Take motor leads, feed and links off the block. Look for tracks, damp and dust; clean and dry it before you"
        " blame the motor. Short each stud to earth after its reading."
    )
    slots = tuple(_apart(STUDS, "stud"))
    return (
        Step(
            BLOCK, 0, "Terminal block alone", Where.BOX, Circuit.APART, slots, caution, tool=_tester(brief),
            kind="cable",
        ),
    )  # fmt: skip


def _tester(brief: Brief) -> str:
    return f"Insulation tester{f', {brief.test_voltage_v:g} V' if brief.test_voltage_v else ''}"


def _pairs(three: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
    return tuple(zip(three, (*three[1:], three[0]), strict=True))


def _apart(three: tuple[str, ...], what: str) -> Iterable[Slot]:
    """Insulation between each two and of each to earth."""
    for a, b in _pairs(three):
        yield Slot(
            f"{a}-{b}", f"{a}–{b}", f"Insulation from {what} {a} to {what} {b}", field="insulation", ends=(a, b),
            part=f"{a}-{b}", optional=True, functions=("insulation",),
        )  # fmt: skip
    for a in three:
        yield Slot(
            f"{a}-E", f"{a}–earth", f"Insulation from {what} {a} to earth", field="insulation", ends=(a, "E"),
            part=f"{a}-E", optional=True, functions=("insulation",),
        )  # fmt: skip
