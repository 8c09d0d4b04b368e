"""Tests of what hangs on a motor, what hands and ears find, and other testers, out of the entries of their steps."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

from grimcoil.core.measured import AccessoryTest, BrakeTest, CapacitorTest, ShaftTest, Test
from grimcoil.core.plan.entries import Given
from grimcoil.core.plan.parts.aside import CAPACITOR, SINGLE, SWITCH
from grimcoil.core.plan.parts.dead import DISC, OPENS, TURNS
from grimcoil.core.plan.parts.live import HOLDS, LIFTS, WAYS
from grimcoil.core.plan.steps import Step
from grimcoil.core.readings import Reading
from grimcoil.core.side.single_phase import (
    CapacitorOhmsTest,
    CentrifugalSwitchTest,
    RotationTest,
    SinglePhaseTest,
)
from grimcoil.core.side.starting import AutotransformerTest, StarDeltaTest, StartsTest
from grimcoil.core.side.wear import (
    OBSERVATIONS,
    BrakeDiscTest,
    BrushesTest,
    GreaseTest,
    ObservationTest,
    SurgeTest,
    VibrationTest,
)

Tests = Iterable[tuple[str, Test]]
FULL = 100.0  # %


def _accessories(given: Given, step: Step) -> Tests:
    read: dict[tuple[str, str], dict[str, Reading]] = {}
    for part, reading in given.readings(step).items():
        what, name, side = part.split("/")
        read.setdefault((what, name), {})[side] = reading
    for slot, place in zip(step.slots, step.places, strict=True):
        if slot.part.endswith("/opens") and given.said(place) is not None:  # said without its ohms
            read.setdefault((SWITCH, slot.part.split("/")[1]), {})
    for (what, name), sides in read.items():
        own, frame = sides.get("own"), sides.pop("frame", None)
        if what in APARTS:
            if made := APARTS[what](given, f"{step.key}.{name}", sides):
                yield name, made
            if frame is not None:
                yield name, AccessoryTest(what, None, frame)
        elif what == "brake":
            yield name, BrakeTest(own, frame)
        else:
            yield name, AccessoryTest(what, own, frame, given.conditions.winding_temperature_c)


Sides = Mapping[str, Reading]


def _capacitor(_: Given, __: str, sides: Sides) -> Test | None:
    if {"start", "end"} & set(sides):
        return CapacitorOhmsTest(sides.get("start"), sides.get("end"))
    return None


def _switch(given: Given, at: str, sides: Sides) -> Test | None:
    said = given.said(f"{at}.opens")
    if said is None and not sides:
        return None
    return CentrifugalSwitchTest(sides.get("own"), None if said is None else said == OPENS[0])


def _single_phase(_: Given, __: str, sides: Sides) -> Test | None:
    return SinglePhaseTest(sides) if sides else None


# What hangs on a motor and has a side sheet of its own.
APARTS: dict[str, Callable[[Given, str, Sides], Test | None]] = {
    CAPACITOR: _capacitor,
    SWITCH: _switch,
    SINGLE: _single_phase,
}


def _by_hand(given: Given, step: Step) -> Tests:
    """Shaft, brake's disc and brushes by what was measured; of the words seen those that suggest what is next."""
    said = next((given.kept.standing.get(step.place(slot)) for slot in step.slots if slot.part == "turns"), None)
    if said is not None and said.text in TURNS:
        yield "", ShaftTest(said.text)
    sets: dict[str, dict[str, float]] = {}
    for part, reading in given.readings(step).items():
        name, _, what = part.partition("/")
        sets.setdefault(name, {})[what] = reading.amount.value
    for name, read in sets.items():
        if name == DISC:
            yield name, BrakeDiscTest(read.get("thickness"), read.get("least") or None)  # 0 is no limit
        else:
            yield name, BrushesTest(read.pop("new", None) or None, read)
    seen = given.kept.standing.get(f"{step.key}.seen")
    known = [
        word for part in (seen.text.split(";") if seen else ()) if (word := part.strip().casefold()) in OBSERVATIONS
    ]
    if known:
        yield "seen", ObservationTest(tuple(dict.fromkeys(known)))


def _capacitors(given: Given, step: Step) -> Tests:
    read: dict[str, dict[str, Reading]] = {}
    for part, reading in given.readings(step).items():
        name, what = part.split("/")
        read.setdefault(name, {})[what] = reading
    for name, sides in read.items():
        if {"volts", "amps"} & set(sides):  # a marking alone is no test
            hertz, marked = (None if one is None else one.amount.value for one in map(sides.get, ("hertz", "marked")))
            yield (
                name,
                CapacitorTest(sides.get("amps"), sides.get("volts"), hertz or None, 1e6 * marked if marked else None),
            )


def _brake(given: Given, step: Step) -> Tests:
    lifts, holds = (given.said(f"{step.key}.{name}") for name in ("lifts", "holds"))
    if lifts in LIFTS or holds in HOLDS:
        yield "", BrakeTest(lifts=None if lifts is None else lifts == LIFTS[0],
                            holds=None if holds is None else holds == HOLDS[0])  # fmt: skip


def _surge(given: Given, step: Step) -> Tests:
    peak, apart = (given.kept.figure(f"{step.key}.{key}") for key in ("peak", "apart"))
    result = given.said(f"{step.key}.result")
    if (result, peak, apart) != (None, None, None):
        yield "", SurgeTest(result, peak or None, apart)


def _rotation(given: Given, step: Step) -> Tests:
    if (turns := given.said(f"{step.key}.turns")) is not None:
        yield "", RotationTest(WAYS[0], turns, coupled=False)


def _sparking(given: Given, step: Step) -> Tests:
    if (seen := given.said(f"{step.key}.seen")) is not None:
        yield "", ObservationTest((seen,))


def _starter(given: Given, step: Step) -> Tests:
    read = {part: reading.amount.value or None for part, reading in given.readings(step).items()}  # 0 is no figure
    if read.keys() & {"timer_s", "line_a_star", "line_a_delta"}:
        star = (read.get(name) for name in ("timer_s", "run_up_s", "line_a_star", "line_a_delta"))
        yield "star-delta", StarDeltaTest(*star)
    if read.keys() & {"tap", "full_voltage_a"}:
        tap = read.get("tap")
        yield (
            "autotransformer",
            AutotransformerTest(tap if tap is None or tap <= FULL else None, read.get("full_voltage_a")),
        )
    if read.keys() & {"per_hour", "run_up_s"}:
        yield "starts", StartsTest(read.get("per_hour"), read.get("run_up_s"))


def _grease(given: Given, step: Step) -> Tests:
    sides: dict[str, dict[str, float]] = {}
    for part, reading in given.readings(step).items():
        side, key = part.split("/")
        sides.setdefault(side, {})[key] = reading.amount.value
    for side, read in sides.items():
        yield side, GreaseTest(read.get("outside") or None, read.get("width") or None)


def _vibration(given: Given, step: Step) -> Tests:
    if (heard := given.said(f"{step.key}.heard")) is not None:
        yield "", VibrationTest((heard,))


# A kind of step -> the tests its entries make.
BESIDE: dict[str, Callable[[Given, Step], Tests]] = {
    "accessory": _accessories,
    "shaft": _by_hand,
    "capacitor": _capacitors,
    "surge": _surge,
    "rotation": _rotation,
    "vibration": _vibration,
    "sparking": _sparking,
    "starter": _starter,
    "grease": _grease,
    "brake": _brake,
}
