"""What an instrument is set to for a reading, where its leads go, and what the hands mind; common practice."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.plan.steps import Act, Slot, Step


@dataclass(frozen=True, slots=True)
class Dial:
    """function: the dial's position; range_: which range, empty where the meter finds it; jacks: where the leads go;
    mind: why so, and what the hands mind.
    """

    function: str
    range_: str = ""
    jacks: str = ""
    mind: str = ""

    @property
    def words(self) -> str:
        """`Ω, lowest range; COM and Ω`."""
        first = ", ".join(part for part in (self.function, self.range_) if part)
        return "; ".join(part for part in (first, self.jacks) if part)


_TIPS = "Fingers off both tips: the body reads 0.5 to 5 MΩ."
_METAL = "Bare metal, not paint, and not the shaft's bearing. The motor's own earth wire is best."
_VOLTS = Dial("V~", "highest range first", "COM and V")
_BY_FIELD = {
    "winding": Dial("Ω", "lowest range that shows it", "COM and Ω", "A finer range shows an unbalance sooner."),
    "low_ohm": Dial("Ω", "lowest range", "COM and Ω"),
    "drop": Dial("V~", "millivolts", "COM and V", "Across the closed pole, under load. Fused leads."),
    "current": Dial("A~", "clamp", "", "Jaws shut, one conductor."),
    "voltage": _VOLTS,
}
# A few volts at most go into these: they are electronics, or read their own heating.
_TENDER = ("thermistor", "ptc", "rtd", "encoder")


def dial_of(step: Step, slot: Slot) -> Dial | None:
    """How the meter stands for what a slot asks; None where none is held. No figure but the volts of a range."""
    if step.kind == "ohmmeter":
        return Dial("Ω", "highest range, MΩ", "COM and Ω", f"{_TIPS} {_METAL}")
    if slot.act in (Act.PROVE_TESTER, Act.POINT_DEAD) or slot.field == "dead_voltage":
        direct = "volt-dc" in slot.functions
        return Dial("V=" if direct else "V~", "highest range first", "COM and V")
    if slot.part == "volts" and slot.field == "voltage":
        return Dial("MΩ", "set its volts", "LINE and EARTH", _METAL)
    if slot.field == "low_ohm" and slot.part.startswith(_TENDER):
        return Dial("Ω", "2.5 V at most", "COM and Ω", "More volts heat or break it. Never an insulation tester.")
    if "insulation" in slot.functions and slot.field == "low_ohm":
        return Dial("MΩ", "", "LINE and EARTH")
    return _BY_FIELD.get(slot.field)
