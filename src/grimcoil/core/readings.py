"""Readings as the meter shows them: text in, a value or a bound out, and the words to say it back.

The grammar takes `2.41`, `2,41`, `2.41 ohm`, `410 mΩ`, `1.2k`, `2k4`, `4R7` (IEC 60062, standard, from
memory), `550M`, `>550M`, `550M+`, `<0.1`, `10-100M`, `OL`, `open`, `∞`, `beep`, `no beep`. Text with two
meanings is asked back (`UnclearReading`), never converted.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace
from decimal import Decimal
from enum import StrEnum
from functools import lru_cache

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.errors import ReadingRefusal, UnclearReading
from grimcoil.core.fields import EXPONENT, INSULATION, PREFIX, PREFIX_WORD, Field, spoken_unit

LONGEST = 40


class Shown(StrEnum):
    """What the meter did."""

    VALUE = "value"
    OVER_RANGE = "over-range"
    BEEP = "beep"
    NO_BEEP = "no beep"


@dataclass(frozen=True, slots=True)
class Reading:
    """One thing a meter showed: the text as entered and what it means, in SI.

    amount: value, bound or band; with over-range and no known top, or a beep, it bounds nothing.
    count: what one step of the last digit shown is worth, SI; None where no digits were shown.
    """

    text: str
    shown: Shown
    amount: Amount
    count: float | None = None

    def with_top(self, top: float | None) -> Reading:
        """Over-range on a range whose top is known is a lower bound at that top (SI)."""
        if self.shown is Shown.OVER_RANGE and top is not None and self.amount.bound is Bound.NOTHING:
            return replace(self, amount=Amount.above(top))
        return self


_NOTHING = Amount(0.0, math.inf)
_OVER_RANGE = {
    "ol",
    "o.l",
    "o.l.",
    "0l",
    "0.l",
    "0.l.",
    "open",
    "∞",
    "inf",
    "infinity",
    "over-range",
    "over range",
}
_SHORT = {"short", "dead short", "0 short", "shorted"}
_UNIT_WORDS = {
    "Ω": r"Ω|ohms?|Ohms?|OHMS?|R",
    "V": r"V|v|volts?|VAC|VDC|V AC|V DC",
    "A": r"A|a|amps?|AAC|A AC",
    "°C": r"°C|° C|C|degC|°F|F|degF",
    "%": r"%|% ?RH|percent",
    "Hz": r"Hz|hz|HZ|hertz",
    "s": r"s|sec|seconds?",
    "/h": r"/ ?h|an hour|per hour",
    "rpm": r"r/min|rpm|RPM|1/min|min-1",
    "F": r"F|f|farads?",
    "mm": r"mm|millimet(?:re|er)s?",
}
_NUMBER = r"(?:\d[\d.,]*|[.,]\d+)"
_SPACES = re.compile(r"\s+")


def parse_reading(text: str, field: Field, where: str = "") -> Reading:
    """Read one meter text for a field.

    Raises ReadingRefusal for text that is no such reading, UnclearReading (with choices) for text that
    could mean two things.

    >>> from grimcoil.core.fields import INSULATION
    >>> parse_reading("550M+", INSULATION).amount
    Amount(low=550000000.0, high=inf)
    """
    quick = quick_reading(text, field)
    if quick is not None:
        return quick
    entered = text.strip()
    place = where or field.name
    if not entered:
        raise ReadingRefusal(place, "", f"type the {field.name} as the meter shows it", _example(field))
    if len(entered) > LONGEST:
        raise ReadingRefusal(
            place,
            entered[:LONGEST] + "…",
            f"at most {LONGEST} characters",
            _example(field),
        )
    plain = _plain(entered)
    if field.zero_asks and plain.lower() in ("zero", "nothing", "none"):
        raise _zero(entered, place)
    special = _special(entered, plain, field) or (leakage_reading(entered) if field is INSULATION else None)
    if field is INSULATION and _LEAKAGE_ALONE.fullmatch(plain):
        raise ReadingRefusal(place, entered, "a current with the volts that drive it", "2.5 µA at 1 kV")
    return special or _figures(entered, plain, field, place)


_QUICK = re.compile(r"(\d{1,9})(?:\.(\d{1,9}))? ?([mkMG]?)(Ω|ohm)?").fullmatch
_POWER = {exponent: float(f"1e{exponent}") for exponent in range(-24, 24)}


@lru_cache(maxsize=65536)
def quick_reading(text: str, field: Field) -> Reading | None:
    """The commonest texts, digits with or without prefix and unit, read to the same result as by the whole grammar."""
    match = _QUICK(text)
    if match is None or field.unit == "°C" or text[-1] == " ":
        return None
    whole, fraction, letter, unit = match.groups("")
    if unit and field.unit != "Ω":
        return None
    prefix = letter or ("" if unit else field.home)
    if prefix not in field.prefixes:
        return None
    exponent = EXPONENT[prefix]
    value = float(f"{whole}.{fraction}e{exponent}")
    if value == 0.0 and field.zero_asks:
        return None
    return Reading(text, Shown.VALUE, Amount(value, value), _POWER[exponent - len(fraction)])


_CURRENT = r"(?P<sign>[<>]?) ?(?P<current>\d[\d.]*|\.\d+) ?(?P<prefix>[num]) ?A(?:mps?)?"
_AT_VOLTS = r"(?P<volts>\d[\d.]*) ?(?P<kilo>k?) ?V(?: ?DC)?"
_LEAKAGE = tuple(
    re.compile(pattern, re.IGNORECASE)
    for pattern in (rf"{_CURRENT} ?(?:at|@|/|,)? ?{_AT_VOLTS}", rf"{_AT_VOLTS} ?(?:at|@|/|,)? ?{_CURRENT}")
)
_LEAKAGE_ALONE = re.compile(_CURRENT, re.IGNORECASE)


def leakage_reading(text: str, volts: float | None = None) -> Reading | None:
    """A tester that shows the current its volts drive: `2.5 µA at 1 kV` is so many ohms; None for any other text.

    volts: the test voltage, V, where the text has none. The bound turns with the division: below a current is above a
    resistance. Nothing is told from no current. (computed)

    >>> round(leakage_reading("2.5 µA at 1 kV").amount.value), round(leakage_reading("< 1 uA", 500).amount.low)
    (400000000, 500000000)
    """
    plain = (
        _plain(text.strip()).replace(",", ".") if text.count(",") == 1 and ".," not in text else _plain(text.strip())
    )
    match = next((found for one in _LEAKAGE if (found := one.fullmatch(plain))), None)
    if match is not None:
        if match["volts"].count(".") > 1:
            return None
        volts = float(match["volts"]) * (1000 if match["kilo"] else 1)
    else:
        match = _LEAKAGE_ALONE.fullmatch(plain)
    if match is None or not volts or match["current"].count(".") > 1:
        return None
    digits, power = match["current"], {"n": -9, "u": -6, "m": -3}[match["prefix"].lower()]
    amps, step = float(f"{digits}e{power}"), float(f"1e{power - len(digits.partition('.')[2])}")
    if amps == 0:
        return Reading(text, Shown.VALUE, Amount.above(volts / step), None) if step else None
    ohm = volts / amps
    turned = {"<": Amount.above, ">": Amount.below}.get(match["sign"], Amount.exact)
    return Reading(text, Shown.VALUE, turned(ohm), ohm * step / amps)


_BARE = re.compile(rf"[<>]? ?{_NUMBER}\+?")


def with_volts(text: str, volts: float | None, microamps: bool = False) -> str:
    """A reading of a hold with the volts that drive it, V, where it is a current that lacks them. microamps: the tester
    shows those, so that a bare figure is one, and over range is a breakdown rather than an open.

    >>> with_volts("2.5", 1000, microamps=True), with_volts("2.5 µA", 500), with_volts("520", 500)
    ('2.5 µA at 1000 V', '2.5 µA at 500 V', '520')
    """
    plain = _plain(text.strip())
    if microamps and plain.lower() in _OVER_RANGE:
        return f"{text} of current: type more than the tester's highest"
    if microamps and _BARE.fullmatch(plain):
        text = f"{text.strip()} µA"
    if volts and _LEAKAGE_ALONE.fullmatch(_plain(text.strip())):
        return f"{text.strip()} at {volts:g} V"
    return text


def _plain(entered: str) -> str:
    """One spelling for signs that meters and keyboards vary."""
    out = entered.replace("\u2126", "Ω").replace("µ", "u").replace("μ", "u").replace("−", "-").replace("–", "-")
    out = out.replace("\u00a0", " ").replace("\u202f", " ").replace("≥", ">").replace("≤", "<")
    out = out.replace(">=", ">").replace("<=", "<")
    return _SPACES.sub(" ", out)


def _special(entered: str, plain: str, field: Field) -> Reading | None:
    word = plain.lower()
    bare = re.sub(r" ?([mkgt]?(ω|ohms?))$", "", word)
    if field.over_range and (word in _OVER_RANGE or bare in _OVER_RANGE):
        return Reading(entered, Shown.OVER_RANGE, _NOTHING)
    if field.over_range and word in _SHORT:
        return Reading(entered, Shown.VALUE, Amount.exact(0.0))
    if field.beeps and word in ("beep", "beeps"):
        return Reading(entered, Shown.BEEP, _NOTHING)
    if field.beeps and word in ("no beep", "nobeep", "silent"):
        return Reading(entered, Shown.NO_BEEP, _NOTHING)
    return None


def _figures(entered: str, plain: str, field: Field, place: str) -> Reading:
    sign, body = "", plain
    if body[0] in "<>":
        sign, body = body[0], body[1:].strip()
    elif body.endswith("+"):
        sign, body = ">", body[:-1].strip()
    if not sign and (band := re.fullmatch(rf"({_NUMBER})(?: ?\S+)??(?:-| to )({_NUMBER}.*)", body)):
        return _band(entered, band.group(1), body, field, place)
    value, count = _value(entered, body, field, place)
    if sign and value < 0:
        raise ReadingRefusal(place, entered, "a bound can't be negative", _example(field))
    if sign == ">":
        return Reading(entered, Shown.VALUE, Amount.above(value), count)
    if sign == "<":
        return Reading(entered, Shown.VALUE, Amount.below(value), count)
    if value == 0 and field.zero_asks:
        raise _zero(entered, place)
    return Reading(entered, Shown.VALUE, Amount.exact(value), count)


def _zero(entered: str, place: str) -> UnclearReading:
    says = "zero to frame is a dead short, and “nothing shown” is healthy: say which one the tester showed"
    return UnclearReading(place, entered, says, ("short", "OL"))


def _band(entered: str, first: str, body: str, field: Field, place: str) -> Reading:
    """A tester with lamps gives a band, `10-100 MΩ`; the second figure's unit holds for both."""
    low_text, _, high_text = body.replace(" to ", "-").partition("-")
    high, _ = _value(entered, high_text.strip(), field, place)
    tail = re.sub(rf"^{_NUMBER}", "", high_text.strip())
    low_text = low_text.strip()
    low, _ = _value(entered, low_text if low_text != first else first + tail, field, place)
    if low >= high:
        raise ReadingRefusal(place, entered, "a band runs from the lower to the higher figure", "10-100M")
    return Reading(entered, Shown.VALUE, Amount(low, high))


