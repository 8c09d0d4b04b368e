"""A starter as a one-line diagram with its contacts: supply on top, motor at the bottom."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

from grimcoil.core.choices import Starter
from grimcoil.draw.svg import circle, n, path, rect, text

WIDTH, HEIGHT = 366.0, 470.0
FUSE_Y, TOP_Y, CONTACT_Y, UNIT_Y, FOOT_Y, RELAY_Y, MOTOR_Y = 46.0, 116.0, 150.0, 222.0, 300.0, 330.0, 410.0
RADIUS = 34.0


class End(StrEnum):
    """Where a branch ends: at the joint before the overload, at the motor's far ends, or in what is started by."""

    FOOT = "foot"
    FAR = "far"
    UNIT = "unit"


@dataclass(frozen=True, slots=True)
class Branch:
    """A way down from the supply. contact: its name, none where it has no contact; unit: what stands below it; says:
    when it is in. star: it comes from a star point, not from the supply.
    """

    contact: str = ""
    unit: str = ""
    says: str = ""
    star: bool = False
    end: End = End.FOOT


BRANCHES: dict[Starter, tuple[Branch, ...]] = {
    Starter.DIRECT: (Branch("K1", says="runs"),),
    Starter.REVERSING: (Branch("K1", says="forward"), Branch("K2", "1, 3 swap", "reverse")),
    Starter.STAR_DELTA: (
        Branch("K1", says="always in"),
        Branch("K2", says="delta", end=End.FAR),
        Branch("K3", says="star", star=True, end=End.FAR),
    ),
    Starter.AUTOTRANSFORMER: (
        Branch("K2", says="runs"),
        Branch("K1", "tap", "starts"),
        Branch("K3", says="starts", star=True, end=End.UNIT),
    ),
    Starter.PART_WINDING: (Branch("K1", says="first"), Branch("K2", says="then", end=End.FAR)),
    Starter.TWO_SPEED: (Branch("K1", says="slow"), Branch("K2", says="fast", end=End.FAR)),
    Starter.SOFT: (Branch("K1", "soft", "starts"), Branch("K2", says="bypass")),
    Starter.DRIVE: (Branch("K1", "drive", "runs"),),
    Starter.NONE: (Branch(),),
}
FAR_ENDS = {Starter.PART_WINDING: "7 8 9"}
BOXES = frozenset({"soft", "drive", "tap"})


@lru_cache(maxsize=64)
def starter_diagram(starter: Starter, fused: bool, relay: str) -> str:
    """The diagram without its svg element, 366 by 470. fused: fuses, else a breaker; relay: the overload's words."""
    branches = BRANCHES[starter]
    xs = {1: (150.0,), 2: (90.0, 220.0), 3: (70.0, 180.0, 290.0)}[len(branches)]
    main = xs[0]
    out = [text(main, 20, "L1 L2 L3", "cap", "middle"), path(f"M{n(main)} 26V{n(FUSE_Y)}", "c done")]
    out += [_lines(main, 34), _protection(main, fused), path(f"M{n(main)} {n(FUSE_Y + 34)}V{n(TOP_Y)}", "c done")]
    pairs = list(zip(xs, branches, strict=True))
    out.append(_joint(TOP_Y, [x for x, branch in pairs if not branch.star]))
    out += [_branch(x, branch) for x, branch in pairs]
    out.append(_joint(FOOT_Y, [x for x, branch in pairs if branch.end is End.FOOT]))
    far = [x for x, branch in pairs if branch.end is End.FAR]
    out.append(_far(main, far, FAR_ENDS.get(starter, "4 5 6")))
    out += [_relay(main, relay, starter), _motor(main)]
    return "".join(out)


def _lines(x: float, y: float) -> str:
    """Three strokes: the line stands for three."""
    return path("".join(f"M{n(x - 6 + d)} {n(y + 4)}l6-8" for d in (-4, 0, 4)), "tick")


def _protection(x: float, fused: bool) -> str:
    if fused:
        body = rect(x - 9, FUSE_Y, 18, 34, "pl-in") + path(f"M{n(x)} {n(FUSE_Y)}v34", "c done")
    else:
        body = _blade(x, FUSE_Y, 34) + path(f"M{n(x - 5)} {n(FUSE_Y - 4)}l10 8m0-8l-10 8", "c done")
    return body + text(x + 22, FUSE_Y + 22, "fuses" if fused else "breaker", "cap")


