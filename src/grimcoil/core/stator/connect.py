"""Is a connection right for its supply? Each coil's volts against its design, and its angle against the others."""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from grimcoil.core.findings import Finding, Result, Verdict, act, sound, unproven, watch
from grimcoil.core.limits import reaches
from grimcoil.core.readings import three_digits
from grimcoil.core.stator.coils import Group, Scheme
from grimcoil.core.stator.connections import Connection, connections_of
from grimcoil.core.stator.idle import idle_coils
from grimcoil.core.stator.rating import Design, Rated, designs, fits, start_of
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.core.stator.volts import CoilVolts, Three, coil_volts, line_potentials

TOO_HIGH, TOO_LOW = 110.0, 90.0
OFF_AXIS_DEG = 20.0
BURNS = 130.0
SHORT_OF = 95.0
CIRCULATES = 0.05


@dataclass(frozen=True, slots=True)
class Supply:
    """Line volts L1-L2, L2-L3, L3-L1; frequency of supply and plate, Hz, where they may differ."""

    volts: Three
    frequency_hz: float | None = None
    rated_frequency_hz: float | None = None

    @property
    def mean_v(self) -> float:
        """Mean line volts. V (computed)."""
        return sum(self.volts) / 3

    @property
    def per_hertz(self) -> float:
        """Volts at the plate's frequency that would saturate the iron alike (computed)."""
        if not self.frequency_hz or not self.rated_frequency_hz:
            return 1.0
        return self.rated_frequency_hz / self.frequency_hz


@dataclass(frozen=True, slots=True)
class Wiring:
    """Leads on L1, L2, L3, and leads joined with one another."""

    lines: tuple[Group, ...]
    joined: tuple[Group, ...] = ()


@dataclass(frozen=True, slots=True)
class Duty:
    """What the connection is for."""

    speed: str | None = None
    mode: str = "run"
    duty: str | None = None


@dataclass(frozen=True, slots=True)
class CoilState:
    """One half-coil: volts, percent of design (volts per hertz), angle of its phasor, and how far it is off its axis
    against the others (None where no line feeds it). fed: a line drives current through it. times_rated: current of a
    coil that is closed on itself without a line, as a multiple of its rated one.
    """

    coil: str
    volts: float
    percent_of_design: float | None
    angle_deg: float
    off_axis_deg: float | None
    fed: bool = True
    times_rated: float | None = None


@dataclass(frozen=True, slots=True)
class ConnectionResult(Result):
    """Coils in the scheme's order, the design they are judged by, and the right connections for this supply."""

    coils: tuple[CoilState, ...] = ()
    design_v: float | None = None
    sequence: str | None = None
    right: tuple[Connection, ...] = ()


def judge_connection(
    scheme_name: str, rated: tuple[Rated, ...], supply: Supply, wiring: Wiring, duty: Duty | None = None
) -> ConnectionResult:
    """Judge a joining of the leads. Raises Refusal for a lead that isn't there or volts that close no triangle."""
    duty = duty or Duty()
    scheme = SCHEMES[scheme_name]
    readings = designs(rated, scheme_name, duty.speed, duty.duty)
    solved = coil_volts(scheme, wiring.lines, wiring.joined, line_potentials(supply.volts))
    if solved.shorted:
        pairs = " and ".join(f"L{a} with L{b}" for a, b in solved.shorted)
        text = f"These joints short-circuit {pairs}. Do not switch on."
        return ConnectionResult(findings=(act("line-short", text),))
    if not readings:
        text = "No voltage of this plate fits a connection of this scheme; check Y or D behind each voltage."
        states = _states(scheme, solved, None, supply, None)
        return ConnectionResult(coils=states, findings=(unproven("ambiguous-rating", text),))
    judged = [_judged(reading, solved, scheme, supply, duty) for reading in readings]
    result = judged[0]
    if _ambiguous(readings):
        result = _undecided(readings, judged)
    return replace(result, right=tuple(right_for(readings, supply, duty)))


