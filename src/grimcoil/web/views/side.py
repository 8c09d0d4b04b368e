"""Side sheets as forms: one section a kind, its fields named as the open format names them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from grimcoil.core.side.parts import CLEANED_WITH, FOUND, OPENED
from grimcoil.core.side.wear import HEARD_AT, OBSERVATIONS, VIBRATIONS
from grimcoil.web.views.record import TRIP_CLASSES, YES_NO, Field, Section

HOLDERS = 6
_STATE = (("", "Not looked at"), ("ok", "Whole"), ("chipped", "Chipped"), ("crooked", "Crooked"))
_WAY = (("", "Not said"), ("clockwise", "Clockwise"), ("anticlockwise", "Anticlockwise"))
_ENDS = (("DE", "drive end"), ("NDE", "other end"))
_PLACES = tuple(
    (f"{end}-{axis}", f"{words.capitalize()}, {way}")
    for end, words in _ENDS
    for axis, way in (("H", "level"), ("V", "upright"), ("A", "along the shaft"))
)
_OPENED = (("", "Not said"), *((word, word.capitalize() if word != "ok" else "In order") for word in FOUND))
_CLEANED = (("", "Not said"), *((one, one.capitalize()) for one in CLEANED_WITH))
_HEARD = (("", "Not listened to"), *((word, word.capitalize()) for word in HEARD_AT))
_BRUSHES = [Field("new_mm", "A new one", "mm")]
for _holder in range(1, HOLDERS + 1):
    _BRUSHES += [
        Field(f"holders.{_holder}", f"Holder {_holder}", "mm"), Field(f"state.{_holder}", "Its brush", options=_STATE)
    ]  # fmt: skip
SHEETS: Mapping[str, Section] = {
    "single_phase": Section(
        "Single phase: common, start, run",
        tuple(Field(f"readings.{pair}", f"Ohms {pair.replace('-', ' to ')}", "Ω") for pair in ("A-B", "B-C", "C-A")),
        "Name the three leads A, B, C. Capacitor discharged and off.",
    ),
    "capacitor_ohms": Section(
        "Capacitor by ohms",
        (Field("start", "At first touch", "Ω", hint="0.5k"), Field("end", "After some seconds", "Ω", hint="OL, 8M")),
        "Discharged and shown below 5 V first, one lead off.",
    ),
    "centrifugal_switch": Section(
        "Centrifugal switch",
        (Field("reading", "Ohms at rest", "Ω"), Field("opens", "Opens when moved by hand", options=YES_NO)),
    ),
    "rotation": Section(
        "Rotation",
        (
            Field("wanted", "Wanted, at the shaft's end", options=_WAY), Field("seen", "Seen", options=_WAY),
            Field("coupled", "The load hung on it", options=YES_NO),
        ),
        "Turned uncoupled first.",
    ),
    "brushes": Section(
        "Brushes", tuple(_BRUSHES),
        "The whole set at half of new, right grade, each back in its own place the same way round. Seat with fine"
        " sandpaper, never emery: its dust conducts.",
    ),
    "grease": Section(
        "Grease",
        (
            Field("outside_mm", "Bearing, outside", "mm"), Field("width_mm", "Bearing, width", "mm"),
            Field("type", "Which grease", hint="As on its fitting or cartridge"),
        ),
        "One kind in a bearing: two that don't bear each other run out.",
    ),
    "brake_disc": Section(
        "Brake disc", (Field("thickness_mm", "Thickness", "mm"), Field("least_mm", "Least by its maker", "mm"))
    ),
    "brake_gap": Section(
        "Brake: gap and lift",
        (
            Field("gap_mm", "Air gap", "mm", hint="At three places, the widest"),
            Field("most_mm", "Widest by its maker", "mm"),
            Field("lift_v", "It lifts fully at", "V"), Field("coil_v", "Volts of its coil", "V"),
        ),
        "Secure the load first: a brake that is opened holds nothing.",
    ),
    "capacitor_replaced": Section(
        "Capacitor replaced",
        (
            Field("old_uf", "Old one", "µF"), Field("old_v", "Old one, marked", "V"),
            Field("new_uf", "New one", "µF"), Field("new_v", "New one, marked", "V"),
        ),
        "Discharge the old one through a resistor and show it below 5 V before it is touched.",
    ),
    "overhaul": Section(
        "Opened motor",
        (
            *(Field(f"parts.{part}", part.capitalize(), options=_OPENED) for part in OPENED),
            Field("cleaned_with", "Cleaned by", options=_CLEANED),
        ),
        "Wipe and vacuum. No solvent that softens varnish, no petrol; compressed air drives dirt in. Marks on both end"
        " shields before they come off.",
    ),
    "brush_holders": Section(
        "Brush holders",
        (
            Field("square", "Square to the bars", options=YES_NO), Field("firm", "Firm on its arm", options=YES_NO),
            Field("free", "Brush slides freely", options=YES_NO), Field("bevel", "Seated to its bevel", options=YES_NO),
            Field("distance_mm", "Holder to commutator", "mm", hint="Set anew after the commutator was turned"),
        ),
        "A seating or a resurfacing stone is used on a turning, live machine: only by who is trained for it, insulated"
        " handle, eyes covered, the dust drawn off. Nobody else stands by.",
    ),
    "star_delta": Section(
        "Star-delta",
        (
            Field("timer_s", "Timer", "s"), Field("run_up_s", "Run-up", "s"),
            Field("line_a_star", "Line amps in star", "A"), Field("line_a_delta", "In delta at the same slip", "A"),
        ),
    ),
    "autotransformer": Section(
        "Autotransformer",
        (Field("tap", "Tap", hint="65 or 0.65 of full volts"), Field("full_voltage_a", "Amps at full volts", "A")),
    ),
    "starts": Section(
        "Starts",
        (
            Field("per_hour", "Starts", "an hour"), Field("run_up_s", "Run-up", "s"),
            Field("trip_class", "Trip class", options=(("", "Not known"), *((one, one) for one in TRIP_CLASSES))),
        ),
    ),
    "surge": Section(
        "Surge comparison from another tester",
        (
            Field("result", "It said", options=(("", "Not said"), ("pass", "Pass"), ("fail", "Fail"))),
            Field("peak_v", "Peak", "V"), Field("difference_percent", "Worst difference of two waves", "%"),
        ),
    ),
    "vibration": Section(
        "Heard and felt",
        (
            *(Field(f"mm_s.{place}", words, "mm/s") for place, words in _PLACES),
            *(Field(f"listening.{end}", f"Listened at the {words}", options=_HEARD) for end, words in _ENDS),
        ),
        "Velocity as the meter shows it, r.m.s.; zones of ISO 20816-3, from memory, of 15 to 300 kW on a rigid"
        " foundation.",
    ),
    "observation": Section("Seen and smelt", ()),
}  # fmt: skip
WORDS: Mapping[str, tuple[str, ...]] = {"vibration": tuple(VIBRATIONS), "observation": tuple(OBSERVATIONS)}


def figures_of(document: Mapping[str, Any]) -> str:
    """A kept sheet in one line: its figures as typed."""
    out = []
    for name, value in document.items():
        if isinstance(value, dict):
            out += [f"{key}: {one}" for key, one in value.items()]
        elif isinstance(value, list):
            out += value
        else:
            out.append(f"{name.replace('_', ' ')} {value}")
    return ", ".join(out)