def _blade(x: float, y: float, height: float) -> str:
    """An open contact: a blade that stands off its upper end."""
    return path(f"M{n(x)} {n(y)}v4M{n(x)} {n(y + height)}L{n(x - 14)} {n(y + 8)}", "c done")


def _joint(y: float, xs: Sequence[float]) -> str:
    if len(xs) < 2:
        return ""
    bar = path(f"M{n(min(xs))} {n(y)}H{n(max(xs))}", "c done")
    return bar + "".join(circle(x, y, 3.5, "jt") for x in xs)


def _branch(x: float, branch: Branch) -> str:
    """Down from the supply or from a star point, through its contact and what stands below."""
    if branch.star:
        head = path(f"M{n(x)} {n(CONTACT_Y - 14)}v14M{n(x - 14)} {n(CONTACT_Y - 14)}h28", "c done")
        head += text(x, CONTACT_Y - 24, "star point", "cap", "middle")
    else:
        head = path(f"M{n(x)} {n(TOP_Y)}V{n(CONTACT_Y)}", "c done")
    out = [head, _contact(x, branch)]
    low, end = CONTACT_Y + 40, {End.FOOT: FOOT_Y, End.FAR: MOTOR_Y, End.UNIT: UNIT_Y + 18}[branch.end]
    if branch.unit in BOXES:
        out.append(path(f"M{n(x)} {n(low)}V{n(UNIT_Y)}M{n(x)} {n(UNIT_Y + 36)}V{n(end)}", "c done"))
        out.append(rect(x - 34, UNIT_Y, 68, 36, "pl-in") + text(x, UNIT_Y + 24, branch.unit, "cap", "middle"))
    else:
        out.append(path(f"M{n(x)} {n(low)}V{n(end)}", "c done"))
        if branch.unit:
            out.append(text(x + 8, UNIT_Y + 24, branch.unit, "cap"))
    if branch.end is End.UNIT:
        out.append(path(f"M{n(x)} {n(end)}H{n(x - 110 + 34)}", "c done"))
    return "".join(out)


def _contact(x: float, branch: Branch) -> str:
    if not branch.contact:
        return path(f"M{n(x)} {n(CONTACT_Y)}v40", "c done")
    words = text(x + 8, CONTACT_Y + 18, branch.contact, "ln") + text(x + 8, CONTACT_Y + 36, branch.says, "cap")
    return _blade(x, CONTACT_Y, 40) + words


def _far(main: float, xs: Sequence[float], ends: str) -> str:
    """To the motor's far ends, and where they are joined."""
    if not xs:
        return ""
    wire = path(f"M{n(max(xs))} {n(MOTOR_Y)}H{n(main + RADIUS)}", "c done")
    names = text(main - 8, MOTOR_Y - RADIUS - 6, "1 2 3", "cap", "end")
    names += text(main + RADIUS + 8, MOTOR_Y + 24, ends, "cap")
    return wire + "".join(circle(x, MOTOR_Y, 3.5, "jt") for x in xs[:-1]) + names


def _relay(x: float, words: str, starter: Starter) -> str:
    if starter in (Starter.DRIVE, Starter.NONE) and not words:
        return path(f"M{n(x)} {n(FOOT_Y)}V{n(MOTOR_Y - RADIUS)}", "c done")
    body = path(f"M{n(x)} {n(FOOT_Y)}V{n(RELAY_Y)}M{n(x)} {n(RELAY_Y + 26)}V{n(MOTOR_Y - RADIUS)}", "c done")
    box = rect(x - 24, RELAY_Y, 48, 26, "pl-in")
    heater = path(f"M{n(x)} {n(RELAY_Y)}v6h8v14h-8v6", "c done")
    return body + box + heater + text(x + 32, RELAY_Y + 18, words or "overload", "cap")


def _motor(x: float) -> str:
    return circle(x, MOTOR_Y, RADIUS, "machine") + text(x, MOTOR_Y + 7, "M 3~", "ln", "middle")
