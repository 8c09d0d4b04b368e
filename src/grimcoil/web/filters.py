"""How figures and times look on a page. Rounding happens here and in the drawings, nowhere before."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime
from typing import Any

from jinja2 import pass_context
from jinja2.runtime import Context

from grimcoil.core.days import day_told, text_told
from grimcoil.core.decision.rules import ACTIONS
from grimcoil.core.readings import three_digits
from grimcoil.core.stator.schemes import scheme_words
from grimcoil.core.units import USUAL, Units


def day(value: date | None) -> str:
    """`24 Nov 2026`."""
    return "" if value is None else day_told(value)


def month(value: date | None) -> str:
    """`Nov 26`."""
    return "" if value is None else f"{value:%b %y}"


@pass_context
def clock(context: Context, value: datetime | None) -> str:
    """`09:12`, by the works' own clock."""
    return "" if value is None else f"{_local(context, value):%H:%M}"


@pass_context
def moment(context: Context, value: datetime | None) -> str:
    """`24 Nov 2026 09:12`, by the works' own clock."""
    if value is None:
        return ""
    local = _local(context, value)
    return f"{day(local)} {local:%H:%M}"


@pass_context
def day_at(context: Context, value: datetime | None) -> str:
    """`24 Nov 2026`, the day by the works' own clock."""
    return "" if value is None else day(_local(context, value))


def _local(context: Context, value: datetime) -> datetime:
    zone = getattr(context["request"].state, "zone", None)
    return value if zone is None else value.astimezone(zone)


@pass_context
def degrees_word(context: Context, unit: str) -> str:
    """The unit a bare figure is typed in: degrees as this works has them, every other one as it is."""
    units: Units = getattr(context["request"].state, "units", USUAL)
    return {"°C": "°F", "degrees Celsius": "degrees Fahrenheit"}.get(unit, unit) if units.degrees == "°F" else unit


def mohm(low: float | None, high: float | None) -> str:
    """A stored MΩ figure: `>2000`, `1350`, `<1`, three digits."""
    if low is None:
        return ""
    if high is None:
        return f">{three_digits(low)}"
    if low == high:
        return three_digits(low)
    return f"<{three_digits(high)}" if low == 0 else f"{three_digits(low)}–{three_digits(high)}"


def minutes(seconds: float | None) -> str:
    """`3:59`."""
    whole = max(0, int(seconds or 0))
    return f"{whole // 60}:{whole % 60:02d}"


def epoch(seconds: float) -> int:
    """A moment as milliseconds since 1970, for the page's clocks."""
    return round(1000 * seconds)


def plain(value: Any) -> str:
    """A plate figure without trailing zeros."""
    return "" if value is None else f"{float(value):g}"


def cap(text: str) -> str:
    """A sentence's beginning in capitals, the rest as it is.

    >>> cap("power is not restored")
    'Power is not restored'
    """
    return text[:1].upper() + text[1:]


def nb(words: str) -> str:
    """A figure and its unit are not torn apart at a line's end."""
    for unit in ("%", "Ω", "mΩ", "MΩ", "V", "A", "°C"):
        words = words.replace(f" {unit}", f"\u00a0{unit}")
    return words


def ohms(value: float, function: str) -> str:
    """A range's figure with its unit: `0.01 mΩ`, `550 MΩ`, `600 V`."""
    unit = {"volt-ac": "V", "volt-dc": "V", "amp-clamp": "A"}.get(function, "Ω")
    if unit == "Ω":
        for factor, prefix in ((1e9, "G"), (1e6, "M"), (1e3, "k"), (1.0, ""), (1e-3, "m")):
            if value >= factor:
                return f"{value / factor:g} {prefix}{unit}"
        return f"{value * 1000:g} m{unit}"
    return f"{value:g} {unit}"


def lamps(kept: str) -> str:
    """Where lamps light, as they are kept: `0.5, 1, 10 MΩ`."""
    return ", ".join(f"{float(ohm) / 1e6:g}" for ohm in kept.split()) + " MΩ"


def counted(tally: Mapping[str, int]) -> list[tuple[str, str]]:
    """Choices of a list with how many each has; those with nothing to name are left out."""
    return [(value, f"{value} ({n})") for value, n in tally.items() if value]


# How the audit trail's acts are shown: they are stored as they were written, links and all.
_SHOWN = (
    ("taken back", "undone"), ("kept", "saved"), ("overruled", "overridden"), ("side sheet", "other test"),
    ("job filed", "job imported"), ("works ", "plant "), ("walk ", "troubleshooting "),
    ("money ", "rewind or replace "), ("record changed", "motor data changed"), ("plate ", "nameplate "),
    ("put on the round", "put on the inspection round"), ("starter ", "starter data "),
)  # fmt: skip


def act(stored: str) -> str:
    """What somebody did, in today's words.

    >>> act("side sheet taken back"), act("plate changed"), act("signed")
    ('other test undone', 'nameplate changed', 'signed')
    """
    for old, new in _SHOWN:
        stored = stored.replace(old, new)
    return stored


def decided(action: str | None) -> str:
    """A decision in words, whatever version took it.

    >>> decided("return"), decided(None)
    ('Return to service', '')
    """
    return ACTIONS.get(action or "", action or "")


FILTERS = {
    "act": act,
    "three": three_digits,
    "decided": decided,
    "scheme": scheme_words,
    "counted": counted,
    "ohms": ohms,
    "lamps": lamps,
    "nb": nb,
    "cap": cap,
    "day": day,
    "as_told": text_told,
    "day_at": day_at,
    "month": month,
    "clock": clock,
    "moment": moment,
    "degrees_word": degrees_word,
    "mohm": mohm,
    "minutes": minutes,
    "plain": plain,
    "epoch": epoch,
}
