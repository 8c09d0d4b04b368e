"""The tests of a `grimcoil-job/1` to the core's: a reader for each kind."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from grimcoil.core import measured as core
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.fields import CURRENT, DEAD_VOLTAGE, DROP, INSULATION, LOW_OHM, TEMPERATURE, VOLTAGE, WINDING
from grimcoil.core.instruments import MICROAMPS, InstrumentRange
from grimcoil.core.points import FRAME, LINE_PAIRS, LINES, is_frame, line_of, line_pair_of
from grimcoil.core.readings import quick_reading, with_volts
from grimcoil.core.subject import Conditions as CoreConditions
from grimcoil.exchange.kinds import (
    Accessory,
    AnyTest,
    Brake,
    CableAlone,
    Capacitor,
    ContactDrop,
    ContactorCoil,
    DeadProof,
    FrameTemperature,
    Fuse,
    Hold,
    Insulation,
    LeadRoll,
    LineCurrent,
    OverloadPole,
    Shaft,
    SupplyVoltage,
    WindingResistance,
    WindingToWinding,
)
from grimcoil.exchange.side import READERS as SIDE_READERS
from grimcoil.exchange.strict import AGAIN, exact, optional, reading, readings


@dataclass(frozen=True, slots=True)
class Around:
    """What a test stands in: its path, the job's conditions, its instruments."""

    path: str
    conditions: CoreConditions
    meter: InstrumentRange | None


def to_core(given: AnyTest, path: str, base: CoreConditions, meters: Mapping[str, InstrumentRange]) -> core.Test:
    """A validated test to the core's."""
    own = given.conditions.to_core() if given.conditions else base
    _named_meter(given.taken_from, meters, path, "taken_from")
    side = SIDE_READERS.get(type(given))
    if side is not None:
        return side(given, path)
    return _READERS[type(given)](given, Around(path, own, _named_meter(given.instrument, meters, path)))


def _named_meter(
    name: str | None, meters: Mapping[str, InstrumentRange], path: str, key: str = "instrument"
) -> InstrumentRange | None:
    if name is None:
        return None
    if name not in meters:
        known = ", ".join(meters) or "none"
        says = f"the id of an instrument listed under instruments ({known})"
        raise RecordRefusal(f"{path}.{key}", name, says, next(iter(meters), ""))
    return meters[name]


def _bare_meter(resolution: float | None, function: str = "ohm") -> InstrumentRange | None:
    return None if resolution is None else InstrumentRange("meter", function, resolution=resolution)


def _resistance(given: WindingResistance, around: Around) -> core.ResistanceTest:
    path = around.path
    lead = exact(given.lead_resistance, LOW_OHM, f"{path}.lead_resistance") or 0.0
    meter = around.meter or _bare_meter(exact(given.resolution, LOW_OHM, f"{path}.resolution"))
    ohms = readings(given.readings, WINDING, f"{path}.readings")
    return core.ResistanceTest(
        ohms, around.conditions, meter, lead, given.hookup(), given.hot, given.failed_check or ""
    )


def _hold(given: Hold, around: Around) -> tuple[Any, ...]:
    amps = around.meter is not None and around.meter.shows == MICROAMPS
    series = tuple(
        core.Timed(
            point.t_s,
            (None if amps else quick_reading(point.reading, INSULATION))
            or reading(
                with_volts(point.reading, given.test_voltage_v, amps), INSULATION, f"{around.path}.series.{i}.reading"
            ),
        )
        for i, point in enumerate(given.series)
    )
    resolution = exact(given.resolution, INSULATION, f"{around.path}.resolution")
    return (
        series,
        given.test_voltage_v,
        around.conditions,
        around.meter or _bare_meter(resolution, "insulation"),
        given.hookup(),
        tuple(given.from_),
        tuple(FRAME if is_frame(name) else name for name in given.to) or (FRAME,),
        given.polarity,
        tuple(given.guard),
        given.failed_check or "",
    )


def _named(given: Mapping[str, Any], canonical: Callable[[str], str | None], path: str, accepted: str) -> None:
    """Refuse names that are none. A line isn't guessed from a name it doesn't have."""
    for name in given:
        if canonical(name.removesuffix(AGAIN)) is None:
            raise RecordRefusal(f"{path}.{name}", name, accepted, accepted.partition(",")[0])


_LINE_NAMES, _PAIR_NAMES = ", ".join(LINES), ", ".join(LINE_PAIRS)


