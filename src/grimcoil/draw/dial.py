"""How a meter is set for a reading: a knob with its functions, the one to take come forward, and the two jacks."""

from __future__ import annotations

from functools import lru_cache
from math import cos, radians, sin

from grimcoil.core.plan.dial import Dial
from grimcoil.draw.svg import circle, figure, n, path, text

FUNCTIONS = ("V~", "V=", "Ω", "MΩ", "A~")
WIDTH, HEIGHT = 190.0, 112.0
_X, _Y, _KNOB, _WORDS = 62.0, 70.0, 24.0, 44.0
_FIRST, _STEP = 200.0, 35.0  # degrees, from the left over the top to the right


def _at(number: int, radius: float) -> tuple[float, float]:
    turn = radians(_FIRST + number * _STEP)
    return _X + radius * cos(turn), _Y + radius * sin(turn)


@lru_cache(maxsize=64)
def dial(set_to: Dial) -> str:
    """190 x 112; a function that a knob doesn't have stands alone beside it."""
    functions = FUNCTIONS if set_to.function in FUNCTIONS else (*FUNCTIONS[:-1], set_to.function)
    out = [circle(_X, _Y, _KNOB, "knob")]
    for i, word in enumerate(functions):
        on = word == set_to.function
        (x, y), (a, b), (c, d) = _at(i, _WORDS), _at(i, _KNOB + 2), _at(i, _KNOB + 7)
        out.append(path(f"M{n(a)} {n(b)}L{n(c)} {n(d)}", "tick"))
        out.append(text(x, y + 5, word, "fn on" if on else "fn", "middle", 15 if on else 13))
    x, y = _at(functions.index(set_to.function), _KNOB - 4)
    out.append(path(f"M{n(_X)} {n(_Y)}L{n(x)} {n(y)}", "hand"))
    for i, (name, css) in enumerate(
        zip(set_to.jacks.split(" and ") if set_to.jacks else (), ("dark", "copper"), strict=False)
    ):
        out.append(circle(140 + i * 34, 56, 9, f"jack {css}") + circle(140 + i * 34, 56, 3, "hole"))
        out.append(text(140 + i * 34, 84, name, "jk", "middle", 12))
    return figure(WIDTH, HEIGHT, f"The meter: {set_to.words}.", "".join(out), "dial only-wide")
