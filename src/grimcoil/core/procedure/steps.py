"""The routine job on a three-lead motor, step by step, as data."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Circuit(StrEnum):
    """State of the circuit a step works in."""

    LIVE = "live"
    DEAD = "dead"
    APART = "dead and disconnected"


class Kind(StrEnum):
    """What a slot takes: a meter's reading, a confirmation, the motor's tag, or a few words."""

    READING = "reading"
    CONFIRM = "confirm"
    TAG = "tag"
    WORDS = "words"


@dataclass(frozen=True, slots=True)
class Slot:
    """One thing to enter. `ends` are the points the probes touch; `field` names the reading's field.

    mark_s: the time of an insulation reading since voltage on; optional: the job goes on without it.
    """

    key: str
    label: str
    ask: str
    kind: Kind = Kind.READING
    field: str = ""
    ends: tuple[str, ...] = ()
    optional: bool = False
    mark_s: float | None = None
    suggest: str = ""
    instrument: str = ""


@dataclass(frozen=True, slots=True)
class Step:
    """A step of the path. hard: its gate can't be overruled with a reason."""

    key: str
    number: int
    title: str
    where: str
    circuit: Circuit
    slots: tuple[Slot, ...]
    caution: str = ""
    hard: bool = False
    tool: str = ""


def _dead(key: str, label: str, ends: tuple[str, str]) -> Slot:
    ask = f"Volts {ends[0]} to {ends[1]}: about 0"
    return Slot(key, label, ask, field="dead_voltage", ends=ends)


def _pairs(field: str, names: tuple[tuple[str, str], ...], ask: str) -> tuple[Slot, ...]:
    return tuple(Slot(f"{a}-{b}", f"{a}–{b}", ask.format(a=a, b=b), field=field, ends=(a, b)) for a, b in names)


_LEADS = (("1", "2"), ("2", "3"), ("3", "1"))
_LINES = (("L1", "L2"), ("L2", "L3"), ("L3", "L1"))