def _value(entered: str, body: str, field: Field, place: str) -> tuple[float, float]:
    """SI value and the worth of its last digit."""
    if body.startswith("-") and not field.signed:
        raise ReadingRefusal(
            place,
            entered,
            f"{_a(field)} is never below zero; leave the minus sign out",
            _example(field),
        )
    rkm = re.fullmatch(r"(\d*)([RKMGTkmu])(\d+)(?: ?Ω)?", body) if field.unit == "Ω" else None
    if rkm:
        number = f"{rkm.group(1) or '0'}.{rkm.group(3)}"
        prefix = {"R": "", "K": "k"}.get(rkm.group(2), rkm.group(2))
        return _scale(entered, number, prefix, field, place)
    match = re.fullmatch(rf"(-?)({_NUMBER}) ?(.*)", body)
    if match is None:
        raise ReadingRefusal(place, entered, f"no {field.name} that can be read", _example(field))
    number = match.group(1) + _decimal(entered, match.group(2), field, place)
    return _united(entered, number, match.group(3).strip(), field, place)


def _united(entered: str, number: str, unit: str, field: Field, place: str) -> tuple[float, float]:
    if field.unit == "°C":
        return _temperature(entered, number, unit, place)
    if not unit:
        return _scale(entered, number, field.home, field, place)
    spelled = re.fullmatch(
        r"(micro|milli|kilo|meg|mega|gig|giga|tera) ?-?(ohms?|volts?|amps?|farads?)",
        unit.lower(),
    )
    words = {word: prefix for prefix, word in PREFIX_WORD.items()} | {
        "meg": "M",
        "gig": "G",
    }
    if spelled and spelled.group(2)[:3] == field.word[:3]:
        return _scale(entered, number, words[spelled.group(1)], field, place)
    match = re.fullmatch(rf"([umkKMGT]?) ?({_UNIT_WORDS[field.unit]})?", unit)
    if match is None:
        raise ReadingRefusal(
            place,
            entered,
            f"the unit of {_a(field)} is {field.home_unit}",
            _example(field),
        )
    prefix = "k" if match.group(1) == "K" else match.group(1)
    return _scale(entered, number, prefix, field, place)


