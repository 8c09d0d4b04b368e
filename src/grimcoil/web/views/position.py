"""The position's page: its circuit in lines, and the motors that stood there."""

from __future__ import annotations

from datetime import date

from grimcoil.core.decision.rules import ACTIONS
from grimcoil.draw.stays import Bar, stays
from grimcoil.service.lives import PositionView
from grimcoil.service.subjects import position_file

SHOWN = 10  # of the newest stays


def stays_figure(view: PositionView, today: date, width: float) -> str:
    """The bars, oldest on top."""
    bars = []
    for stay in reversed(view.stays[:SHOWN]):
        mine = [f for f in view.failures if f.tag == stay.tag and stay.since <= f.on <= (stay.until or today)]
        failed = max(mine, key=lambda failure: failure.on, default=None)
        words = "drives it now" if stay.until is None else ""
        if failed is not None:
            words = ", ".join(failed.causes) or ACTIONS.get(failed.action, failed.action).lower()
        bars.append(Bar(stay.tag, stay.since, stay.until, failed.on if failed else None, words))
    return stays(bars, today, width)


def circuit_lines(view: PositionView) -> list[tuple[str, str]]:
    """What is on record of the circuit, supply to motor."""
    file, own = position_file(view.place, works=True), position_file(view.place)
    supply = " ".join(
        part
        for part in (f"{file.system_voltage_v:g} V" if file.system_voltage_v else "", _word(file.supply_system))
        if part
    )
    if supply and (own.supply_system, own.system_voltage_v) == (None, None):
        supply += ", as the plant has it"
    out = [("Supply", supply), ("Disconnect", _word(file.disconnect)), ("Protection", _word(file.protection))]
    out += [("Starter", _word(file.starter)), ("Control", _control(file.control_supply, file.control_v))]
    if file.overload is not None:
        dial = f"dial at {file.overload.dial_a:g} A" if file.overload.dial_a else ""
        trip = f"class {file.overload.trip_class:g}" if file.overload.trip_class else ""
        out.append(("Overload", ", ".join(p for p in (dial, trip) if p)))
    if file.cable is not None:
        size = f"{file.cable.size_mm2:g} mm²" if file.cable.size_mm2 else ""
        length = f"{file.cable.length_m:g} m" if file.cable.length_m else ""
        out.append(("Cable", ", ".join(p for p in (size, length, str(file.cable.conductor or "")) if p)))
    out += [("Protector", _word(file.protector)), ("Brake", _word(file.brake))]
    return [(name, words) for name, words in out if words]


def _word(value: object) -> str:
    return str(value).replace("-", " ") if value else ""


def _control(supply: object, volts: float | None) -> str:
    return " ".join(p for p in (f"{volts:g} V" if volts else "", f"from {supply}" if supply else "") if p)