def _judged(
    reading: tuple[Design, ...], solved: CoilVolts, scheme: Scheme, supply: Supply, duty: Duty
) -> ConnectionResult:
    """By one reading of the plate; the rated voltage nearest to the supply governs."""
    off = [abs(d.rated.voltage_v - supply.mean_v * supply.per_hertz) for d in reading]
    nearest = [d for d, one in zip(reading, off, strict=True) if one <= min(off) * (1 + 1e-9)]
    tried = [_as(design, solved, scheme, supply, duty) for design in nearest]
    at = next((i for i, one in enumerate(tried) if one.verdict is not Verdict.ACT), 0)
    design, result = nearest[at], tried[at]
    if duty.mode == "start" and result.verdict is not Verdict.SOUND:
        direct = _as(design, solved, scheme, supply, replace(duty, mode="run"))
        if direct.verdict is not Verdict.ACT:
            said = [replace(f, text=f"Direct start in the running connection. {f.text}") for f in direct.findings]
            result = replace(direct, findings=tuple(said))
    misfit = _misfit(reading, scheme)
    if misfit:
        result = replace(result, findings=(*misfit, *(f for f in result.findings if f.code != "right")))
    return result


def _as(design: Design, solved: CoilVolts, scheme: Scheme, supply: Supply, duty: Duty) -> ConnectionResult:
    """Against one design, to run or to start."""
    expected = _expected(design, duty, scheme)
    sequence, offs = _axes(solved, design, duty, scheme, supply)
    states = _states(scheme, solved, design, supply, offs)
    findings = _findings(states, expected, duty, design, supply)
    return ConnectionResult(coils=states, design_v=design.half_coil_v, sequence=sequence, findings=tuple(findings))


def _ambiguous(readings: Sequence[tuple[Design, ...]]) -> bool:
    halves = [reading[0].half_coil_v for reading in readings]
    return max(halves) / min(halves) > 1.02


def _undecided(readings: Sequence[tuple[Design, ...]], judged: Sequence[ConnectionResult]) -> ConnectionResult:
    """The plate reads more than one way; only what every reading condemns is said for sure."""
    ways = "; ".join(
        f"read as {reading[0].connection.purpose} at {reading[0].rated.voltage_v:g} V,"
        f" coils at up to {max(state.percent_of_design or 0.0 for state in result.coils):.0f} %"
        for reading, result in zip(readings, judged, strict=True)
    )
    text = f"The plate has to say Y or D for each voltage (with two speeds, the duty): {ways}."
    surely = set.intersection(*({f.code for f in one.findings if f.severity is Verdict.ACT} for one in judged))
    sure = [finding for finding in judged[0].findings if finding.code in surely]
    return replace(judged[0], findings=(unproven("ambiguous-rating", text), *sure))


def _misfit(reading: tuple[Design, ...], scheme: Scheme) -> list[Finding]:
    """Voltages of a plate that this scheme can't all give."""
    if fits(reading):
        return []
    low, high = min(reading, key=lambda d: d.half_coil_v), max(reading, key=lambda d: d.half_coil_v)
    text = (
        f"The plate's voltages don't go with {scheme.title.lower()}: in {high.connection.purpose} at"
        f" {high.rated.voltage_v:g} V each coil gets {100 * high.half_coil_v / low.half_coil_v:.0f} % of what it"
        f" gets in {low.connection.purpose} at {low.rated.voltage_v:g} V."
    )
    return [unproven("ratio-misfit", text)]


def right_for(readings: Sequence[tuple[Design, ...]], supply: Supply, duty: Duty) -> list[Connection]:
    """Connections that give the half-coils within 10 % of their design on this supply."""
    out = []
    for design in (d for reading in readings for d in reading):
        wanted = design.rated.voltage_v
        if abs(supply.mean_v * supply.per_hertz / wanted - 1) <= (TOO_HIGH - 100) / 100:
            out.append(start_of(design) if duty.mode == "start" else design.connection)
    return list(dict.fromkeys(out))