def _temperature(entered: str, number: str, unit: str, place: str) -> tuple[float, float]:
    if not re.fullmatch(rf"(?:{_UNIT_WORDS['°C']})?", unit):
        raise ReadingRefusal(place, entered, "a temperature is in °C or °F", "21.5")
    value, count = float(number), float(f"1e{-len(number.partition('.')[2])}")
    if "F" in unit:
        value, count = (value - 32) / 1.8, count / 1.8
    if not -60 <= value <= 300:
        raise ReadingRefusal(place, entered, "a temperature between -60 and 300 °C", "21.5")
    return value, count


def _scale(entered: str, number: str, prefix: str, field: Field, place: str) -> tuple[float, float]:
    if prefix not in field.prefixes:
        raise UnclearReading(
            place,
            entered,
            f"{_a(field)} in {prefix}{field.unit} makes no sense here (m is milli, M is mega); say what was meant",
            _prefix_choices(number, field),
        )
    exponent = EXPONENT[prefix]
    decimals = len(number.partition(".")[2])
    return float(f"{number}e{exponent}"), float(f"1e{exponent - decimals}")


def _prefix_choices(number: str, field: Field) -> tuple[str, ...]:
    if field.name == "winding resistance":
        return (f"{number} mΩ", "OL")
    if field.name == "insulation resistance":
        return (f"{number} {field.home_unit}", "short")
    return (f"{number} {field.home_unit}",)


