"""Parts on the dead motor: instruments, temperature, continuity, ohms, accessories, by hand, cable, cooling."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

from grimcoil.core.choices import LeadScheme
from grimcoil.core.decision.needs import NeedKind
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.parts import aside
from grimcoil.core.plan.parts.aside import BRUSHES, CAPACITOR, OHMS, SINGLE, SWITCH, named
from grimcoil.core.plan.steps import Circuit, Input, Slot, Step, Where
from grimcoil.core.side.wear import BRUSH_GEAR, OBSERVATIONS
from grimcoil.core.wishes import FirstTest

WARM, AIR, HUMID = "winding_temperature_c", "ambient_temperature_c", "relative_humidity_percent"
CONTINUITY = "continuity"
TURNS = ("free", "stiff", "jammed")
CHARGE = "volts"
DISC, NEW = "disc", "new"
RUNNING = ("quieter after greasing", "hotter housing")
SEEN = tuple(word for word in OBSERVATIONS if word not in RUNNING and word not in BRUSH_GEAR)  # on a motor at rest
OPENS = ("opens", "stays closed")
UNTESTED = frozenset({"encoder"})


def place_of(brief: Brief) -> Where:
    """Where the dead tests are made."""
    return Where.STARTER if brief.at_starter else Where.BOX


def instrument_check(brief: Brief) -> tuple[Step, ...]:
    """Leads shorted and apart."""
    tester = ("insulation",)
    slots: tuple[Slot, ...] = (
        Slot(
            "leads-shorted", "Ohm leads shorted", "Clip the ohmmeter's leads together: about 0", field="low_ohm",
            part="lead_resistance", functions=OHMS,
        ),
        Slot("leads-apart", "Ohm leads apart", "Hold them apart: over range", field="low_ohm", functions=OHMS),
        Slot(
            "insulation-shorted", "Insulation tester shorted", "Short the insulation tester's leads: about 0",
            field="low_ohm", functions=tester,
        ),
    )  # fmt: skip
    if brief.insulation_test_forbidden or brief.ohmmeter_only:
        slots = slots[:2]
    tool = "Ohmmeter and insulation tester" if len(slots) > 2 else "Ohmmeter"
    return (Step("instrument_check", 0, "Instrument check", place_of(brief), Circuit.APART, slots, tool=tool),)


def temperature(_: Brief) -> tuple[Step, ...]:
    """Winding, air, humidity."""
    slots = (
        Slot(
            "winding",
            "Winding",
            "Winding temperature, or the frame's if it stood over night",
            field="temperature",
            part=WARM,
        ),
        Slot("ambient", "Air", "Air round the motor", field="temperature", part=AIR, optional=True),
        Slot("humidity", "Humidity", "Relative humidity", field="humidity", part=HUMID, optional=True),
    )
    return (Step("temperature", 0, "Temperature", Where.BOX, Circuit.APART, slots, tool="Thermometer"),)


def continuity(brief: Brief) -> tuple[Step, ...]:
    """Whether each group reads through, winding by winding, where there are several; the ohms of three leads show it by
    themselves, unless insulation comes first.
    """
    if len(brief.groups) < 2 and brief.wishes.first_test is not FirstTest.INSULATION:
        return ()
    pairs = [pair for group in brief.groups for pair in pairwise(group)]
    slots = tuple(
        Slot(
            f"{a}-{b}", brief.pair(f"{a}-{b}"),
            f"Beep, no beep, or ohms from lead {brief.lead(a)} to lead {brief.lead(b)}", field="winding", ends=(a, b),
            functions=OHMS,
        )
        for a, b in pairs
    )  # fmt: skip
    caution = "An open circuit on a warm motor can be its thermal protector. Let the motor cool. Then measure again."
    return (Step("continuity", 0, "Continuity", place_of(brief), Circuit.APART, slots, caution, tool="Ohmmeter"),)


def resistance(brief: Brief) -> tuple[Step, ...]:
    """The pairs that the verdict needs."""
    return resistance_at(brief, place_of(brief))


def resistance_at(brief: Brief, where: Where, suffix: str = "") -> tuple[Step, ...]:
    """The same at one place; suffix tells a repeat."""
    pairs = [need.points[0] for need in brief.needed(NeedKind.OHMS)]
    slots = tuple(
        Slot(
            pair, brief.pair(pair),
            "Ohms from lead {} to lead {}".format(*(brief.lead(lead) for lead in pair.split("-"))), field="winding",
            ends=tuple(pair.split("-")), part=pair, functions=OHMS,
        )
        for pair in pairs
    )  # fmt: skip
    if not slots:
        return ()
    key = f"winding_resistance{suffix}"
    step = Step(key, 0, "Winding resistance", where, Circuit.APART, slots, tool="Ohmmeter", kind="winding_resistance")
    return (replace(step, suffix=suffix),)


def speed_of(brief: Brief, lead: str) -> str:
    """`low` or `high` where a lead belongs to one winding of two; else empty."""
    if brief.scheme != LeadScheme.TWO_WINDINGS or len(brief.groups) != 2:
        return ""
    return "low" if lead in brief.groups[0] else "high"


def accessories(brief: Brief) -> tuple[Step, ...]:
    """Each protector, heater, brake by its own value, then to frame by what may be used there."""
    slots: list[Slot] = []
    for what, name, leads in aside.fitted(brief):
        slots += _accessory(what, name, leads, brief.insulation_test_forbidden)
    if not slots:
        return ()
    caution = "Never connect an insulation tester to a thermistor, RTD, encoder or capacitor."
    return (
        Step(
            "accessories", 0, "Accessories", Where.BOX, Circuit.APART, tuple(slots), caution, tool="Ohmmeter",
            kind="accessory",
        ),
    )  # fmt: skip


def _accessory(what: str, name: str, leads: tuple[str, ...], by_ohmmeter: bool) -> list[Slot]:
    title = f"{what.capitalize()} {'–'.join(leads)}".strip()
    if what in UNTESTED:
        ask = "Unplug it and set it aside: no test of any kind"
        return [Slot(name, title, ask, Input.CONFIRM, ends=leads, optional=True)]
    if named(what) == CAPACITOR:
        return _capacitor(name, title, leads)
    if named(what) == SINGLE:
        return aside.single_phase(name, title, leads)
    if named(what) == SWITCH:
        return _switch(name, title, leads)
    low = what in ("thermistor", "rtd") or by_ohmmeter
    own = "Its ohms, at 2.5 V at most" if what in ("thermistor", "rtd") else "Its ohms"
    far = "Leads joined, to frame, by the ohmmeter" if low else "Leads joined, to frame"
    return [
        Slot(name, title, own, field="low_ohm", ends=leads, part=f"{what}/{name}/own", optional=True, functions=OHMS),
        Slot(
            f"{name}.frame", f"{title} to frame", far, field="low_ohm" if low else "insulation",
            ends=("+".join(leads), "frame") if leads else (), part=f"{what}/{name}/frame", optional=True,
            functions=OHMS if low else ("insulation",),
        ),
    ]  # fmt: skip


def _switch(name: str, title: str, leads: tuple[str, ...]) -> list[Slot]:
    """At rest it is closed; its weights moved by hand, it opens."""
    ask = "Move its weights out by hand: does it open?"
    return [
        Slot(
            name, title, "Its ohms at rest", field="low_ohm", ends=leads, part=f"{SWITCH}/{name}/own", optional=True,
            functions=OHMS,
        ),
        Slot(
            f"{name}.opens", f"{title} by hand", ask, Input.CHOICE, part=f"{SWITCH}/{name}/opens", optional=True,
            choices=OPENS,
        ),
    ]  # fmt: skip


def _capacitor(name: str, title: str, leads: tuple[str, ...]) -> list[Slot]:
    """Its charge first: nothing else is read before it shows about 0 V."""
    discharge = (
        "Discharge the capacitor through a resistor, then short it. Remove the short."
        " Measure volts DC across it at once. It must read about 0 V. Then short it again"
    )
    asked = (("start", "first touch", "Ohms at first touch"), ("end", "after 10 s", "Ohms after some seconds"))
    return [
        Slot(
            f"{name}.volts", f"{title} discharged", discharge, field="dead_voltage", ends=leads,
            part=f"{CAPACITOR}/{name}/{CHARGE}", optional=True, functions=("volt-dc",),
        ),
        *(
            Slot(
                f"{name}.{side}", f"{title}, {when}", ask, field="low_ohm", ends=leads,
                part=f"{CAPACITOR}/{name}/{side}", optional=True, functions=OHMS,
            )
            for side, when, ask in asked
        ),
        Slot(
            f"{name}.frame", f"{title} to its case", "Leads joined, to the case, by the ohmmeter", field="low_ohm",
            ends=("+".join(leads), "frame") if leads else (), part=f"{CAPACITOR}/{name}/frame", optional=True,
            functions=OHMS,
        ),
    ]  # fmt: skip


def by_hand(brief: Brief) -> tuple[Step, ...]:
    """What hands and eyes find: the shaft, the brake's disc, brushes, and what isn't as it should be."""
    slots = (
        Slot("shaft", "Shaft", "Turn it by hand", Input.CHOICE, part="turns", choices=TURNS, optional=True),
        *(_disc() if brief.brake else ()),
        *(slot for name, holders in brushes_of(brief) for slot in _brushes(name, holders)),
        Slot(
            "seen", "Seen", "Box, lugs, tape, vents, fan, brake: what is not as it should be; several with ;",
            Input.WORDS, optional=True, waited=True, choices=(*SEEN, *(aside.GEAR if aside.has_brushes(brief) else ())),
        ),
    )  # fmt: skip
    caution = "Do not touch the shaft until every source is locked and the load is blocked."
    return (Step("by_hand", 0, "By hand", Where.SHAFT, Circuit.DEAD, slots, caution, kind="shaft"),)


def brushes_of(brief: Brief) -> list[tuple[str, tuple[str, ...]]]:
    """Each set of brushes on record with the names of its holders; `1` alone where none is named."""
    sets = [_holders(fitting.leads) for fitting in brief.fittings if named(fitting.what) == BRUSHES]
    return [(f"{BRUSHES}-{number}", holders) for number, holders in enumerate(sets, 1)]


def _holders(leads: tuple[str, ...]) -> tuple[str, ...]:
    """Each once, and none by the name of the new brush's own place."""
    return tuple(dict.fromkeys("holder-new" if lead == NEW else lead for lead in leads)) or ("1",)