def _expected(design: Design, duty: Duty, scheme: Scheme) -> CoilVolts:
    """Phasors of the right connection at the rated voltage; of the start, where a start is meant."""
    connection = start_of(design) if duty.mode == "start" else design.connection
    volts = design.rated.voltage_v
    return coil_volts(scheme, connection.lines, connection.joined, line_potentials((volts, volts, volts)))


_ORDERS = (("forward", (0, 1, 2)), ("forward", (1, 2, 0)), ("forward", (2, 0, 1)), ("reverse", (1, 0, 2)),
           ("reverse", (0, 2, 1)), ("reverse", (2, 1, 0)))  # fmt: skip


def _axes(
    solved: CoilVolts, design: Design, duty: Duty, scheme: Scheme, supply: Supply
) -> tuple[str | None, list[float | None]]:
    """Take out the common rotation and the order of the lines that leave the fewest coils off their axis. The right
    connection is solved on this very supply, so that uneven lines turn no coil.
    """
    right = start_of(design) if duty.mode == "start" else design.connection
    potentials = line_potentials(supply.volts)
    offs: list[float | None] = [None] * len(solved.volts)
    tries: list[tuple[str, list[float], list[int]]] = []
    for name, order in _ORDERS:
        wanted = coil_volts(scheme, right.lines, right.joined, [potentials[i] for i in order])
        live = [i for i, idle in enumerate(solved.idle) if not idle and not wanted.idle[i]]
        angles = [cmath.phase(solved.volts[i] / wanted.volts[i]) for i in live]
        tries += [(name, [_wrapped(angle - common) for angle in angles], live) for common in angles]
    if not tries:
        return None, offs
    name, rest, live = min(tries, key=lambda one: round(sum(min(abs(a), math.pi / 3) for a in one[1]), 6))
    near = [angle for angle in rest if abs(angle) < math.radians(OFF_AXIS_DEG)]
    middle = sum(near) / len(near)
    for i, angle in zip(live, rest, strict=True):
        offs[i] = math.degrees(_wrapped(angle - middle))
    return name, offs


def _wrapped(angle: float) -> float:
    return (angle + math.pi) % (2 * math.pi) - math.pi


def _states(
    scheme: Scheme, solved: CoilVolts, design: Design | None, supply: Supply, offs: Sequence[float | None] | None
) -> tuple[CoilState, ...]:
    base = design.half_coil_v if design else max((abs(v) for v in solved.volts), default=1.0) or 1.0
    field = idle_coils(scheme, solved.ends, solved.volts, solved.idle, base / supply.per_hertz)
    return tuple(
        CoilState(
            coil.name,
            abs(volts),
            None if design is None else 100 * abs(volts) * supply.per_hertz / design.half_coil_v,
            math.degrees(cmath.phase(volts)) if abs(volts) > 1e-9 else 0.0,
            None if offs is None else offs[i],
            not solved.idle[i],
            field.times[i],
        )
        for i, (coil, volts) in enumerate(zip(scheme.coils, field.volts, strict=True))
    )


def _findings(
    states: Sequence[CoilState], expected: CoilVolts, duty: Duty, design: Design, supply: Supply
) -> list[Finding]:
    wanted = [100 * abs(v) / design.half_coil_v for v in expected.volts]
    closed = [s for s in states if s.times_rated is not None]
    dead = [s.coil for s, w in zip(states, wanted, strict=True) if w > 1 and not s.fed and s not in closed]
    stray = [s.coil for s, w in zip(states, wanted, strict=True) if w <= 1 and s.fed]
    live = [(s, w) for s, w in zip(states, wanted, strict=True) if w > 1 and s.fed]
    out = [*_closed(closed), *_open(dead, len(live)), *_stray(stray), *_turned(states)]
    shares = [100 * (s.percent_of_design or 0.0) / w for s, w in live]
    if shares and max(shares) > TOO_HIGH:
        out.append(_high(max(shares), live, supply))
    if shares and min(shares) < TOO_LOW:
        out.append(_low(min(shares), duty))
    if out or not live:
        return out or [act("open-coil", "No coil carries current: the lines go nowhere.")]
    way = " to start" if duty.mode == "start" else ""
    right = sound("right", f"Right{way}: every coil within 10 % of its design volts and on its axis.")
    return [right, *_short_of(min(shares), design, supply)]