def _decimal(entered: str, number: str, field: Field, place: str) -> str:
    """Decimal point or comma to a plain number; `1,200` can be either and is asked back."""
    commas, dots = number.count(","), number.count(".")
    if re.fullmatch(r"[1-9]\d{0,2},\d{3}", number):
        whole, fraction = number.split(",")
        raise UnclearReading(
            place,
            entered,
            "the comma can be a decimal or a thousands sign; say which",
            (
                f"{whole}.{fraction} {field.home_unit}",
                f"{whole}{fraction} {field.home_unit}",
            ),
        )
    if re.fullmatch(r"[1-9]\d{0,2}(,\d{3})+\.\d+", number):
        return number.replace(",", "")
    if re.fullmatch(r"[1-9]\d{0,2}(\.\d{3})+,\d+", number):
        return number.replace(".", "").replace(",", ".")
    if commas + dots > 1 or number[-1] in ".,":
        raise ReadingRefusal(place, entered, "one decimal sign with digits after it", _example(field))
    return number.replace(",", ".")


def _a(field: Field) -> str:
    return f"{'an' if field.name[0] in 'aeiou' else 'a'} {field.name}"


def _example(field: Field) -> str:
    examples = {
        "Ω": "2.41, 410 mΩ or OL",
        "V": "478",
        "A": "17.2",
        "°C": "21.5",
        "%": "55",
        "mm": "14.2",
        "Hz": "50",
        "s": "6",
        "/h": "4",
        "rpm": "1492",
        "F": "35",
    }
    return "520, 1.3 G, >550M or OL" if field.home == "M" else examples[field.unit]


