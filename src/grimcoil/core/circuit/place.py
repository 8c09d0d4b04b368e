"""The circuit of a position as far as a walk needs it: which elements and points are there, and only those."""

from __future__ import annotations

from dataclasses import dataclass

LINES = (1, 2, 3)
NEIGHBOURS = ((1, 2), (2, 3), (3, 1))
FEEDS = ("L1-L2", "L2-L3", "L3-L1", "separate")  # of the control circuit
# Elements in their order from supply to shaft; the control circuit stands beside them.
ELEMENTS = (
    "supply", "protection", "disconnect", "control", "coil", "contactor", "starter", "overload", "cable", "local",
    "box", "winding", "protector", "brake", "shaft", "load",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Place:
    """A position with the plate of its motor. volts: line to line; amps: at full load, of the voltage in use.

    disconnect: `panel`, `local` or `none`; protection: `fuses` or `breaker`; control: `L1-L2` … or `separate`.
    feeds: what may feed the control circuit where nothing on record says it. leads: those brought out.
    control_va: what its transformer takes idle; nobody knows it, so that several are weighed.
    """

    volts: float = 480.0
    amps: float = 21.0
    rated_volts: float = 460.0
    system: str = "wye-earthed"
    starter: str = "direct"
    disconnect: str = "panel"
    protection: str = "fuses"
    control: str = "L1-L2"
    control_volts: float = 110.0
    control_fuse: bool = True
    chain: tuple[str, ...] = ("stop", "overload", "start")
    protector: str = "none"
    brake: str = "none"
    brake_lines: tuple[int, int] = (1, 2)
    dial_amps: float | None = None
    reset: str = "hand"
    cable_ohm: float = 0.05
    wound: str = "wye"
    leads: tuple[int, ...] = LINES
    phase_ohm: float = 0.35
    no_insulation_test: bool = False
    feeds: tuple[str, ...] = ()
    control_va: float = 8.0

    @property
    def electronics(self) -> bool:
        """A drive or soft starter hangs on the circuit."""
        return self.starter in ("drive", "soft")

    @property
    def control_lines(self) -> tuple[int, int] | None:
        """Which lines feed the control circuit; None: a supply of its own."""
        if self.control == "separate":
            return None
        first, second = self.control.split("-")
        return int(first[1]), int(second[1])

    def stages(self) -> list[str]:
        """Points of one line from supply to motor, `{n}` for the line; what isn't there is left out."""
        out = ["supply-L{n}", "protection-L{n}"]
        if self.disconnect == "panel":
            out.append("disconnect-L{n}")
        out += ["line-L{n}", "load-L{n}", "overload-T{n}", "cable-T{n}"]
        if self.disconnect == "local":
            out += ["local-L{n}", "local-T{n}"]
        return [*out, "box-T{n}", "lead-{n}"]

    def points(self) -> frozenset[str]:
        """Every point a probe can touch."""
        out = {stage.format(n=n) for stage in self.stages() for n in LINES} | {"frame", "earth"}
        out |= {f"lead-{n}" for n in self.leads}
        out |= {"control-L", "control-N", "coil-A1", "coil-A2", *(f"chain-{k + 1}" for k in range(len(self.chain)))}
        if self.control_fuse:
            out.add("control-F")
        if self.protector == "brought-out":
            out |= {"P1", "P2"}
        if self.starter == "star-delta":
            out |= {f"{kind}-T{n}" for kind in ("star", "delta") for n in LINES}
        if self.electronics or self.starter in ("autotransformer", "part-winding"):
            out |= {f"bypass-T{n}" for n in LINES}
        return frozenset(out)

    def net_point(self, point: str) -> str:
        """The node of the network that a probe at this point touches; another lead of a coil is its far end.

        Empty where the network doesn't reach: leads in the middle of a winding, joints between its parts.
        """
        number = point.removeprefix("lead-")
        if number == point or int(number) in LINES:
            return point
        if self.leads != (1, 2, 3, 4, 5, 6):
            return ""
        coil = int(number) - 3
        return f"winding-{coil % 3 + 1}" if self.wound == "delta" else f"inner-{coil}"

    def live_when_off(self) -> frozenset[str]:
        """Points that stay live with the supply isolated as locked and proved."""
        stages = ["supply-L{n}", *(["protection-L{n}"] if self.disconnect == "panel" else [])]
        return frozenset(stage.format(n=n) for stage in stages for n in LINES)


@dataclass(frozen=True, slots=True)
class State:
    """State of the circuit while something is measured; words as in the open formats."""

    supply: str = "on"
    fuses: str = "in"
    local: str = "closed"
    contactor: str = "out"
    at: str = "rest"
    motor: str = "connected"
    load: str = "coupled"

    @property
    def live(self) -> bool:
        """Current may come."""
        return self.supply == "on"

    @property
    def closing(self) -> bool:
        """It counts as closing onto what may be a fault."""
        return self.live and (self.contactor == "in" or self.at in ("start", "run"))
