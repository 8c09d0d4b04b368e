"""What the supply will do to a motor as it is joined: shown before it is closed, refusing nothing."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.findings import Finding, act, sound, watch
from grimcoil.core.stator.connect import ConnectionResult, Supply, Wiring, judge_connection
from grimcoil.core.stator.connections import Connection
from grimcoil.core.stator.rating import Rated, designs
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.core.subject import Subject

INSIDE = {"three-lead-wye": "Y", "three-lead-delta": "D", "nine-lead-wye": "Y", "nine-lead-delta": "D"}
MUCH, SOME = 10.0, 5.0


@dataclass(frozen=True, slots=True)
class Reconnection:
    """What is said, and where the scheme is known, the joining and its coils."""

    finding: Finding
    supply: Supply | None = None
    scheme: str | None = None
    connection: Connection | None = None
    result: ConnectionResult | None = None


def reconnection(subject: Subject) -> Reconnection | None:
    """The motor joined for the voltage on record, on its position's system; None where either isn't on record."""
    plate, system_v = subject.plate, subject.system_voltage_v
    in_use = plate.voltage_in_use_v
    if in_use is None or not system_v:
        return None
    scheme = subject.winding.lead_scheme
    supply = Supply((system_v, system_v, system_v))
    connection = _connection(scheme, in_use, plate.rated_voltage_v)
    if connection is None:
        return Reconnection(_by_plate(in_use, system_v), supply)
    rated = _rated(scheme, plate.rated_voltage_v)
    result = judge_connection(scheme, rated, supply, Wiring(connection.lines, connection.joined))
    told = next((f for f in result.findings if f.code != "ambiguous-rating"), _by_plate(in_use, system_v))
    return Reconnection(told, supply, scheme, connection, result)


def _connection(scheme: str, in_use_v: float, rated_v: tuple[float, ...]) -> Connection | None:
    """The joining for the voltage in use, where scheme and plate leave one."""
    if scheme not in SCHEMES:
        return None
    readings = designs(_rated(scheme, rated_v), scheme)
    chosen = {d.connection for reading in readings for d in reading if d.rated.voltage_v == in_use_v}
    return chosen.pop() if len(chosen) == 1 else None


def rated_of(subject: Subject) -> tuple[Rated, ...]:
    """The plate's voltages with the joining each is of, where the scheme tells it. V, as on the plate (no source)."""
    return _rated(subject.winding.lead_scheme, subject.plate.rated_voltage_v)


def _rated(scheme: str, rated_v: tuple[float, ...]) -> tuple[Rated, ...]:
    return tuple(Rated(v, INSIDE.get(scheme)) for v in sorted(rated_v))


def _by_plate(in_use_v: float, system_v: float) -> Finding:
    """Without a scheme only the level can be said."""
    off = 100 * (system_v / in_use_v - 1)
    text = f"Joined for {in_use_v:g} V, this position has {system_v:g} V: coils at {100 + off:.0f} % of their design"
    if abs(off) > MUCH:
        return act("over-voltage" if off > 0 else "under-voltage", f"{text}. Don't close it.")
    return watch("voltage-level-watch", f"{text}.") if abs(off) > SOME else sound("right", f"{text}.")
