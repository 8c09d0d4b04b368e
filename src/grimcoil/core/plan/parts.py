"""The parts a plan is made of: what is known of the motor -> steps. Nothing here knows a lead number by heart."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import pairwise

from grimcoil.core.choices import Occasion
from grimcoil.core.decision.needs import Need, NeedKind, needs
from grimcoil.core.plan.steps import MOVED, Act, Circuit, Input, Slot, Step
from grimcoil.core.points import LINE_PAIRS, LINES, TO_EARTH, groups_of


@dataclass(frozen=True, slots=True)
class Brief:
    """What a plan is built from."""

    scheme: str
    occasion: Occasion = Occasion.ROUTINE
    insulation_test_forbidden: bool = False

    @property
    def leads(self) -> tuple[str, ...]:
        """The leads in the order of the box."""
        return tuple(lead for group in groups_of(self.scheme) for lead in group)

    @property
    def joined(self) -> str:
        """All leads joined, as an end of a reading."""
        return "+".join(self.leads)


Part = Callable[[Brief], tuple[Step, ...]]
TAG = Slot("tag", "Tag on the motor's plate", "Read the tag off the motor itself and type it", Input.TAG)
STILL = "nothing moved"
WARM, AIR, HUMID = "winding_temperature_c", "ambient_temperature_c", "relative_humidity_percent"


def isolate(_: Brief) -> tuple[Step, ...]:
    """Every source locked, then the start tried."""
    locks = "Lock and tag every source: power, control, heater, brake. Say which"
    slots = (
        TAG,
        Slot("locks", "Locks on", locks, Input.WORDS, act=Act.LOCK),
        Slot(
            "tried", "Start tried", "Try the start control: nothing may move", Input.CHOICE, act=Act.TRY_START,
            choices=(STILL, MOVED),
        ),
    )  # fmt: skip
    caution = (
        "Stop by the control, then open the disconnect. Block what can turn by itself. Your site's lock rules govern."
    )
    return (Step("isolate", 0, "Isolate", "Disconnect and starter", Circuit.LIVE, slots, caution),)


def on_the_floor(_: Brief) -> tuple[Step, ...]:
    """In place of the lock, where the motor stands apart from any supply."""
    nothing = "No supply, brake or heater wire is connected; the shaft is blocked. Say what you looked at"
    slots = (TAG, Slot("locks", "Nothing connected", nothing, Input.WORDS, act=Act.LOCK))
    caution = "A motor on the floor can still be fed by a heater or a brake someone left on. Look before you touch."
    return (Step("isolate", 0, "Stands alone", "On the floor", Circuit.LIVE, slots, caution),)


def _tester(key: str, when: str, ask: str) -> Slot:
    return Slot(
        key, f"Known live source, {when}", ask, field="voltage", ends=("source",), act=Act.PROVE_TESTER,
        functions=("volt-ac",),
    )  # fmt: skip


def _dead(name: str) -> Slot:
    a, b = name.split("-", 1)
    far = "earth" if b == "E" else b
    return Slot(
        name, f"{a}–{far}", f"Volts {a} to {b}: about 0", field="dead_voltage", ends=(a, b), act=Act.POINT_DEAD,
        part=name, functions=("volt-ac",),
    )  # fmt: skip


def _proof(where: str, points: tuple[str, ...]) -> tuple[Step, ...]:
    slots = (
        _tester("before", "before", "Prove the tester on a known live source"),
        *(_dead(point) for point in points),
        _tester("after", "after", "Prove the tester again on the same source"),
    )
    caution = "Until it is proved dead it is live: rated tester, rated gloves, by those your site allows."
    return (
        Step("prove_dead", 0, "Prove dead", where, Circuit.DEAD, slots, caution, True, "Voltage tester"),
    )  # fmt: skip


def prove_dead(_: Brief) -> tuple[Step, ...]:
    """Tester on a live source, every pair of lines and each to earth, tester again."""
    return _proof("Starter, then the open motor box", (*LINE_PAIRS, *TO_EARTH))


def prove_dead_box(brief: Brief) -> tuple[Step, ...]:
    """The same on the floor: between the leads of each group, and each group to frame."""
    groups = groups_of(brief.scheme)
    between = tuple(f"{a}-{b}" for group in groups for a, b in pairwise(group))
    to_frame = [f"{group[0]}-frame" for group in groups] or ["leads-frame"]
    return _proof("Motor box", (*between, *to_frame))


def as_found(brief: Brief) -> tuple[Step, ...]:
    """Which lead lay where, before anything is lifted."""
    slots = tuple(
        Slot(
            f"lead-{n}", f"Lead {n} on", f"Which terminal or line is lead {n} on", Input.WORDS, ends=(n,), act=Act.LIFT
        )
        for n in brief.leads
    )
    caution = "Write down what you lift before you lift it, then set the leads apart, floating."
    return (Step("as_found", 0, "As-found leads", "Motor box", Circuit.DEAD, slots, caution),)


def instrument_check(_: Brief) -> tuple[Step, ...]:
    """Leads shorted and apart."""
    ohm, tester = ("low-ohm", "ohm"), ("insulation",)
    slots = (
        Slot(
            "leads-shorted", "Ohm leads shorted", "Clip the ohmmeter's leads together: about 0", field="low_ohm",
            part="lead_resistance", functions=ohm,
        ),
        Slot("leads-apart", "Ohm leads apart", "Hold them apart: over range", field="low_ohm", functions=ohm),
        Slot(
            "insulation-shorted", "Insulation tester shorted", "Short the insulation tester's leads: about 0",
            field="low_ohm", functions=tester,
        ),
    )  # fmt: skip
    return (
        Step(
            "instrument_check", 0, "Instrument check", "Motor box", Circuit.APART, slots,
            tool="Ohmmeter and insulation tester",
        ),
    )  # fmt: skip


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
    return (Step("temperature", 0, "Temperature", "Motor", Circuit.APART, slots, tool="Thermometer"),)


def resistance(brief: Brief) -> tuple[Step, ...]:
    """The pairs that the verdict needs."""
    pairs = [need.points[0] for need in _needed(brief, NeedKind.OHMS)]
    slots = tuple(
        Slot(
            pair, pair.replace("-", "–"), "Ohms from lead {} to lead {}".format(*pair.split("-")), field="winding",
            ends=tuple(pair.split("-")), part=pair, functions=("low-ohm", "ohm"),
        )
        for pair in pairs
    )  # fmt: skip
    tool = "Low ohms, four-wire clips"
    step = Step("winding_resistance", 0, "Winding resistance", "Motor box", Circuit.APART, slots, tool=tool)
    return (_makes(step, "winding_resistance"),) if slots else ()


def insulation(brief: Brief) -> tuple[Step, ...]:
    """All leads on the tester against the frame, then shorted to it; nothing where the maker forbids."""
    if not _needed(brief, NeedKind.FRAME):
        return ()
    ends, tester = (brief.joined, "frame"), ("insulation",)
    listed = ", ".join(brief.leads)

    def mark(key: str, label: str, ask: str, seconds: float, optional: bool = False) -> Slot:
        return Slot(
            key, label, ask, field="insulation", ends=ends, act=Act.MARK, part="to_frame", mark_s=seconds,
            optional=optional, functions=tester,
        )  # fmt: skip

    on = f"Leads {listed} joined on minus, bare frame on plus. Stand clear, then start"
    hold = Step(
        "insulation", 0, "Insulation to frame", "Motor box", Circuit.APART,
        (
            Slot("volts", "Test voltage", "Set the insulation tester", field="voltage", part="volts", functions=tester),
            Slot("on", "Voltage on", on, Input.CONFIRM, ends=ends, act=Act.APPLY),
            mark("30", "30 s", "Value at 30 seconds", 30),
            mark("60", "1 min", "Value at 1 minute", 60),
            mark("600", "10 min", "Value at 10 minutes, or end the hold", 600, optional=True),
        ),
        "Nobody touches leads or frame under test. No insulation tester into electronics.",
        tool="Insulation tester", hold="to-frame", kind="insulation",
    )  # fmt: skip
    discharge = Step(
        "discharge", 0, "Discharge", "Motor box", Circuit.APART,
        (
            Slot("off", "Voltage off", "Switch the insulation tester off", Input.CONFIRM, ends=ends, act=Act.REMOVE),
            Slot(
                "short", "Shorted to frame", f"Lay the strap: leads {listed} to the frame", Input.CONFIRM,
                ends=(*brief.leads, "frame"), act=Act.SHORT,
            ),
            Slot(
                "volts", "Volts left", "Volts from the leads to frame: about 0", field="dead_voltage", ends=ends,
                act=Act.RESIDUAL, functions=("volt-ac",),
            ),
        ),
        "A charged winding can hurt. It stays shorted to frame until the time is up.",
        True, "Voltage tester", "to-frame",
    )  # fmt: skip
    return hold, discharge


def reconnect(_: Brief) -> tuple[Step, ...]:
    """Leads back as found."""
    ask = "Put the leads back as found, lugs tight, insulated"
    slots = (Slot("as-found", "Reconnected", ask, Input.CONFIRM, act=Act.JOIN),)
    return (Step("reconnect", 0, "Reconnect", "Motor box", Circuit.DEAD, slots),)


def supply(_: Brief) -> tuple[Step, ...]:
    """Power back on, then the volts while it runs."""
    own = "Own earths and tools off, covers on, people clear, each lock off by its owner"
    slots = (
        Slot("restored", "Power restored", own, Input.CONFIRM, act=Act.RESTORE),
        *(
            Slot(
                pair, pair.replace("-", "–"), "Volts {} to {}, motor running".format(*pair.split("-")), field="voltage",
                ends=tuple(pair.split("-")), act=Act.LIVE_READING, part=pair, functions=("volt-ac",),
            )
            for pair in LINE_PAIRS
        ),
    )  # fmt: skip
    caution = "Live work: only by those qualified, under your site's rules. Stand to one side when closing."
    step = Step(
        "supply_voltage", 0, "Supply volts", "Starter, load side", Circuit.LIVE, slots, caution, False, "Voltmeter"
    )
    return (_makes(step, "supply_voltage"),)


def current(_: Brief) -> tuple[Step, ...]:
    """Settled amps of each line."""
    slots = tuple(
        Slot(
            line, line, f"Settled amps in {line}, one conductor in the clamp", field="current", ends=(line,),
            act=Act.LIVE_READING, part=line, functions=("amp-clamp",),
        )
        for line in LINES
    )  # fmt: skip
    caution = "Live work: one conductor at a time, settled value, rated clamp."
    step = Step(
        "line_current", 0, "Line currents", "Starter, load side", Circuit.LIVE, slots, caution, False, "Clamp meter"
    )
    return (_makes(step, "line_current"),)


def close(_: Brief) -> tuple[Step, ...]:
    """Decide and sign."""
    return (
        Step("decision", 0, "Decision", "", Circuit.LIVE),
        Step("sign", 0, "Sign", "", Circuit.LIVE),
    )


def _needed(brief: Brief, kind: NeedKind) -> list[Need]:
    found = needs(brief.scheme, brief.occasion, brief.insulation_test_forbidden)
    return [need for need in found.keys if need.kind is kind]


def _makes(step: Step, kind: str) -> Step:
    return replace(step, kind=kind)
