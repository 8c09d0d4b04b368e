"""The circuit of a position from supply to load, three lines side by side: cleared parts struck through, suspects in
copper, the condemned one marked, probes where the next test goes.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from grimcoil.draw.svg import circle, figure, n, path, rect, text

X = (70.0, 118.0, 166.0)
LONGEST, LONGEST_BESIDE = 27, 24  # letters of a reading that have room under its part
STEP, TOP, LABEL, BESIDE = 54.0, 34.0, 226.0, 540.0
# Where a finger finds the points: at the lower end of each part, the rest in a column of their own.
ENDS = {
    "supply": "supply-L", "protection": "protection-L", "disconnect": "disconnect-L", "contactor": "load-L",
    "overload": "overload-T", "cable": "cable-T", "local": "local-T", "box": "box-T", "winding": "lead-",
}  # fmt: skip
COLUMN = ("control-", "chain-", "coil-", "frame", "earth")
TARGET = 46.0
NAMES = {
    "supply": "Supply", "protection": "Fuses or breaker", "disconnect": "Disconnect", "contactor": "Contactor",
    "starter": "Starter", "overload": "Overload", "cable": "Cable", "local": "Disconnect at the motor",
    "box": "Motor box, joints", "winding": "Winding", "protector": "Motor's protector", "brake": "Brake",
    "shaft": "Shaft, bearings", "load": "Load", "control": "Control circuit", "coil": "Contactor's coil",
}  # fmt: skip
ASIDE = ("control", "coil", "protector", "brake", "starter")


@dataclass(frozen=True, slots=True)
class Part:
    """One element: its state (`cleared`, `suspect`, `condemned`, `untested`), whether the next test goes there, and the
    reading behind it; clamp: round the lines, not at two points.
    """

    element: str
    state: str
    here: bool = False
    by: str = ""
    clamp: bool = False


def circuit(
    parts: Sequence[Part], live: bool, width: float = 780.0, points: Mapping[str, str] | None = None
) -> str:  # fmt: skip
    """Parts in their order from supply to load. points: that a finger may pick, with their words."""
    return _circuit(tuple(parts), live, width, tuple((points or {}).items()))


@lru_cache(maxsize=512)
def _circuit(parts: tuple[Part, ...], live: bool, width: float, points: tuple[tuple[str, str], ...]) -> str:
    through = [part for part in parts if part.element not in ASIDE]
    aside = [part for part in parts if part.element in ASIDE]
    out = [text(x, TOP - 14, f"L{i}", "lnn", "middle") for i, x in enumerate(X, 1)]
    y = TOP
    for part in through:
        out.append(_part(part, y))
        y += STEP
    if live:
        out.append(path(f"M{n(X[0] - 34)} {n(TOP)}V{n(y)}", "live-rail"))
    for number, part in enumerate(aside):
        out.append(_label(part, TOP + number * STEP + STEP / 2 - 16, BESIDE))
    out.append(_touched(through, [part.element for part in aside], dict(points)))
    names = ", ".join(f"{NAMES[part.element]} {part.state}" for part in parts)
    return figure(width, y + 10, f"Circuit from supply to load: {names}.", "".join(out), "walk-circuit")


def _touched(through: Sequence[Part], aside: Sequence[str], points: Mapping[str, str]) -> str:
    """Points as a finger finds them; whoever has none picks them from a list, so they are no part of the picture."""
    out = []
    for row, part in enumerate(through):
        for x, line in zip(X, (1, 2, 3), strict=True):
            name = f"{ENDS.get(part.element, '')}{line}"
            if name in points:
                out.append(_target(name, x, TOP + (row + 1) * STEP))
    column = [name for start in COLUMN for name in sorted(points) if name.startswith(start)]
    top = TOP + max(2, len(aside)) * STEP
    for row, name in enumerate(column):
        y = top + row * TARGET
        out += [_target(name, BESIDE - 20, y), text(BESIDE + 8, y + 5, points[name], "ps")]
    return f'<g class="touch" aria-hidden="true">{"".join(out)}</g>' if out else ""


def _target(name: str, x: float, y: float) -> str:
    """A dot with room for a finger."""
    room = rect(x - TARGET / 2, y - TARGET / 2, TARGET, TARGET, "room")
    return f'<g data-point="{name}">{room}{circle(x, y, 7, "touch-dot")}</g>'


def _part(part: Part, y: float) -> str:
    draw = _SYMBOLS.get(part.element, _lines)
    out = [f'<g class="part {part.state}">', draw(y)]
    if part.state == "cleared":
        out.append(path(f"M{n(X[0] - 16)} {n(y + 34)}L{n(X[2] + 16)} {n(y + 18)}", "strike"))
    if part.here:
        out += [circle(x, y + at, 6, "probe-here") for x in X for at in ((STEP / 2,) if part.clamp else (4, STEP - 4))]
    out += ["</g>", _label(part, y + STEP / 2 - 16)]
    return "".join(out)


def _label(part: Part, y: float, left: float = LABEL) -> str:
    marks: Mapping[str, str] = {
        "cleared": f'<use class="sound" href="#gc-sound" x="{n(left - 30)}" y="{n(y - 1)}" width="18" height="18"/>',
        "condemned": f'<use class="act" href="#gc-act" x="{n(left - 30)}" y="{n(y - 1)}" width="18" height="18"/>',
        "suspect": path(f"M{n(left - 28)} {n(y)}l14 8-14 8Z", "ptr-s"),
        "untested": (
            f'<use class="unproven" href="#gc-unproven" x="{n(left - 30)}" y="{n(y - 1)}" width="18" height="18"/>'
        ),
    }
    name = text(left, y + 14, NAMES[part.element], f"pn {part.state}")
    most = LONGEST if left == LABEL else LONGEST_BESIDE
    said = part.by if len(part.by) <= most else part.by[: most - 1].rpartition(" ")[0].rstrip(" ,") + " …"
    probe = circle(left - 44, y + 8, 6, "probe-here") if part.here and left == BESIDE else ""
    return marks[part.state] + probe + name + (text(left, y + 32, said, "ps") if said else "")


def _lines(y: float) -> str:
    return "".join(path(f"M{n(x)} {n(y)}V{n(y + STEP)}", "w") for x in X)


def _contacts(y: float) -> str:
    """Three poles, drawn open as on a diagram."""
    out = []
    for x in X:
        out.append(path(f"M{n(x)} {n(y)}V{n(y + 15)}M{n(x)} {n(y + 39)}V{n(y + STEP)}M{n(x)} {n(y + 39)}l-9 -22", "w"))
        out += [circle(x, y + 15, 3, "pin"), circle(x, y + 39, 3, "pin")]
    return "".join(out) + path(f"M{n(X[0] - 5)} {n(y + 28)}H{n(X[2] - 5)}", "link")


def _fuses(y: float) -> str:
    return _lines(y) + "".join(rect(x - 6, y + 13, 12, 28, "cart", 2) for x in X)


def _heaters(y: float) -> str:
    return "".join(path(f"M{n(x)} {n(y)}v15h9v24h-9v15", "w") for x in X)


def _cable(y: float) -> str:
    left, right = X[0] - 12, X[2] + 12
    sheath = path(f"M{n(left)} {n(y + 8)}V{n(y + 46)}M{n(right)} {n(y + 8)}V{n(y + 46)}", "sheath")
    return _lines(y) + sheath


def _box(y: float) -> str:
    nuts = "".join(path(f"M{n(x - 6)} {n(y + 18)}h12l-3 15h-6Z", "nutty") for x in X)
    return rect(X[0] - 18, y + 5, X[2] - X[0] + 36, 44, "boxed", 5) + _lines(y) + nuts


def _winding(y: float) -> str:
    middle = y + STEP / 2
    ring = circle(X[1], middle, 26, "ring-m")
    legs = path(f"M{n(X[0])} {n(y)}L{n(X[1])} {n(middle)}L{n(X[2])} {n(y)}M{n(X[1])} {n(y)}V{n(middle)}", "w")
    return ring + legs + circle(X[1], middle, 4, "jt")


def _shaft(y: float) -> str:
    return path(f"M{n(X[1])} {n(y)}V{n(y + 22)}M{n(X[1] - 16)} {n(y + 22)}h32M{n(X[1] - 16)} {n(y + 30)}h32", "shaft")


def _load(y: float) -> str:
    return path(f"M{n(X[1])} {n(y)}V{n(y + 30)}M{n(X[1] - 26)} {n(y + 30)}h52", "shaft")


_SYMBOLS = {
    "supply": _lines, "protection": _fuses, "disconnect": _contacts, "contactor": _contacts, "overload": _heaters,
    "cable": _cable, "local": _contacts, "box": _box, "winding": _winding, "shaft": _shaft, "load": _load,
}  # fmt: skip
