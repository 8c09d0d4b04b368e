"""What each fault of the handbook's list does to a circuit, and what it leaves for eye, nose and ear. From its text."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from random import Random

from tools.plants.circuit import N3, OPEN_OHM, Broken, Site

NEXT = {1: 2, 2: 3, 3: 1}


@dataclass(frozen=True)
class Fault:
    """A fault by its name in the open formats. seen: answers that it gives by itself; after: how the plant was left.

    tripped: the overload on arrival; blown: lines whose fuse went (or all, a breaker that tripped).
    """

    name: str
    line: str | None
    broken: Broken
    seen: dict[str, str] = field(default_factory=dict)
    place: str | None = None


Maker = Callable[[Site, Random], Fault]


def line_of(dice: Random) -> tuple[int, str]:
    """One of three."""
    n = dice.choice(N3)
    return n, f"L{n}"


def cut(name: str, part: str) -> Maker:
    """One line is open at a part."""

    def made(_: Site, dice: Random) -> Fault:
        n, line = line_of(dice)
        return Fault(name, line, Broken({(part, n): OPEN_OHM}))

    return made


def bad(name: str, part: str, ohms: tuple[float, ...], place: str | None = None, **seen: str) -> Maker:
    """One line has ohms where there should be none."""

    def made(_: Site, dice: Random) -> Fault:
        n, line = line_of(dice)
        return Fault(name, line, Broken({(part, n): dice.choice(ohms) * dice.uniform(0.8, 1.2)}), dict(seen), place)

    return made


def everything(name: str, part: str, **seen: str) -> Maker:
    """All three are open."""
    return lambda _, __: Fault(name, None, Broken({(part, n): OPEN_OHM for n in N3}), dict(seen))


def control(name: str, what: str, **seen: str) -> Maker:
    """The control circuit is open at one place."""
    return lambda _, __: Fault(name, None, Broken(control_open=frozenset({what})), dict(seen))


def plain(name: str, broken: Broken | None = None, **seen: str) -> Maker:
    """Nothing of the circuit, or one figure of it."""
    return lambda _, __: Fault(name, None, broken or Broken(), dict(seen))


def bridge(name: str, points: str, ohms: tuple[float, ...], **seen: str) -> Maker:
    """A path where there should be none: `{n}` and `{m}` are two lines."""

    def made(_: Site, dice: Random) -> Fault:
        n = dice.choice(N3)
        m = NEXT[n]
        a, b = points.format(n=n, m=m).split()
        line = f"L{n}-L{m}" if "{m}" in points else f"L{n}"
        return Fault(name, line, Broken(bridges=((a, b, dice.choice(ohms) * dice.uniform(0.7, 1.4)),)), dict(seen))

    return made


def coil_open(site: Site, dice: Random) -> Fault:
    """One coil of the winding is open: a line in wye, between two lines in delta."""
    n, line = line_of(dice)
    name = line if site.wound == "wye" else f"L{n}-L{NEXT[n]}"
    return Fault("winding-open", name, Broken({("coil", n): OPEN_OHM}), {"burn-look": "motor"} if n == 1 else {})


def turns(site: Site, dice: Random) -> Fault:
    """Some turns of a coil are shorted."""
    n, line = line_of(dice)
    name = line if site.wound == "wye" else f"L{n}-L{NEXT[n]}"
    seen = {"burn-look": dice.choice(["motor", "none"]), "frame-touch": "too-hot"}
    return Fault("winding-turn-short", name, Broken(shorted=(n, dice.choice((0.07, 0.14, 0.25)))), seen)


def reversed_phase(site: Site, dice: Random) -> Fault:
    """The two ends of one coil are exchanged."""
    n, line = line_of(dice)
    name = line if site.wound == "wye" else f"L{n}-L{NEXT[n]}"
    return Fault("phase-reversed", name, Broken(turned=n), {"connection-look": "wrong", "changed-lately": "motor"})


def damp(_: Site, dice: Random) -> Fault:
    """Wet through: kilohms to frame, alike on all leads."""
    ohm = dice.choice((3e3, 3e4, 2e5, 7e5))
    paths = tuple((f"in-{n}", "frame", 3 * ohm * dice.uniform(0.95, 1.05)) for n in N3)
    return Fault("winding-damp", None, Broken(bridges=paths), {"changed-lately": "cleaning"})


def low(_: Site, dice: Random) -> Fault:
    """All three lines are down."""
    factor = dice.choice((0.87, 0.82, 0.72))
    return Fault("volts-low", None, Broken(level=(factor, factor, factor)))


def uneven(_: Site, dice: Random) -> Fault:
    """One line is down."""
    n, line = line_of(dice)
    level = [1.0, 1.0, 1.0]
    level[n - 1] = dice.choice((0.92, 0.87))
    return Fault("volts-unbalanced", line, Broken(level=(level[0], level[1], level[2])))


def device(site: Site, dice: Random) -> Fault:
    """One contact of the chain is open, whichever."""
    others = [one for one in site.chain if one not in ("overload", "protector")]
    return Fault("control-chain-open", None, Broken(control_open=frozenset({dice.choice(others)})))


def protector(name: str, **seen: str) -> Maker:
    """The motor's own protector is open, where it sits."""

    def made(site: Site, _: Random) -> Fault:
        if site.protector == "control-chain":
            return Fault(name, None, Broken(control_open=frozenset({"protector"})), dict(seen))
        return Fault(name, None, Broken({("coil", n): OPEN_OHM for n in N3}), dict(seen))

    return made


