"""Parts of the side sheets: a single-phase motor that hangs on this one, a capacitor by volts and amps, a surge
comparison by a tester of its own, what is heard and felt.
"""

from __future__ import annotations

from collections import Counter
from itertools import combinations, count

from grimcoil.core.choices import Starter
from grimcoil.core.plan.brief import CAPACITOR_LIVE, GREASE, STARTER, SURGE, VIBRATION, Brief
from grimcoil.core.plan.steps import Act, Circuit, Input, Slot, Step, Where
from grimcoil.core.side.wear import BRUSH_GEAR, VIBRATIONS

SINGLE, CAPACITOR, BRUSHES, SWITCH = "single phase motor", "capacitor", "brushes", "centrifugal switch"
SAME = {"brush": BRUSHES, "slip ring brushes": BRUSHES, "starting switch": SWITCH, "single phase fan": SINGLE}
PASSED = ("pass", "fail")
OHMS = ("low-ohm", "ohm")
UNNAMED = ("A", "B", "C")
QUIETER = "quieter after greasing"  # said after a greasing, not of a test run
HEARD = tuple(word for word in VIBRATIONS if word != QUIETER)
OPEN_PANEL = "Live work: only by those qualified, under your site's rules. Fused leads, one conductor in the clamp."


def named(what: str) -> str:
    """What hangs on a motor by one name, however it was written."""
    word = " ".join(what.casefold().replace("-", " ").split())
    return SAME.get(word, word)


def single_phase(name: str, title: str, leads: tuple[str, ...]) -> list[Slot]:
    """Ohms between each two of its three leads, then all joined to frame; leads nobody named are A, B, C."""
    three = leads if len(set(leads)) == 3 else UNNAMED
    pairs = []
    for a, b in combinations(three, 2):
        key = f"{a}-{b}".replace("/", "-")
        ask = f"Ohms from its lead {a} to {b}, its supply locked off"
        pairs.append(Slot(
            f"{name}.{key}", f"{title}, {a} to {b}", ask, field="low_ohm", ends=(a, b), part=f"{SINGLE}/{name}/{key}",
            optional=True, functions=OHMS,
        ))  # fmt: skip
    ask = "Its leads joined, to frame; its capacitor off and discharged first"
    frame = Slot(
        f"{name}.frame", f"{title} to frame", ask, field="insulation", ends=("+".join(three), "frame"),
        part=f"{SINGLE}/{name}/frame", optional=True, functions=("insulation",),
    )  # fmt: skip
    return [*pairs, frame]


def surge(brief: Brief) -> tuple[Step, ...]:
    """What a surge tester said, taken over; only where wanted, and never where the maker forbids test volts."""
    if SURGE not in brief.taking or brief.insulation_test_forbidden:
        return ()
    ask = "What the tester said of the waves laid over each other"
    slots = (
        Slot("result", "Result", ask, Input.CHOICE, optional=True, choices=PASSED),
        Slot("peak", "Peak", "Volts of its peak", field="voltage", part="peak", optional=True),
        Slot("apart", "Waves apart", "The worst difference of two waves", field="share", part="apart",
             optional=True),
    )  # fmt: skip
    caution = (
        "Its pulses are thousands of volts: after insulation passed, people clear of every lead, its own cautions"
        " first; short the winding afterwards."
    )
    return (
        Step("surge", 0, "Surge comparison", Where.BOX, Circuit.APART, slots, caution, tool="Surge tester",
             kind="surge"),
    )  # fmt: skip


def fitted(brief: Brief) -> list[tuple[str, str, tuple[str, ...]]]:
    """What hangs on the motor but for brushes, which are measured by hand: what it is, the name its slots have, its
    leads. A name stands once, and neither has the mark in it that parts are told apart by.
    """
    listed = [(f.what, f.leads) for f in brief.fittings] + ([("brake", ())] if brief.brake else [])
    out: list[tuple[str, str, tuple[str, ...]]] = []
    seen: Counter[str] = Counter()
    for given, leads in listed:
        what = given.replace("/", "-")
        if named(what) == BRUSHES:
            continue
        seen[what] += 1
        name = "-".join(leads).replace("/", "-") or f"{what}-{seen[what]}"
        taken = {one[1] for one in out}
        free = (f"{name}-{number}" for number in count(2))
        out.append((what, name if name not in taken else next(other for other in free if other not in taken), leads))
    return out


def capacitors(brief: Brief) -> list[str]:
    """Each capacitor on record by the name its slots have."""
    return [name for what, name, _ in fitted(brief) if named(what) == CAPACITOR]


def capacitor_live(brief: Brief) -> tuple[Step, ...]:
    """Each capacitor by volts and amps while it works, against its marking; only where wanted and on record."""
    names = capacitors(brief) if CAPACITOR_LIVE in brief.taking else []
    slots = tuple(slot for name in names for slot in _working(name, brief.frequency_hz))
    if not slots:
        return ()
    return (
        Step("capacitor", 0, "Capacitor by volts and amps", Where.STARTER, Circuit.LIVE, slots, OPEN_PANEL, False,
             "Voltmeter and clamp meter", kind="capacitor"),
    )  # fmt: skip


