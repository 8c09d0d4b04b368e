"""What plates print, as figures: signs of thousands, other units, two values with a stroke between.

Units and their factors: V, A, Hz, r/min by definition (SI); c/s is Hz by its older name (common practice).
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from decimal import Decimal

from grimcoil.core.errors import RecordRefusal, UnclearReading

Factors = Mapping[str, int | Decimal]
VOLTS: Factors = {"v": 1, "volt": 1, "volts": 1, "kv": 1000}
AMPS: Factors = {"a": 1, "amp": 1, "amps": 1, "ampere": 1, "ka": 1000, "ma": Decimal("0.001")}
HERTZ: Factors = {"hz": 1, "c/s": 1, "cps": 1, "cycles": 1, "~": 1, "per/s": 1}
SPEED: Factors = {
    "r/min": 1,
    "rpm": 1,
    "/min": 1,
    "1/min": 1,
    "min-1": 1,
    "min⁻¹": 1,
    "u/min": 1,
    "t/min": 1,
    "tr/min": 1,
}
PERCENT: Factors = {"%": 1, "percent": 1}
EXAMPLES = {"%": "91.4", "V": "400 V", "A": "19.6 A", "Hz": "50 Hz", "r/min": "1 455", "": "1.15"}
_SPACES = "\u00a0\u2009\u202f '’"
_GROUPED = re.compile(r"\d{1,3}(?:[ ]\d{3})+(?:[.,]\d+)?")
_FIGURE = re.compile(r"([0-9][0-9.,'’ ]*?)\s*([^\d\s.,'’][^\d]*(?:-?1)?|)")
_STROKE = re.compile(r"\s*/\s*(?=\d)")
_JOINING = re.compile(r"(?<=[\dVv ])\s*(?:[DYΔΥdy△]|delta|star|wye)(?=\s*(?:k?V)?$)", re.IGNORECASE)


def figures(text: str) -> list[Decimal]:
    """Every number that a text can be: a comma before three digits may be a decimal sign or one of thousands.

    >>> [str(each) for each in figures("1 455")], [str(each) for each in figures("0,38")]
    (['1455'], ['0.38'])
    >>> [str(each) for each in figures("1,455")], figures("15 kW")
    (['1.455', '1455'], [])
    """
    plain = re.sub(rf"[{_SPACES}]", " ", text.strip())
    if _GROUPED.fullmatch(plain):
        return [Decimal(plain.replace(" ", "").replace(",", "."))]
    if not re.fullmatch(r"[0-9]+(?:[.,][0-9]+)*", plain):
        return []
    signs = re.findall(r"[.,]", plain)
    if len(signs) > 1:
        last = plain.rpartition(signs[-1])
        if signs.count(signs[-1]) == 1:
            return [Decimal(re.sub(r"[.,]", "", last[0]) + "." + last[2])]
        return [Decimal(re.sub(r"[.,]", "", plain))] if len(set(signs)) == 1 else []
    decimal = Decimal(plain.replace(",", "."))
    whole, sign, rest = re.match(r"(\d+)([.,]?)(\d*)", plain).groups()  # type: ignore[union-attr]
    grouped = sign and len(rest) == 3 and len(whole) <= 3 and not whole.startswith("0")
    return [decimal, Decimal(whole + rest)] if grouped else [decimal]


def measure(text: str, units: Factors, unit: str, least: float, most: float) -> Decimal:
    """One figure of a plate in its home unit; bounds are in that unit too.

    Raises RecordRefusal where it can't be read or lies outside, UnclearReading with choices where it can be two.

    >>> str(measure("0,38 kV", VOLTS, "V", 10, 15000)), str(measure("1 455", SPEED, "r/min", 50, 30000))
    ('380.00', '1455')
    """
    match = _FIGURE.fullmatch(" ".join(text.split()))
    named = (match[2] or "").strip().rstrip(".").casefold() if match else ""
    factor = units.get(named, 1 if not named else None)
    ways = figures(match[1]) if match and factor is not None else []
    if match is None or factor is None or not ways:
        raise RecordRefusal("", text, f"a number in {unit}".removesuffix(" in "), EXAMPLES.get(unit, ""))
    fit = [value for way in ways if least <= (value := way * factor) <= Decimal(str(most))]
    if not fit:
        raise RecordRefusal("", text, f"a number from {least:g} to {most:g} {unit}")
    if len(fit) > 1 and "," in match[1]:  # a point is a decimal one wherever that can be
        choices = tuple(f"{value.normalize():f}" for value in fit)
        raise UnclearReading("", text, f"either {' or '.join(choices)} {unit}: write it without the sign", choices)
    return fit[0]


def year(text: str, now: int) -> int:
    """A year of four digits. Raises RecordRefusal; of two digits the year that is meant is asked.

    >>> year("1958", 2026)
    1958
    """
    plain = text.strip().strip("'’")
    if re.fullmatch(r"\d{2}", plain):
        this = now // 100 * 100 + int(plain)
        guess = this if this <= now else this - 100
        raise RecordRefusal("", text, "a year of four digits", f"{guess}, if that is meant")
    if not re.fullmatch(r"\d{4}", plain) or not 1880 <= int(plain) <= now:
        raise RecordRefusal("", text, f"a year from 1880 to {now}", "1998")
    return int(plain)


def pair(text: str) -> tuple[str, str] | None:
    """Two figures with a stroke between, each without its sign of joining, the unit behind the last for both.

    >>> pair("230/460"), pair("400D/690Y"), pair("19,6 / 9,8 A"), pair("0.4/0.69 kV"), pair("460")
    (('230', '460'), ('400', '690'), ('19,6 A', '9,8 A'), ('0.4 kV', '0.69 kV'), None)
    """
    parts = [_JOINING.sub("", part.strip()).strip() for part in _STROKE.split(text.strip())]
    if len(parts) != 2 or not all(re.match(r"\d", part) for part in parts):
        return None
    tail = re.search(r"[^\d\s.,'’][^\d]*$", parts[1])
    if tail and not re.search(r"[^\d\s.,'’]", parts[0]):
        parts[0] = f"{parts[0]} {tail[0]}"
    return parts[0], parts[1]