def _supply(given: SupplyVoltage, around: Around) -> core.SupplyTest:
    _named(given.line_to_line, line_pair_of, f"{around.path}.line_to_line", _PAIR_NAMES)
    _named(given.line_to_earth, line_of, f"{around.path}.line_to_earth", _LINE_NAMES)
    return core.SupplyTest(
        readings(given.line_to_line, VOLTAGE, f"{around.path}.line_to_line"),
        readings(given.line_to_earth, VOLTAGE, f"{around.path}.line_to_earth"),
        given.loaded,
        given.frequency_hz,
        given.hookup(),
    )


def _current(given: LineCurrent, around: Around) -> core.CurrentTest:
    for names, key in ((given.readings, "readings"), (given.brake_a, "brake_a")):
        _named(names, line_of, f"{around.path}.{key}", _LINE_NAMES)
    amps = readings(given.readings, CURRENT, f"{around.path}.readings")
    return core.CurrentTest(amps, given.brake_a, given.loaded, given.hookup(), given.speed_rpm)


def _cable(given: CableAlone, around: Around) -> core.CableTest:
    field = LOW_OHM if given.end == "joined" else INSULATION
    return core.CableTest(
        readings(given.cores, field, f"{around.path}.cores"),
        readings(given.to_earth, INSULATION, f"{around.path}.to_earth"),
        given.end,
        around.meter,
        given.what,
    )


def _fuse(given: Fuse, around: Around) -> core.FuseTest:
    field = LOW_OHM if given.state == "out" else DEAD_VOLTAGE
    return core.FuseTest(given.id, given.state, optional(given.reading, field, f"{around.path}.reading"))


def _coil(given: ContactorCoil, around: Around) -> core.ContactorCoilTest:
    return core.ContactorCoilTest(
        optional(given.volts, DEAD_VOLTAGE, f"{around.path}.volts"),
        optional(given.ohms, LOW_OHM, f"{around.path}.ohms"),
        given.rated_v,
        given.pulls_in,
    )


def _as_text(value: str | float | None) -> str | None:
    return value if value is None or isinstance(value, str) else f"{value!r}"


def _capacitor(given: Capacitor, around: Around) -> core.CapacitorTest:
    return core.CapacitorTest(
        optional(_as_text(given.current_a), CURRENT, f"{around.path}.current_a"),
        optional(_as_text(given.voltage_v), VOLTAGE, f"{around.path}.voltage_v"),
        given.frequency_hz,
        given.marked_uf,
    )


def _rolls(given: LeadRoll, around: Around) -> core.LeadRollTest:
    return core.LeadRollTest(
        tuple(
            core.Roll(
                roll.map,
                readings(roll.amps, CURRENT, f"{around.path}.rolls.{i}.amps"),
                readings(roll.volts, VOLTAGE, f"{around.path}.rolls.{i}.volts"),
            )
            for i, roll in enumerate(given.rolls)
        ),
        given.rolled_at,
    )


def _dead(given: DeadProof, around: Around) -> core.DeadProofTest:
    path = around.path
    return core.DeadProofTest(
        optional(given.proved_before, VOLTAGE, f"{path}.proved_before"),
        readings(given.readings, DEAD_VOLTAGE, f"{path}.readings"),
        optional(given.proved_after, VOLTAGE, f"{path}.proved_after"),
    )


def _own_and_frame(given: Accessory | Brake, around: Around) -> tuple[Any, Any]:
    own = optional(given.reading, LOW_OHM, f"{around.path}.reading")
    return own, optional(given.to_frame, INSULATION, f"{around.path}.to_frame")


_READERS: dict[type, Callable[[Any, Around], core.Test]] = {
    WindingResistance: _resistance,
    Insulation: lambda g, a: core.InsulationTest(*_hold(g, a)),
    WindingToWinding: lambda g, a: core.WindingToWindingTest(*_hold(g, a)),
    SupplyVoltage: _supply,
    LineCurrent: _current,
    ContactDrop: lambda g, a: core.ContactTest(readings(g.readings, DROP, f"{a.path}.readings"), g.current_a),
    Accessory: lambda g, a: core.AccessoryTest(g.what, *_own_and_frame(g, a), a.conditions.winding_temperature_c),
    CableAlone: _cable,
    Fuse: _fuse,
    OverloadPole: lambda g, a: core.OverloadPoleTest(readings(g.readings, LOW_OHM, f"{a.path}.readings")),
    ContactorCoil: _coil,
    Capacitor: _capacitor,
    LeadRoll: _rolls,
    Brake: lambda g, a: core.BrakeTest(*_own_and_frame(g, a), g.lifts, g.holds),
    FrameTemperature: lambda g, a: core.FrameTemperatureTest(
        optional(g.reading, TEMPERATURE, f"{a.path}.reading"), a.conditions.ambient_temperature_c, g.spot
    ),
    Shaft: lambda g, _: core.ShaftTest("jammed" if g.turns == "locked" else g.turns, g.coupled),
    DeadProof: _dead,
}
