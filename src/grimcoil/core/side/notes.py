"""Machines that aren't plain cage motors, each with the checks that its rotor or field needs beside the stator's."""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum

from grimcoil.core.starter.figures import TRADE, Check


class Machine(StrEnum):
    """What has notes of its own."""

    WOUND_ROTOR = "wound rotor"
    SYNCHRONOUS = "synchronous"
    DC = "direct current"


_DEAD = Check(
    "isolate", "Isolate, lock, prove dead", True,
    "Stator, rotor gear and excitation: each supply by itself; capacitors and fields discharged.",
    "0 V everywhere, the tester proved before and after.", "A second supply stays live when the first is off",
)  # fmt: skip
_STATOR = Check(
    "stator", "Stator as usual", True, "By a routine job: ohms, insulation, connection.",
    "As its job says.", "The stator is that of any three-phase motor",
)  # fmt: skip
_RINGS = Check(
    "rings", "Rings and brushes", True,
    "Film even, no grooves; each brush against new, free in its holder, the spring alike, leads clear of the frame.",
    "Longer than half of new; at half, chipped or crooked the whole set goes.",
    f"Seat them with fine sandpaper, never emery: its dust conducts; {TRADE}",
)  # fmt: skip
NOTES: Mapping[Machine, tuple[Check, ...]] = {
    Machine.WOUND_ROTOR: (
        _DEAD,
        _STATOR,
        _RINGS,
        Check(
            "rotor-ohms", "Ring to ring", True, "Brushes lifted, low ohms between each two rings, turned by hand too.",
            "Three alike within the balance limit of the stator.", f"An open or a bad joint in the rotor; {TRADE}",
        ),
        Check(
            "rotor-shaft",
            "Rings to shaft", True, "Brushes lifted, insulation tester at the rotor's own volts or 500 V.",
            "As the stator's minimum for its volts, at 40 °C.",
            f"Brush dust between rings and shaft is the usual path; {TRADE}",
        ),
        Check(
            "resistors", "Resistors and shorting gear", True,
            "Each step in each line by ohms; contacts and short-circuiting ring closed and even when running.",
            "Three alike at every step; near 0 Ω when shorted.", f"An odd step makes it pulsate; {TRADE}",
        ),
        Check(
            "rotor-amps", "Rotor amps while it runs", False, "Clamp on each brush lead, at load.", "Three alike.",
            f"An odd one is a brush, a ring or a resistor; {TRADE}",
        ),
    ),
    Machine.SYNCHRONOUS: (
        _DEAD,
        _STATOR,
        _RINGS,
        Check(
            "field", "Field", True, "Ohms of the field against its last; field to shaft at its own volts or 500 V.",
            "Within a few percent at the same temperature; above the minimum.", f"A shorted pole runs rough; {TRADE}",
        ),
        Check(
            "diodes",
            "Exciter and diodes", True, "Each diode both ways on its own test range; discharge resistor by ohms.",
            "One way a fraction of a volt, the other open.",
            f"An open diode lets the field fade, a shorted one heats; {TRADE}",
        ),
        Check(
            "step", "Pulling into step", False, "Field volts and amps as it comes up; stator amps with them.",
            "Up to speed, then field on, and it locks.",
            "Up to speed but not into step: look at the excitation; handbook",
        ),
    ),
    Machine.DC: (
        _DEAD,
        Check(
            "field", "Shunt and series field", True, "Ohms of each against its last; each to frame.",
            "As before at the same temperature; above the minimum.",
            "An open shunt field: it won't start under load, or runs away; never run it so; handbook",
        ),
        Check(
            "brushes", "Brushes and holders", True,
            "Length against new, spacing round the commutator, springs, back in their own place the same way round.",
            "Longer than half of new, holders evenly spaced.", f"The whole set at half, right grade; {TRADE}",
        ),
        Check(
            "bars", "Bar to bar", True, "Low ohms between each two neighbouring bars, all round.",
            "All alike; a high one is a joint, a low one a short.", f"Beside the odd bar lies the odd coil; {TRADE}",
        ),
        Check(
            "commutator", "Commutator", True, "Film, grooves, burnt bars, mica above the copper.",
            "Even brown film, mica below the bars.", f"High mica lifts the brushes: sparking; {TRADE}",
        ),
        Check(
            "armature",
            "Armature to frame", True, "Insulation tester at its volts or 500 V, brushes lifted and then down.",
            "Above the minimum; the difference is the brush gear.", f"Brush dust is the usual path; {TRADE}",
        ),
        Check(
            "sparking", "Sparking at load", False, "From the side, at load: none, slight or marked; which brush.",
            "None or slight, the same at all.", f"Marked sparking eats the commutator; {TRADE}",
        ),
    ),
}  # fmt: skip
