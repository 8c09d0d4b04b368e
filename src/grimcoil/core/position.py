"""The motor beside its position, and the maker's plate beside the rewinder's."""

from __future__ import annotations

from grimcoil.core.circuit.overload import overload_findings
from grimcoil.core.findings import Finding, act, sound, watch
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Subject

CLOSE = 0.06
SPEED_CLOSE = 0.03


def check_position(subject: Subject) -> list[Finding]:
    """A wrong motor is a finding before any test; then the overload's setting."""
    wrong = [*_figures(subject), *_build(subject)]
    calls = subject.position.calls_for
    out = []
    if wrong:
        out.append(act("position-wrong-motor", f"Not the motor this position calls for: {'; '.join(wrong)}."))
    elif calls.power_w or calls.speed_rpm or calls.voltage_v:
        out.append(sound("position-fits", "Power, speed and voltage are what this position calls for."))
    return out + overload_findings(subject.position.overload, subject.plate)


def _figures(subject: Subject) -> list[str]:
    calls, plate = subject.position.calls_for, subject.plate
    out = []
    if calls.power_w and plate.power_w and abs(plate.power_w / calls.power_w - 1) > CLOSE:
        out.append(f"{plate.power_w / 1000:.3g} kW where {calls.power_w / 1000:.3g} kW is called for")
    if calls.speed_rpm and plate.speed_rpm and abs(plate.speed_rpm / calls.speed_rpm - 1) > SPEED_CLOSE:
        out.append(f"{plate.speed_rpm:g} r/min where {calls.speed_rpm:g} is called for")
    rated = plate.rated_voltage_v
    if calls.voltage_v and rated and all(abs(v / calls.voltage_v - 1) > CLOSE for v in rated):
        out.append(f"{'/'.join(f'{v:g}' for v in rated)} V where {calls.voltage_v:g} V is called for")
    return out


def _build(subject: Subject) -> list[str]:
    calls, fittings = subject.position.calls_for, subject.fittings
    out = [
        f"{what} {has} where {wants} is called for"
        for what, has, wants in (
            ("mounting", fittings.mounting, calls.mounting),
            ("enclosure", fittings.enclosure, calls.enclosure),
        )
        if has and wants and has.lower() != wants.lower()
    ]
    if calls.brake is not None and calls.brake != fittings.brake:
        out.append("a brake is missing" if calls.brake else "it has a brake that isn't called for")
    lacking = [what for what in calls.protectors if what not in fittings.protectors]
    if lacking:
        out.append(f"without {', '.join(lacking)}")
    return out


def check_rewound(plate: Plate, maker: Plate | None) -> list[Finding]:
    """Both plates are kept, the newer governs the winding; their difference is a finding."""
    if maker is None:
        return []
    apart = [
        f"{what} {_text(old)}, now {_text(new)}"
        for what, old, new in (
            ("volts", maker.rated_voltage_v, plate.rated_voltage_v),
            ("amps", maker.full_load_current_a, plate.full_load_current_a),
            ("watts", maker.power_w, plate.power_w),
            ("r/min", maker.speed_rpm, plate.speed_rpm),
            ("class", maker.insulation_class, plate.insulation_class),
        )
        if old and new and old != new
    ]
    if not apart:
        return []
    text = f"The rewinder's plate differs from the maker's: {'; '.join(apart)}. The newer governs the winding."
    return [watch("plate-rewound-differs", text)]


def _text(value: object) -> str:
    if isinstance(value, tuple):
        return "/".join(f"{v:g}" for v in value)
    return f"{value:g}" if isinstance(value, float) else str(value)