def _short_of(share: float, design: Design, supply: Supply) -> list[Finding]:
    """Within its band, but well under the voltage this joining is for."""
    if reaches(share, SHORT_OF):
        return []
    torque, amps = share**2 / 100, 100 * (100 / share - 1)
    text = (
        f"{three_digits(supply.mean_v)} V on the joining for {design.rated.voltage_v:g} V: torque about {torque:.0f} %,"
        f" current about {amps:.0f} % more at full load."
    )
    return [watch("under-voltage", text)]


def _closed(closed: Sequence[CoilState]) -> list[Finding]:
    if not closed:
        return []
    times = max(s.times_rated or 0.0 for s in closed)
    names = ", ".join(s.coil for s in closed)
    how = f"about {times:.1f} times its rated current" if times > CIRCULATES else "circulating current of the harmonics"
    text = f"Coil {names} is a closed loop and acts as a shorted secondary: {how}. It burns out."
    return [act("closed-idle-winding", f"{text} Open the loop before you switch on.")]


def _open(dead: Sequence[str], others: int) -> list[Finding]:
    if not dead:
        return []
    rest = "the others carry the load: it runs hot, weak or not at all" if others else "nothing runs"
    return [act("open-coil", f"Coil {', '.join(dead)} is left without current; {rest}.")]


def _stray(stray: Sequence[str]) -> list[Finding]:
    if not stray:
        return []
    text = (
        f"Coil {', '.join(stray)} carries current but must not in this connection. Disconnect it before you switch on."
    )
    return [act("over-voltage", text)]


def _turned(states: Sequence[CoilState]) -> list[Finding]:
    turned = [s for s in states if s.off_axis_deg is not None and abs(s.off_axis_deg) > OFF_AXIS_DEG]
    if not turned:
        return []
    names = ", ".join(s.coil for s in turned)
    most = max(turned, key=lambda s: abs(s.off_axis_deg or 0.0))
    angle = abs(most.off_axis_deg or 0.0)
    how = "turned round (start for finish)" if angle > 150 else f"{angle:.0f}° off its axis"
    return [act("reversed-coil", f"Coil {names} {how} against the others: it growls, draws high unequal current.")]


def _high(share: float, live: Sequence[tuple[CoilState, float]], supply: Supply) -> Finding:
    worst = max(live, key=lambda pair: pair[0].percent_of_design or 0.0)[0]
    per_hertz = " (volts per hertz)" if supply.per_hertz != 1.0 else ""
    text = f"Coil {worst.coil} gets {three_digits(worst.volts)} V, {share:.0f} % of its design{per_hertz}"
    if share > BURNS:
        return act("over-voltage", f"{text}. It burns out. Do not switch on.")
    return act("over-voltage", f"{text}: it saturates and runs hot.")


def _low(share: float, duty: Duty) -> Finding:
    torque = (share / 100) ** 2
    text = f"A coil gets {share:.0f} % of its design volts, torque about {100 * torque:.0f} %: slow or no start"
    return act("under-voltage", f"{text}, hot under load." if duty.mode == "run" else f"{text}.")


def right_connections(
    scheme: str, rated: tuple[Rated, ...], supply: Supply, duty: Duty | None = None
) -> list[Connection]:
    """The table's connections that suit this plate on this supply; all of the scheme's where the plate is silent."""
    duty = duty or Duty()
    if not rated:
        return connections_of(scheme, duty.speed, duty.mode, duty.duty)
    return right_for(designs(rated, scheme, duty.speed, duty.duty), supply, duty)