ROUTINE: tuple[Step, ...] = (
    Step(
        "isolate",
        1,
        "Isolate",
        "Disconnect and starter",
        Circuit.LIVE,
        (
            Slot("tag", "Tag on the motor's plate", "Read the tag off the motor itself and type it", Kind.TAG),
            Slot("locks", "Locks on", "Lock and tag every source: power, control, heater, brake. Say which", Kind.WORDS),
            Slot("tried", "Start tried", "Try the start control: nothing may move", Kind.CONFIRM),
        ),
        "Stop by the control, then open the disconnect. Block what can turn by itself. Your site's lock rules govern.",
    ),
    Step(
        "prove_dead",
        2,
        "Prove dead",
        "Starter, then the open motor box",
        Circuit.DEAD,
        (
            Slot("before", "Known live source, before", "Prove the tester on a known live source", field="voltage", ends=("source",)),
            _dead("L1-L2", "L1–L2", ("L1", "L2")),
            _dead("L2-L3", "L2–L3", ("L2", "L3")),
            _dead("L3-L1", "L3–L1", ("L3", "L1")),
            _dead("L1-E", "L1–earth", ("L1", "E")),
            _dead("L2-E", "L2–earth", ("L2", "E")),
            _dead("L3-E", "L3–earth", ("L3", "E")),
            Slot("after", "Known live source, after", "Prove the tester again on the same source", field="voltage", ends=("source",)),
        ),
        "Until it is proved dead it is live: rated tester, rated gloves, by those your site allows.",
        hard=True,
        tool="Voltage tester",
    ),
    Step(
        "as_found",
        3,
        "As-found leads",
        "Motor box",
        Circuit.DEAD,
        tuple(
            Slot(f"lead-{n}", f"Lead {n} on", f"Which terminal or line is lead {n} on", Kind.WORDS, ends=(n,), suggest=f"L{n}")
            for n in "123"
        ),
        "Write down what you lift before you lift it, then set the leads apart, floating.",
    ),
    Step(
        "instrument_check",
        4,
        "Instrument check",
        "Motor box",
        Circuit.APART,
        (
            Slot("leads-shorted", "Ohm leads shorted", "Clip the ohmmeter's leads together: about 0", field="low_ohm", instrument="ohm"),
            Slot("leads-apart", "Ohm leads apart", "Hold them apart: over range", field="low_ohm", instrument="ohm"),
            Slot(
                "insulation-shorted", "Insulation tester shorted", "Short the insulation tester's leads: about 0",
                field="low_ohm", instrument="insulation",
            ),
        ),
        tool="Ohmmeter and insulation tester",
    ),
    Step(
        "temperature",
        5,
        "Temperature",
        "Motor",
        Circuit.APART,
        (
            Slot("winding", "Winding", "Winding temperature, or the frame's if it stood over night", field="temperature"),
            Slot("ambient", "Air", "Air round the motor", field="temperature", optional=True),
            Slot("humidity", "Humidity", "Relative humidity", field="humidity", optional=True),
        ),
        tool="Thermometer",
    ),
    Step(
        "winding_resistance",
        6,
        "Winding resistance",
        "Motor box",
        Circuit.APART,
        _pairs("winding", _LEADS, "Ohms from lead {a} to lead {b}"),
        tool="Low ohms, four-wire clips",
    ),
    Step(
        "insulation",
        7,
        "Insulation to frame",
        "Motor box",
        Circuit.APART,
        (
            Slot("volts", "Test voltage", "Set the insulation tester", field="voltage", suggest="500", instrument="insulation"),
            Slot("on", "Voltage on", "Leads 1, 2, 3 joined on minus, bare frame on plus. Stand clear, then start", Kind.CONFIRM),
            Slot("30", "30 s", "Value at 30 seconds", field="insulation", ends=("1+2+3", "frame"), mark_s=30, instrument="insulation"),
            Slot("60", "1 min", "Value at 1 minute", field="insulation", ends=("1+2+3", "frame"), mark_s=60, instrument="insulation"),
            Slot(
                "600", "10 min", "Value at 10 minutes, or end the hold", field="insulation", ends=("1+2+3", "frame"),
                mark_s=600, optional=True, instrument="insulation",
            ),
        ),
        "Nobody touches leads or frame under test. No insulation tester into electronics.",
        tool="Insulation tester",
    ),
    Step(
        "discharge",
        8,
        "Discharge",
        "Motor box",
        Circuit.APART,
        (
            Slot("off", "Voltage off, shorted", "Switch off and short leads 1, 2, 3 to the frame", Kind.CONFIRM),
            Slot("volts", "Volts left", "Volts from the leads to frame: about 0", field="dead_voltage", ends=("1+2+3", "frame")),
        ),
        "A charged winding can hurt. It stays shorted to frame until the time is up.",
        hard=True,
        tool="Voltage tester",
    ),
    Step(
        "reconnect",
        9,
        "Reconnect",
        "Motor box",
        Circuit.DEAD,
        (Slot("as-found", "Reconnected", "Put the leads back as found, lugs tight, insulated", Kind.CONFIRM),),
    ),
    Step(
        "supply_voltage",
        10,
        "Supply volts",
        "Starter, load side",
        Circuit.LIVE,
        (
            Slot("restored", "Power restored", "Own earths and tools off, covers on, people clear, each lock off by its owner", Kind.CONFIRM),
            *_pairs("voltage", _LINES, "Volts {a} to {b}, motor running"),
        ),
        "Live work: only by those qualified, under your site's rules. Stand to one side when closing.",
        tool="Voltmeter",
    ),
    Step(
        "line_current",
        11,
        "Line currents",
        "Starter, load side",
        Circuit.LIVE,
        tuple(Slot(n, n, f"Settled amps in {n}, one conductor in the clamp", field="current", ends=(n,)) for n in ("L1", "L2", "L3")),
        "Live work: one conductor at a time, settled value, rated clamp.",
        tool="Clamp meter",
    ),
    Step("decision", 12, "Decision", "", Circuit.LIVE, ()),
    Step("sign", 13, "Sign", "", Circuit.LIVE, ()),
)  # fmt: skip

STEPS = {step.key: step for step in ROUTINE}
SLOTS = {f"{step.key}.{slot.key}": (step, slot) for step in ROUTINE for slot in step.slots}

DEAD_SLOTS = ("L1-L2", "L2-L3", "L3-L1", "L1-E", "L2-E", "L3-E")
EN_ROUTE_DEAD = (
    "as_found",
    "instrument_check",
    "temperature",
    "winding_resistance",
    "insulation",
    "discharge",
    "reconnect",
)
AFTER_DISCHARGE = ("reconnect", "supply_voltage", "line_current", "decision", "sign")


def place_words(place: str) -> str:
    """A place in words: step and slot, or what a stop was passed for.

    >>> place_words("winding_resistance.1-2")
    'Winding resistance, 1–2'
    """
    step, _, rest = place.replace("!", ".").partition(".")
    words = [STEPS[step].title if step in STEPS else step]
    if place in SLOTS:
        words.append(SLOTS[place][1].label)
    elif rest:
        words.append(rest.replace("!", ": "))
    return ", ".join(words)
