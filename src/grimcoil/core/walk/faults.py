"""Who may be guilty at a position, and what each would do to the circuit: changes of the network and of the control."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from grimcoil.core.circuit.network import OPEN_S, Change, merged
from grimcoil.core.circuit.place import LINES, NEIGHBOURS, Place
from grimcoil.core.walk.catalogue import SuspectKind, has, questions, suspects

WELD_S = 1000.0
JOINTS = {"contactor": "joint-line", "overload": "joint-cable", "box": "splice"}


@dataclass(frozen=True, slots=True)
class Control:
    """What a fault does to the control circuit. supply: in parts of its volts; open_at: place in the chain where it is
    open; closed: the chain is closed though no start is given.
    """

    supply: float = 1.0
    fuse_open: bool = False
    open_at: int | None = None
    closed: bool = False
    coil_open: bool = False


SOUND = Control()


def both(one: Control, other: Control) -> Control:
    """Two faults of the control circuit at once."""
    opened = [k for k in (one.open_at, other.open_at) if k is not None]
    return Control(
        one.supply * other.supply, one.fuse_open or other.fuse_open, min(opened) if opened else None,
        one.closed or other.closed, one.coil_open or other.coil_open,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Variant:
    """One size or place of a fault, as the circuit was left. weight: its share among those of its suspect.

    left: what it opened besides and holds open until somebody puts it back: `overload`, `guard` (fuses or breaker), or
    nothing; shut: the circuit once that is back.
    """

    change: Change
    control: Control = SOUND
    weight: float = 1.0
    left: str = ""
    shut: tuple[Change, Control] | None = None

    def again(self, reset: bool, renewed: bool) -> Variant:
        """With the overload reset, or fuses and breaker renewed: what it held open is closed."""
        if self.shut is None or not ((reset and self.left == OVERLOAD) or (renewed and self.left == GUARD)):
            return self
        return Variant(*self.shut, self.weight, self.left)


OVERLOAD, GUARD = "overload", "guard"


@dataclass(frozen=True, slots=True)
class Suspect:
    """A suspect at a line (`L2`), between two (`L1-L2`), or of the whole circuit; element: where it would be mended."""

    kind: SuspectKind
    line: str | None
    element: str
    variants: tuple[Variant, ...]

    @property
    def name(self) -> str:
        """As in the catalogue."""
        return self.kind.name

    @property
    def key(self) -> tuple[str, str | None, str]:
        """Name, line and element."""
        return self.kind.name, self.line, self.element


@lru_cache(maxsize=64)
def line_up(place: Place) -> tuple[Suspect, ...]:
    """Every suspect that this position can have, and only those."""
    out: list[Suspect] = []
    for kind in suspects().values():
        if has(place, kind.needs):
            out += _suspects(place, kind)
    return tuple(out)


def _suspects(place: Place, kind: SuspectKind) -> list[Suspect]:
    if kind.per == "line":
        return [_one(place, kind, f"L{n}", n) for n in LINES]
    if kind.per == "pair":
        return [_one(place, kind, f"L{a}-L{b}", i) for i, (a, b) in enumerate(NEIGHBOURS)]
    if kind.per == "phase":
        if place.wound == "delta":
            return [_one(place, kind, f"L{a}-L{b}", i + 1) for i, (a, b) in enumerate(NEIGHBOURS)]
        return [_one(place, kind, f"L{n}", n) for n in LINES]
    if kind.per == "joint":
        return [_joint(place, kind, element, branch, n) for element, branch in JOINTS.items() for n in LINES]
    if kind.per == "switch" and place.disconnect == "local":
        return [Suspect(kind, None, "local", (Variant(_all("local")),))]
    return [_one(place, kind, None, 0)]


def _joint(place: Place, kind: SuspectKind, element: str, branch: str, line: int) -> Suspect:
    sizes = [Variant(Change({(branch, line): 1 / ohm})) for ohm in (0.8, 2.5)]
    return Suspect(kind, f"L{line}", element, _as_left(place, kind, sizes, f"L{line}"))


def _one(place: Place, kind: SuspectKind, line: str | None, n: int) -> Suspect:
    return Suspect(kind, line, kind.element, _as_left(place, kind, _variants(place, kind.name, n), line))


RARELY = 0.01  # of any fault: the overload had tripped besides
BLEW = 0.5  # of shorts that took a fuse or the breaker with them (common practice without source)


def _as_left(place: Place, kind: SuspectKind, sizes: Sequence[Variant], line: str | None) -> tuple[Variant, ...]:
    """Each size as it leaves the circuit: as it is, with the overload tripped, with fuses or the breaker gone."""
    trips = _tripping().get(kind.name, RARELY) if OVERLOAD in place.chain and kind.name not in BY_ITSELF else 0.0
    blows = BLEW if kind.short else 0.0
    out = []
    for size in sizes:
        share = size.weight / len(sizes)
        if size.left:
            out.append(replace(size, weight=share))
            continue
        shut = (size.change, size.control)
        tripped = trips if size.control.open_at is None else 0.0
        out.append(replace(size, weight=share * (1 - tripped - blows)))
        if tripped:
            k = place.chain.index(OVERLOAD)
            change = merged([size.change, _opened(("chain", k))])
            out.append(Variant(change, replace(size.control, open_at=k), share * tripped, OVERLOAD, shut))
        if blows:
            for gone in _gone(place, line):
                change = merged([size.change, _opened(*(("protection", n) for n in gone))])
                out.append(Variant(change, size.control, share * blows / len(_gone(place, line)), GUARD, shut))
    return tuple(out)


def _gone(place: Place, line: str | None) -> list[tuple[int, ...]]:
    """Which lines a short of this line or pair takes out: its fuses, one or both, or the whole breaker."""
    if place.protection == "breaker":
        return [LINES]
    own = tuple(int(letter) for letter in line or "" if letter.isdigit()) or LINES
    return [own, *((n,) for n in own)] if len(own) > 1 else [own]


@lru_cache(maxsize=1)
def _tripping() -> dict[str, float]:
    """How often each suspect leaves the overload tripped: as the look at it says."""
    told = questions()["overload-look"].told
    return {name: share["tripped"] for name, share in told.items() if name not in BY_ITSELF}


def _opened(*keys: tuple[str, int]) -> Change:
    return Change(dict.fromkeys(keys, OPEN_S))


def _all(branch: str) -> Change:
    return _opened(*((branch, n) for n in LINES))


def _level(factor: float, only: int = 0) -> Change:
    first, second, third = (factor if only in (0, n) else 1.0 for n in LINES)
    return Change(source=(first, second, third))


# One line of the power circuit is open, by the branch it is open at.
OPENS = {
    "supply-line-lost": "source",
    "breaker-pole-open": "protection",
    "fuse-blown": "protection",
    "disconnect-pole-open": "disconnect",
    "contactor-pole-open": "pole",
    "overload-pole-open": "heater",
    "local-pole-open": "local",
    "cable-open": "cable",
}
ALL_OPEN = {"supply-absent": "source", "disconnect-off": "disconnect"}


def _variants(place: Place, name: str, n: int) -> list[Variant]:
    """The sizes it may have; a suspect without any electrical sign changes nothing."""
    if name in OPENS:
        return [Variant(_opened((OPENS[name], n)))]
    if name == "breaker-tripped":
        return [Variant(_all("protection"), left=GUARD, shut=(Change(), SOUND))]
    if name in ALL_OPEN:
        return [Variant(_all(ALL_OPEN[name]))]
    return _power(place, name, n) or _shorts(place, name, n) or _control(place, name) or [Variant(_moving(name))]


def _power(place: Place, name: str, n: int) -> list[Variant]:  # noqa: C901, PLR0912 - a table, a line a suspect
    match name:
        case "volts-low":
            return [Variant(_level(factor)) for factor in (0.87, 0.8, 0.7)]
        case "volts-high":
            return [Variant(_level(factor)) for factor in (1.12, 1.18)]
        case "volts-unbalanced":
            return [Variant(_level(factor, n)) for factor in (0.92, 0.86)]
        case "contactor-pole-burnt":
            return [Variant(Change({("pole", n): 1 / ohm})) for ohm in (0.5, 1.2, 2.5)]
        case "cable-high-resistance":
            return [Variant(Change({("cable", n): 1 / ohm})) for ohm in (0.8, 2.5)]
        case "contactor-welded":
            pairs = [(("pole", a), ("pole", b)) for a, b in NEIGHBOURS]
            every = tuple(("pole", k) for k in LINES)
            return [Variant(Change(dict.fromkeys(keys, WELD_S))) for keys in (every, *pairs)]
        case "winding-open":
            return [Variant(_opened(("wire", n)))]
        case "connection-wrong":
            return [Variant(Change(coil=times)) for times in (0.25, 1 / 3, 3.0, 4.0)]
        case "phase-reversed":
            return [Variant(Change(turned=n - 1))]
        case "protector-open-hot" | "protector-failed" if place.protector == "brought-out":
            return [Variant(_opened(("protector", 0)))]
        case "protector-open-hot" | "protector-failed" if place.protector == "star-point" and place.wound == "wye":
            return [Variant(_all("star"))]
        case "protector-open-hot" | "protector-failed" if place.protector == "star-point":
            return [Variant(_all("wire"))]
        case "reduced-voltage-not-full":
            return [Variant(Change(dict.fromkeys((("heater", k) for k in LINES), place.amps / place.volts * 2)))]
    return []


def _shorts(place: Place, name: str, n: int) -> list[Variant]:
    pair = NEIGHBOURS[n] if name in ("cable-between-cores", "winding-phase-to-phase") else (1, 2)
    match name:
        case "cable-to-earth":
            return [_short(f"box-T{n}", "earth", ohm) for ohm in (0.1, 1.0, 30.0, 5e3)]
        case "winding-to-frame":
            return [_short(f"winding-{n}", "frame", ohm) for ohm in (0.03, 1.0, 30.0, 5e3)]
        case "cable-between-cores":
            return [_short(f"box-T{pair[0]}", f"box-T{pair[1]}", ohm) for ohm in (0.1, 1.0)]
        case "winding-phase-to-phase":
            return [_short(f"winding-{pair[0]}", f"winding-{pair[1]}", place.phase_ohm * k) for k in (0.3, 1.0)]
        case "winding-damp":
            wet = (2e3, 2e4, 1e5, 5e5)
            return [Variant(Change(shunt=[(f"winding-{k}", "frame", 1 / (3 * ohm)) for k in LINES])) for ohm in wet]
        case "winding-turn-short":
            return [Variant(Change(extra=[(n - 1, times)])) for times in (0.06, 0.13, 0.25)]
    return []


def _short(a: str, b: str, ohm: float) -> Variant:
    return Variant(Change(shunt=[(a, b, 1 / ohm)]))


def _control(place: Place, name: str) -> list[Variant]:  # noqa: C901 - a table, a line a suspect
    def only(control: Control, change: Change | None = None) -> list[Variant]:
        return [Variant(change or Change(), control)]

    chain = place.chain
    match name:
        case "control-supply-absent":
            return only(Control(supply=0.0))
        case "control-volts-low":
            return [Variant(Change(), Control(supply=share)) for share in (0.78, 0.66)]
        case "control-fuse-blown":
            return only(Control(fuse_open=True), _opened(("control-fuse", 0)))
        case "control-chain-open":
            places = [k for k, device in enumerate(chain) if device not in ("overload", "protector")] or [0]
            return [Variant(_opened(("chain", k)), Control(open_at=k)) for k in places]
        case "control-chain-closed":
            return only(Control(closed=True))
        case "contactor-coil-open":
            return only(Control(coil_open=True), _opened(("coil", 0)))
        case "overload-tripped" | "overload-faulty" | "overload-misset" if "overload" in chain:
            k = chain.index("overload")
            tripped = Variant(_opened(("chain", k)), Control(open_at=k), left=OVERLOAD, shut=(Change(), SOUND))
            return [tripped] if name == TRIPPED else [Variant(Change()), tripped]
        case "protector-open-hot" | "protector-failed" if "protector" in chain:
            k = chain.index("protector")
            return only(Control(open_at=k), _opened(("chain", k)))
        case "drive-fault":
            return [Variant(_all("pole")), Variant(_all("pole"), Control(open_at=0))]  # its output, or its release
    return []


def _moving(name: str) -> Change:
    if name in ("brake-not-lifting", "bearing-seized", "load-jammed"):
        return Change(stall=True)
    if name == "load-grown":
        return Change(load=1.22)
    if name == "star-delta-stuck-star":
        return Change(coil=1 / 3)
    return Change()


TRIPPED = "overload-tripped"
BY_ITSELF = frozenset({TRIPPED, "overload-faulty", "overload-misset"})


def unlikely(kind: SuspectKind, symptom: str) -> float:
    """Odds before anything is read: what fits the symptom by its weight, anything else a twentieth of one.

    No unit (common practice without source).
    """
    return max(kind.fits.get(symptom, 0.0), 0.05)


def priors(place: Place, line: Sequence[Suspect], symptom: str) -> list[float]:
    """Logarithms of the odds, no unit, shared among the lines or places of a kind (common practice without source)."""
    many: dict[str, int] = {}
    for one in line:
        many[one.name] = many.get(one.name, 0) + 1
    return [math.log(unlikely(one.kind, symptom) / many[one.name] * _dial(place, one.name)) for one in line]


def _dial(place: Place, name: str) -> float:
    """What the dial on record says of a wrong setting: at plate amps hardly, off them likely."""
    if name != "overload-misset" or place.dial_amps is None:
        return 1.0
    off = abs(place.dial_amps / place.amps - 1)
    return 0.2 if off <= 0.05 else 4.0
