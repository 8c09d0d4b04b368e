"""A motor circuit as it is: nodes and ohms, three sources, one induction machine by its equivalent circuit.

Written from the handbook's chain and from textbook machine theory (per-unit equivalent circuit, symmetrical
components); figures of the machine are usual ones (common practice without source).
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

N3 = (1, 2, 3)
TURN = cmath.exp(2j * math.pi / 3)
OPEN_OHM, CONTACT_OHM = 1e9, 0.002
ROTOR, STATOR, LEAKAGE, MAGNET = 0.025, 0.03, 0.08, 3.0  # per unit of the machine


@dataclass(frozen=True)
class Site:
    """A position as it stands in the plant. control: the two lines that feed it, or `separate`."""

    volts: float = 480.0
    amps: float = 21.0
    wound: str = "wye"
    system: str = "wye-earthed"
    starter: str = "direct"
    disconnect: str = "panel"
    protection: str = "fuses"
    control: str = "L1-L2"
    on_record: bool = True
    control_v: float = 110.0
    control_fuse: bool = True
    chain: tuple[str, ...] = ("stop", "permissive", "overload", "start")
    protector: str = "none"
    brake: str = "none"
    brake_lines: str = "L1-L2"
    coil_ohm: float = 0.35
    core_ohm: float = 0.05

    @property
    def lines(self) -> tuple[int, int] | None:
        """Those that feed the control circuit."""
        return None if self.control == "separate" else (int(self.control[1]), int(self.control[4]))

    def run(self, n: int) -> list[tuple[str, str]]:
        """Points of one line in order, each with the part that leads to it."""
        out = [(f"supply-L{n}", "grid"), (f"protection-L{n}", "guard")]
        if self.disconnect == "panel":
            out.append((f"disconnect-L{n}", "switch"))
        out += [
            (f"line-L{n}", "lug"),
            (f"load-L{n}", "pole"),
            (f"overload-T{n}", "heater"),
            (f"cable-T{n}", "outgoing"),
        ]
        if self.disconnect == "local":
            out += [(f"local-L{n}", "core"), (f"local-T{n}", "isolator"), (f"box-T{n}", "tail")]
        else:
            out.append((f"box-T{n}", "core"))
        return [*out, (f"lead-{n}", "splice")]


@dataclass(frozen=True)
class Broken:
    """What is wrong, physically. ohm: of a part of a line (a name and the line); bridges: ohms between two points."""

    ohm: dict[tuple[str, int], float] = field(default_factory=dict)
    bridges: tuple[tuple[str, str, float], ...] = ()
    level: tuple[float, float, float] = (1.0, 1.0, 1.0)
    coil_times: float = 1.0  # impedance of each coil
    turned: int = 0
    shorted: tuple[int, float] = (0, 0.0)
    load: float = 0.88
    stalled: bool = False
    welded: tuple[int, ...] = ()
    feed: float = 1.0
    control_open: frozenset[str] = frozenset()
    held_closed: bool = False

    def __or__(self, other: Broken) -> Broken:
        a, b, c = (x * y for x, y in zip(self.level, other.level, strict=True))
        return Broken(
            {**other.ohm, **self.ohm}, self.bridges + other.bridges, (a, b, c), self.coil_times * other.coil_times,
            self.turned or other.turned, self.shorted if self.shorted[0] else other.shorted,
            max(self.load, other.load), self.stalled or other.stalled, self.welded + other.welded,
            self.feed * other.feed, self.control_open | other.control_open, self.held_closed or other.held_closed,
        )  # fmt: skip


@dataclass(frozen=True)
class Now:
    """State of the circuit while somebody measures; words of the open formats."""

    supply: str = "on"
    fuses: str = "in"
    local: str = "closed"
    contactor: str = "out"
    at: str = "rest"
    motor: str = "connected"
    load: str = "coupled"


class Net:
    """The circuit in one state, solved."""

    def __init__(self, site: Site, wrong: Broken, now: Now) -> None:
        self.site, self.wrong, self.now = site, wrong, now
        self.names: dict[str, int] = {"earth": -1}
        self.parts: list[tuple[str, str, complex]] = []
        self.currents: dict[str, complex] = {}
        live = now.supply == "on"
        for n in N3:
            self._line(n, live)
        self._machine(live)
        self._control(live)
        for a, b, ohm in wrong.bridges:
            self._put(a, b, 1 / ohm)
        self._put("frame", "earth", 1 / 0.02)
        self._solve()

    def _put(self, a: str, b: str, siemens: complex) -> None:
        for name in (a, b):
            self.names.setdefault(name, len(self.names) - 1)
        self.parts.append((a, b, siemens))

    def _line(self, n: int, live: bool) -> None:
        now, site = self.now, self.site
        shut = {
            "guard": now.fuses == "in" and (live or site.disconnect == "panel" or site.protection == "fuses"),
            "switch": live,
            "pole": now.contactor == "in" or n in self.wrong.welded,
            "isolator": now.local != "open",
            "outgoing": now.motor != "lifted-at-starter",
            "splice": now.motor != "lifted-at-box",
        }
        own = {"heater": 0.8 / site.amps, "core": site.core_ohm}
        before = f"source-{n}"
        for point, part in site.run(n):
            ohm = self.wrong.ohm.get((part, n), own.get(part, CONTACT_OHM)) if shut.get(part, True) else OPEN_OHM
            self._put(before, point, 1 / ohm)
            before = point
        self._put(before, f"in-{n}", 1 / CONTACT_OHM)
        self._put(f"in-{n}", "frame", 1 / 4e9)
        if live:
            self._source(n)

    def _source(self, n: int) -> None:
        inner = 1 / (0.004 + 0.012j)
        volts = self.site.volts / math.sqrt(3) * self.wrong.level[n - 1] * TURN ** (1 - n)
        self._put("zero", f"source-{n}", inner)
        for at, sign in ((f"source-{n}", 1), ("zero", -1)):
            self.currents[at] = self.currents.get(at, 0) + sign * volts * inner
        system = self.site.system
        if n == 1:
            ohm = {"wye-earthed": 0.05, "high-resistance-earthed": 280.0}.get(system, 1e6)
            self._put("zero", "earth", 1 / ohm)
        if system == "corner-earthed" and n == 2:
            self._put(f"source-{n}", "earth", 1 / 0.05)
        if system == "unearthed":
            self._put(f"source-{n}", "earth", 1 / -2e5j)

    def machine(self) -> tuple[complex, complex]:
        """Admittances of a coil in positive and negative sequence, siemens."""
        site = self.site
        across = site.volts if site.wound == "delta" else site.volts / math.sqrt(3)
        amps = site.amps / math.sqrt(3) if site.wound == "delta" else site.amps
        level = sum(self.wrong.level) / 3
        turning = self.now.at == "run" and not self.wrong.stalled
        load = self.wrong.load if self.now.load == "coupled" else 0.08
        slip = min(1.0, 0.028 * load / level**2) if turning else 1.0

        def seen(at: float) -> complex:
            rotor = ROTOR / at + 1j * LEAKAGE
            return STATOR + 1j * LEAKAGE + rotor * 1j * MAGNET / (rotor + 1j * MAGNET)

        base = amps / across / self.wrong.coil_times
        return base / seen(max(slip, 1e-4)), base / seen(2 - slip)

    def _machine(self, live: bool) -> None:
        site, wrong = self.site, self.wrong
        ends = [(f"cut-{n}", "star" if site.wound == "wye" else f"in-{n % 3 + 1}") for n in N3]
        for n in N3:
            self._put(f"in-{n}", f"cut-{n}", 1 / wrong.ohm.get(("coil", n), CONTACT_OHM))
        if not live:
            for n, (a, b) in zip(N3, ends, strict=True):
                share = 1 - 0.4 * wrong.shorted[1] if wrong.shorted[0] == n else 1.0
                self._put(a, b, 1 / (site.coil_ohm * wrong.coil_times * share))
            return
        positive, negative = self.machine()
        back = np.array([[1, 1, 1], [1, TURN**2, TURN], [1, TURN, TURN**2]])
        matrix = back @ np.diag([negative * 1.5, positive, negative]) @ np.linalg.inv(back)
        signs = np.array([-1 if n == wrong.turned else 1 for n in N3])
        matrix = matrix * np.outer(signs, signs)
        if wrong.shorted[0]:
            k = wrong.shorted[0] - 1
            matrix[k, k] += wrong.shorted[1] * negative
        for end in {point for pair in ends for point in pair}:
            self.names.setdefault(end, len(self.names) - 1)
        self.coils = (ends, matrix)

    def _control(self, live: bool) -> None:
        site = self.site
        if site.lines is not None:
            a, b = (f"line-L{n}" for n in site.lines)
            idle = site.volts**2 / 10
            self._put(a, b, 1 / (idle * (0.25 + 0.97j)) if live else 1 / max(3.0, idle * 0.02))
        if live:
            return
        wrong, before = self.wrong.control_open, "control-L"
        self._put("control-L", "control-N", 1 / 2.5)
        if site.control_fuse:
            self._put(before, "control-F", 1 / (OPEN_OHM if "fuse" in wrong else CONTACT_OHM))
            before = "control-F"
        for k, device in enumerate(site.chain):
            shut = device not in wrong and (device != "start" or self.now.at != "rest")
            self._put(before, f"chain-{k + 1}", 1 / (CONTACT_OHM if shut else OPEN_OHM))
            before = f"chain-{k + 1}"
        self._put(before, "coil-A1", 1 / CONTACT_OHM)
        self._put("coil-A1", "coil-A2", 1 / (OPEN_OHM if "coil" in wrong else site.control_v**2 / 25))
        self._put("coil-A2", "control-N", 1 / CONTACT_OHM)

    def _solve(self) -> None:
        size = len(self.names) - 1
        matrix = np.eye(size, dtype=complex) * 1e-11
        for a, b, siemens in self.parts:
            self._stamp(matrix, (a, b), (a, b), siemens)
        for i, one in enumerate(getattr(self, "coils", ((), None))[0]):
            for j, other in enumerate(self.coils[0]):
                self._stamp(matrix, one, other, self.coils[1][i, j])
        injected = np.zeros(size, dtype=complex)
        for name, current in self.currents.items():
            injected[self.names[name]] += current
        self.z = np.linalg.inv(matrix)
        self.v = self.z @ injected

    def _stamp(self, matrix, one: Sequence[str], other: Sequence[str], siemens: complex) -> None:
        for point, sign in zip(one, (1, -1), strict=True):
            for also, its in zip(other, (1, -1), strict=True):
                i, j = self.names[point], self.names[also]
                if i >= 0 and j >= 0:
                    matrix[i, j] += sign * its * siemens

    def _unit(self, a: str, b: str) -> np.ndarray:
        unit = np.zeros(len(self.names) - 1)
        for name, sign in ((a, 1), (b, -1)):
            if self.names[name] >= 0:
                unit[self.names[name]] = sign
        return unit

    def ohms(self, a: str, b: str) -> float:
        """Between two points, Ω."""
        unit = self._unit(a, b)
        return float(abs(unit @ self.z @ unit))

    def volts(self, a: str, b: str, meter_ohm: float = 3000.0) -> float:
        """As a meter of so many ohms shows them."""
        unit = self._unit(a, b)
        return float(abs(unit @ self.v * meter_ohm / (meter_ohm + unit @ self.z @ unit)))

    def amps(self, n: int) -> float:
        """Through the overload of a line."""
        a, b = f"load-L{n}", f"overload-T{n}"
        siemens = next(s for x, y, s in self.parts if (x, y) == (a, b))
        return float(abs(self._unit(a, b) @ self.v * siemens))

    def torque(self) -> float:
        """At standstill, in parts of what full volts give; below nothing it turns backwards."""
        ends, matrix = self.coils
        coil = np.array([self._unit(a, b) @ self.v for a, b in ends])
        current = matrix @ coil
        turn = np.array([1, TURN, TURN**2])
        forward, backward = abs(turn @ current) / 3, abs(turn.conj() @ current) / 3
        across = self.site.volts if self.site.wound == "delta" else self.site.volts / math.sqrt(3)
        full = abs(across * self.machine()[1])
        return float((forward**2 - backward**2) / full**2)


def control_volts(site: Site, wrong: Broken, now: Now) -> dict[str, float]:
    """Volts of each point of the control circuit against control-N, as a low-impedance meter shows them."""
    fed = 0.0
    if now.supply == "on":
        fed = wrong.feed * site.control_v
        if site.lines is not None:
            a, b = site.lines
            fed *= (
                Net(site, wrong, replace(now, contactor="in" if now.at == "run" else now.contactor)).volts(
                    f"line-L{a}", f"line-L{b}"
                )
                / site.volts
            )
    out = {"control-N": 0.0, "coil-A2": 0.0, "control-L": fed}
    if site.control_fuse:
        fed = 0.0 if "fuse" in wrong.control_open else fed
        out["control-F"] = fed
    for k, device in enumerate(site.chain):
        given = device != "start" or now.at != "rest" or wrong.held_closed
        fed = fed if device not in wrong.control_open and given else 0.0
        out[f"chain-{k + 1}"] = fed
    return out | {"coil-A1": fed}