WELDED: tuple[tuple[int, ...], ...] = ((1, 2, 3), (1, 2), (2, 3))
# By name, with what the operator complains of (the commonest first); `*` takes it from what the circuit does.
FAULTS: dict[str, Maker] = {
    "supply-absent": everything("supply-absent", "grid"),
    "supply-line-lost": cut("supply-line-lost", "grid"),
    "volts-low": low,
    "volts-high": plain("volts-high", Broken(level=(1.15, 1.15, 1.15)), **{"frame-touch": "too-hot"}),
    "volts-unbalanced": uneven,
    "breaker-tripped": everything("breaker-tripped", "guard", **{"breaker-look": "tripped"}),
    "breaker-pole-open": cut("breaker-pole-open", "guard"),
    "fuse-blown": cut("fuse-blown", "guard"),
    "disconnect-off": everything("disconnect-off", "switch"),
    "disconnect-off-local": everything("disconnect-off", "isolator"),
    "disconnect-pole-open": cut("disconnect-pole-open", "switch"),
    "local-pole-open": cut("local-pole-open", "isolator"),
    "control-supply-absent": plain("control-supply-absent", Broken(feed=0.0)),
    "control-volts-low": plain("control-volts-low", Broken(feed=0.7)),
    "control-fuse-blown": control("control-fuse-blown", "fuse"),
    "control-chain-open": device,
    "control-chain-closed": plain("control-chain-closed", Broken(held_closed=True)),
    "contactor-coil-open": control("contactor-coil-open", "coil", **{"burn-look": "panel"}),
    "contactor-pole-open": cut("contactor-pole-open", "pole"),
    "contactor-pole-burnt": bad("contactor-pole-burnt", "pole", (0.7, 1.5, 2.4), **{"burn-look": "panel"}),
    "contactor-welded": lambda _, dice: Fault("contactor-welded", None, Broken(welded=dice.choice(WELDED))),
    "overload-tripped": plain("overload-tripped"),
    "overload-misset": plain("overload-misset", **{"overload-setting": "low", "changed-lately": "settings"}),
    "overload-faulty": plain("overload-faulty"),
    "overload-pole-open": cut("overload-pole-open", "heater"),
    "joint-loose": bad("joint-loose", "outgoing", (0.8, 2.5), "overload", **{"burn-look": "panel"}),
    "joint-loose-box": bad("joint-loose", "splice", (0.8, 2.5), "box", **{"burn-look": "box"}),
    "cable-open": cut("cable-open", "core"),
    "cable-high-resistance": bad("cable-high-resistance", "core", (0.8, 2.5)),
    "cable-to-earth": bridge("cable-to-earth", "box-T{n} earth", (0.2, 5.0, 2e3)),
    "cable-between-cores": bridge("cable-between-cores", "box-T{n} box-T{m}", (0.05, 0.4)),
    "winding-open": coil_open,
    "winding-to-frame": bridge("winding-to-frame", "in-{n} frame", (0.1, 2.0, 3e3), **{"burn-look": "motor"}),
    "winding-turn-short": turns,
    "winding-phase-to-phase": lambda site, dice: bridge(
        "winding-phase-to-phase", "in-{n} in-{m}", (site.coil_ohm * 0.3, site.coil_ohm), **{"burn-look": "motor"}
    )(site, dice),
    "winding-damp": damp,
    "connection-wrong": lambda _, dice: Fault(
        "connection-wrong", None, Broken(coil_times=dice.choice((0.25, 3.0, 4.0))),
        {"connection-look": "wrong", "changed-lately": "motor"},
    ),
    "phase-reversed": reversed_phase,
    "protector-open-hot": protector("protector-open-hot", **{"frame-touch": "too-hot"}),
    "protector-failed": protector("protector-failed", **{"frame-touch": "cool"}),
    "brake-not-lifting": plain("brake-not-lifting", Broken(stalled=True), **{"brake-look": "stays-on"}),
    "bearing-seized": plain("bearing-seized", Broken(stalled=True)),
    "bearing-worn": plain("bearing-worn"),
    "load-jammed": plain("load-jammed", Broken(stalled=True), **{"changed-lately": "load"}),
    "load-grown": plain("load-grown", Broken(load=1.24), **{"changed-lately": "load"}),
    "rotation-wrong": plain("rotation-wrong", **{"changed-lately": "motor"}),
    "star-delta-stuck-star": plain("star-delta-stuck-star", Broken(coil_times=3.0)),
    "star-delta-timer-short": plain("star-delta-timer-short", **{"run-up": "long", "changed-lately": "settings"}),
    "drive-fault": everything("drive-fault", "pole", **{"drive-look": "fault"}),
    "starts-too-many": plain("starts-too-many", **{"starts-per-hour": "many", "frame-touch": "too-hot"}),
    "cooling-blocked": plain("cooling-blocked", **{"vents-look": "blocked", "frame-touch": "too-hot"}),
}  # fmt: skip
NEEDS: dict[str, Callable[[Site], bool]] = {
    "breaker-tripped": lambda site: site.protection == "breaker",
    "breaker-pole-open": lambda site: site.protection == "breaker",
    "fuse-blown": lambda site: site.protection == "fuses",
    "disconnect-off": lambda site: site.disconnect == "panel",
    "disconnect-off-local": lambda site: site.disconnect == "local",
    "disconnect-pole-open": lambda site: site.disconnect == "panel",
    "local-pole-open": lambda site: site.disconnect == "local",
    "control-fuse-blown": lambda site: site.control_fuse,
    "protector-open-hot": lambda site: site.protector in ("star-point", "control-chain"),
    "protector-failed": lambda site: site.protector in ("star-point", "control-chain"),
    "brake-not-lifting": lambda site: site.brake != "none",
    "star-delta-stuck-star": lambda site: site.starter == "star-delta",
    "star-delta-timer-short": lambda site: site.starter == "star-delta",
    "drive-fault": lambda site: site.starter == "drive",
}
# Complaints of faults that the circuit itself doesn't show at a start.
COMPLAINT = {
    "control-chain-closed": "runs-on", "contactor-welded": "runs-on", "control-volts-low": "chatters",
    "bearing-worn": "noisy", "cooling-blocked": "runs-hot", "starts-too-many": "trips-later",
    "overload-misset": "trips-later", "overload-faulty": "trips-later", "rotation-wrong": "runs-backwards",
    "volts-high": "runs-hot", "winding-damp": "earth-leakage", "overload-tripped": "dead-silent",
    "drive-fault": "dead-silent", "star-delta-timer-short": "trips-at-once", "winding-turn-short": "trips-later",
    "star-delta-stuck-star": "slow-weak", "load-grown": "trips-later", "volts-unbalanced": "runs-hot",
    "connection-wrong": "slow-weak", "protector-open-hot": "dead-silent", "phase-reversed": "noisy",
}  # fmt: skip


def makers(site: Site) -> list[str]:
    """Faults that this position can have."""
    return [name for name in FAULTS if NEEDS.get(name, lambda _: True)(site)]