def _disc() -> tuple[Slot, ...]:
    asked = (("disc", "thickness", "Brake disc", "Its lining, where it is thinnest"),
             ("disc.least", "least", "Least allowed", "What its maker's plate or sheet allows"))  # fmt: skip
    return tuple(
        Slot(key, title, ask, field="length", part=f"{DISC}/{part}", optional=True) for key, part, title, ask in asked
    )


def _brushes(name: str, holders: tuple[str, ...]) -> tuple[Slot, ...]:
    new = Slot(
        f"{name}.{NEW}", "A new brush", "Length of a new one", field="length", part=f"{name}/{NEW}", optional=True
    )
    read = (
        Slot(
            f"{name}.{holder}", f"Brush {holder}", "Lift it out: length of the carbon, the longer side",
            field="length", part=f"{name}/{holder}", optional=True,
        )
        for holder in holders
    )  # fmt: skip
    return new, *read


def identify(_: Brief) -> tuple[Step, ...]:
    """Which lead is which, on the page that follows the readings."""
    ask = "Find and mark the leads on the page Leads; then say how"
    slots = (Slot("marked", "Leads marked", ask, Input.WORDS),)
    return (Step("identify", 0, "Identify the leads", Where.BOX, Circuit.APART, slots, tool="Ohmmeter"),)


def cool_down() -> tuple[Step, ...]:
    """A protector that opened when hot closes again when cold."""
    slots = (Slot("winding", "Winding now", "Its temperature once it has cooled", field="temperature"),)
    caution = "One to eight hours, by size. A protector in the star point reads as an open winding until then."
    return (Step("cool_down", 0, "Let it cool", Where.BOX, Circuit.APART, slots, caution, tool="Thermometer"),)


def drying() -> tuple[Step, ...]:
    """A wet winding is dried before anything more is asked of it."""
    slots = (Slot("dried", "Dried", "How, how long, how warm", Input.WORDS),)
    caution = "Warm it slowly, 10 K an hour at most, winding never above 90 °C. No current into a winding that is open."
    return (Step("drying", 0, "Drying", Where.BOX, Circuit.APART, slots, caution),)