def _working(name: str, frequency_hz: float | None) -> tuple[Slot, ...]:
    suggest = f"{frequency_hz:g}" if frequency_hz else ""
    asked = (
        ("volts", "volts", "Volts across it while it works", "voltage", ("volt-ac",), ""),
        ("amps", "amps", "Amps through one of its wires", "current", ("amp-clamp",), ""),
        ("hertz", "frequency", "Frequency of its supply", "frequency", (), suggest),
        ("marked", "marked", "Microfarads on its can; not read if it can't be made out", "capacitance", (), ""),
    )
    return tuple(
        Slot(
            f"{name}.{key}", f"Capacitor {name}, {word}", ask, field=field, part=f"{name}/{key}", optional=True,
            act=Act.LIVE_READING if functions else Act.NONE, functions=functions, suggest=suggested,
        )
        for key, word, ask, field, functions, suggested in asked
    )  # fmt: skip


# What shows on brush gear while it runs; the rest of its words show when it stands.
SPARKING = ("no sparking", "slight sparking", "marked sparking")
GEAR = tuple(word for word in BRUSH_GEAR if word not in SPARKING)


def has_brushes(brief: Brief) -> bool:
    """Whether brushes are on record."""
    return any(named(fitting.what) == BRUSHES for fitting in brief.fittings)


def sparking(brief: Brief) -> tuple[Step, ...]:
    """How the brushes spark at load, where any are on record."""
    if not has_brushes(brief):
        return ()
    ask = "From the side, at load: how the brushes spark"
    slots = (Slot("seen", "Sparking", ask, Input.CHOICE, act=Act.LIVE_READING, optional=True, choices=SPARKING),)
    caution = "Leave the covers on as far as possible. Keep loose clothing and tools away. Never put a hand inside."
    return (Step("sparking", 0, "Sparking", Where.SHAFT, Circuit.LIVE, slots, caution, kind="sparking"),)


# What is read of a starter by its kind: key, label, what is asked, field, whether it is read while it starts.
STARTS = (
    ("per_hour", "Starts an hour", "How often it is started, at the busiest", "an_hour", False),
    ("run_up_s", "Run-up", "Seconds from the start to full speed, loaded as usual", "duration", True),
)
OF_STARTER = {
    Starter.STAR_DELTA: (
        ("timer_s", "Timer", "Seconds its timer is set to", "duration", False),
        ("line_a_star", "Amps in star", "Amps in one line in star, as it starts", "current", True),
        ("line_a_delta", "Amps in delta", "Amps in the same line in delta, at the same speed", "current", True),
    ),
    Starter.AUTOTRANSFORMER: (
        ("tap", "Tap", "Which tap, of full volts", "share", False),
        ("full_voltage_a", "Amps at full volts", "Amps a start at full volts takes: from plate or maker", "current",
         False),
    ),
}  # fmt: skip


def starter(brief: Brief) -> tuple[Step, ...]:
    """Starts and run-up, and what its kind of starter is judged by; only where wanted."""
    if STARTER not in brief.taking or brief.starter in (None, Starter.NONE):
        return ()
    asked = (*STARTS, *OF_STARTER.get(Starter(brief.starter), ()))
    slots = tuple(
        Slot(key, title, ask, field=field, part=key, optional=True, act=Act.LIVE_READING if live else Act.NONE,
             functions=("amp-clamp",) if field == "current" else ())
        for key, title, ask, field, live in asked
    )  # fmt: skip
    caution = "Each start heats the winding: no more of them than its maker allows. One conductor in the clamp."
    return (
        Step("starter", 0, "Starter", Where.STARTER, Circuit.LIVE, slots, caution, False, "Clamp meter and watch",
             kind="starter"),
    )  # fmt: skip


def grease(brief: Brief) -> tuple[Step, ...]:
    """Grams for a bearing by its size; only where wanted."""
    if GREASE not in brief.taking:
        return ()
    slots = tuple(
        Slot(f"{side}.{key}", f"{title}, {word}", ask, field="length", part=f"{side}/{key}", optional=True)
        for side, title in (("drive-end", "Drive end"), ("other-end", "Other end"))
        for key, word, ask in (("outside", "outside", "Outside diameter of the bearing, by its number"),
                               ("width", "width", "Its width"))
    )  # fmt: skip
    caution = (
        "Motor warm, fittings clean, grease relief open until no more comes out. No more and no more often than its"
        " schedule: too much heats."
    )
    return (Step("grease", 0, "Grease", Where.SHAFT, Circuit.DEAD, slots, caution, kind="grease"),)


def vibration(brief: Brief) -> tuple[Step, ...]:
    """What is heard and felt while it runs; only where wanted."""
    if VIBRATION not in brief.taking:
        return ()
    ask = "By ear and hand on the housing: the worst of it"
    slots = (
        Slot("heard", "Heard and felt", ask, Input.CHOICE, act=Act.LIVE_READING, optional=True, choices=HEARD),
    )  # fmt: skip
    caution = "Guards stay on; mind the shaft and hot metal."
    return (Step("vibration", 0, "Vibration", Where.SHAFT, Circuit.LIVE, slots, caution, kind="vibration"),)