def figure(value: float) -> str:
    """A number of any unit as plainly as it can be printed and read back.

    >>> figure(550.0), figure(0.6123)
    ('550', '0.6123')
    """
    return f"{value:.12g}" if 1e-4 <= abs(value) < 1e12 or value == 0 else f"{value:.12f}".rstrip("0")


def three_digits(value: float) -> str:
    """A figure of any unit in a sentence: three digits, never an exponent.

    >>> three_digits(1047.8), three_digits(0.6123), three_digits(999.7)
    ('1048', '0.612', '1000')
    """
    return f"{value:.0f}" if abs(value) >= 999.5 else f"{value:.3g}"


def say(reading: Reading, field: Field) -> str:
    """The reading in words, to be echoed before it is stored.

    >>> from grimcoil.core.fields import WINDING
    >>> say(parse_reading("2k4", WINDING), WINDING)
    '2.4 kilohms'
    """
    if reading.shown is Shown.BEEP:
        return "Beep: below some tens of ohms, not a value"
    if reading.shown is Shown.NO_BEEP:
        return "No beep: above some tens of ohms, not an open"
    amount = reading.amount
    if reading.shown is Shown.OVER_RANGE:
        if amount.bound is Bound.NOTHING:
            return "Over range: above this range's top"
        return f"Over range: more than {_spoken(amount.low, field)}"
    if amount.bound is Bound.BETWEEN:
        return f"Between {_spoken(amount.low, field)} and {_spoken(amount.high, field)}"
    words = _spoken(amount.value, field)
    lead = {Bound.ABOVE: "more than ", Bound.BELOW: "less than "}.get(amount.bound, "")
    if amount.is_exact and amount.value == 0 and field.zero_asks:
        return "Dead short to frame, 0 ohms"
    return (lead + words)[:1].upper() + (lead + words)[1:]


def _spoken(value: float, field: Field) -> str:
    if field.unit != "Ω":
        return f"{figure(round(value, 1 if field.unit == '°C' else 9))} {field.word}"
    prefix = field.home
    if value and field.home == "M" and value < 1e3:
        prefix = ""
    elif value and value < 0.1:
        prefix = "m"
    elif field.home == "" and value >= 1e3:
        prefix = "k"
    elif value >= 1e10:
        prefix = "G"
    return f"{figure(float(f'{value / PREFIX[prefix]:.12g}'))} {spoken_unit(field, prefix)}"


def as_text(amount: Amount, field: Field) -> str:
    """An amount as text the grammar reads back to the same amount, in the home unit."""
    if amount.bound is Bound.NOTHING:
        return "OL"

    if amount.bound is Bound.BETWEEN:
        return f"{_round_trip(amount.low, field)}-{_round_trip(amount.high, field)}"
    if amount.is_exact and amount.value == 0 and field.zero_asks:
        return "short"
    lead = {Bound.ABOVE: ">", Bound.BELOW: "<"}.get(amount.bound, "")
    return lead + _round_trip(amount.value, field)


def _round_trip(value: float, field: Field) -> str:
    """The shortest decimal of this float, its point moved to the home unit: exact both ways."""
    return format(Decimal(repr(value)).scaleb(-EXPONENT[field.home]), "f")
