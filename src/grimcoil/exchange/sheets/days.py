"""Days as people write them: read where only one day can be meant, asked where two can, refused where none."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date, datetime, timedelta

FIRST_DAY = date(1950, 1, 1)
MONTHS = {name: i for i, names in enumerate((
    ("jan", "january", "januar"), ("feb", "february", "februar"), ("mar", "march", "märz", "mrz"),
    ("apr", "april"), ("may", "mai"), ("jun", "june", "juni"), ("jul", "july", "juli"), ("aug", "august"),
    ("sep", "sept", "september"), ("oct", "october", "okt", "oktober"), ("nov", "november"),
    ("dec", "december", "dez", "dezember"),
), 1) for name in names}  # fmt: skip
ACCEPTED = "a day up to today, such as 2024-03-14"
ORDERS = ("dmy", "mdy", "ymd")
_SLASHED = re.compile(r"(\d{1,4})/(\d{1,2})/(\d{1,4})")


@dataclass(frozen=True, slots=True)
class Day:
    """What a cell says of the day. on: it; asked: days it can be, or the question where it is a month or a year."""

    on: date | None = None
    asked: tuple[str, ...] = ()
    question: str = ""


NO_DAY = Day()


def read_day(
    text: str, today: date, order: str | None = None, incomplete: str | None = None, epoch: datetime | None = None
) -> Day:
    """One cell. NO_DAY: none that can be. epoch: where bare serial numbers are days of a workbook."""
    words = text.strip()
    if not words:
        return NO_DAY
    serial = _serial(words, epoch)
    if serial is not None:
        return _known(serial, today)
    if match := re.fullmatch(r"(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ].*)?", words):
        return _made(int(match[1]), int(match[2]), int(match[3]), today)
    if match := re.fullmatch(r"((?:19|20)\d{2})(\d{2})(\d{2})", words):
        return _made(int(match[1]), int(match[2]), int(match[3]), today)
    if match := re.fullmatch(r"(\d{1,2})\. ?(\d{1,2})\. ?(\d{4}|\d{2})", words):
        return _made(_year(match[3]), int(match[2]), int(match[1]), today)
    if match := _SLASHED.fullmatch(words):
        return _slashed(match, today, order)
    return _worded(words, today, incomplete)


def _serial(words: str, epoch: datetime | None) -> date | None:
    if epoch is None or not re.fullmatch(r"\d{4,5}(\.\d+)?", words) or re.fullmatch(r"(19|20)\d{2}", words):
        return None
    days = int(float(words))
    if epoch.year < 1904 and days >= 60:
        return (datetime(1899, 12, 30) + timedelta(days=days)).date()
    return (epoch + timedelta(days=days)).date()


def _year(text: str) -> int:
    number = int(text)
    if len(text) > 2:
        return number
    return 1900 + number if number >= 70 else 2000 + number


def _made(year: int, month: int, day: int, today: date) -> Day:
    try:
        return _known(date(year, month, day), today)
    except ValueError:
        return NO_DAY


def _known(on: date, today: date) -> Day:
    return Day(on) if FIRST_DAY <= on <= today else NO_DAY


def slashed_ways(text: str, today: date) -> dict[str, date]:
    """By order, the day a date with slashes can be."""
    match = _SLASHED.fullmatch(text.strip())
    if match is None:
        return {}
    a, b, c = match.groups()
    ways = {"dmy": (c, b, a), "mdy": (c, a, b), "ymd": (a, b, c)}
    out = {}
    for name, (year, month, day) in ways.items():
        whole_first = len(a) == 4
        if (name == "ymd") != whole_first and (whole_first or len(a) > 2 or len(c) == 4):
            continue
        if len(year) not in (2, 4) or len(day) > 2 or len(month) > 2:
            continue
        if name == "ymd" and not whole_first:
            continue
        made = _made(_year(year), int(month), int(day), today)
        if made.on is not None:
            out[name] = made.on
    return out


def _slashed(match: re.Match[str], today: date, order: str | None) -> Day:
    ways = slashed_ways(match[0], today)
    if order is not None:
        return Day(ways[order]) if order in ways else NO_DAY
    distinct = dict.fromkeys(ways.values())
    if len(distinct) > 1:
        return Day(None, tuple(on.isoformat() for on in distinct), "which day is meant?")
    return Day(next(iter(distinct))) if distinct else NO_DAY


def _worded(words: str, today: date, incomplete: str | None) -> Day:
    plain = words.replace(",", " ").replace(".", " ").replace("-", " ")
    parts = plain.split()
    months = [MONTHS[part.lower()] for part in parts if part.lower() in MONTHS]
    numbers = [part for part in parts if part.isdigit()]
    if len(months) == 1 and len(numbers) == 2 and len(parts) == 3:
        day, year = numbers if len(numbers[1]) >= len(numbers[0]) else numbers[::-1]
        return _made(_year(year), months[0], int(day), today) if len(day) <= 2 else NO_DAY
    if len(months) == 1 and len(numbers) == 1 and len(parts) == 2:
        return _month(months[0], numbers[0], today, incomplete)
    if re.fullmatch(r"(19|20)\d{2}", words):
        return _within(date(int(words), 1, 1), date(int(words), 12, 31), date(int(words), 7, 1), today, incomplete)
    if match := re.fullmatch(r"(\d{1,2})/((?:19|20)\d{2})|((?:19|20)\d{2})-(\d{1,2})", words):
        of_year, of_month = int(match[2] or match[3]), int(match[1] or match[4])
        return _of_month(of_year, of_month, today, incomplete) if 1 <= of_month <= 12 else NO_DAY
    return NO_DAY


def _month(month: int, number: str, today: date, incomplete: str | None) -> Day:
    if len(number) == 4:
        return _of_month(int(number), month, today, incomplete)
    day = _made(today.year, month, int(number), today).on
    return Day(None, tuple(o.isoformat() for o in (day, date(_year(number), month, 15)) if o), "a day, or a year?")


def _of_month(year: int, month: int, today: date, incomplete: str | None) -> Day:
    last = date(year + month // 12, month % 12 + 1, 1) - timedelta(days=1)
    return _within(date(year, month, 1), last, date(year, month, 15), today, incomplete)


def _within(first: date, last: date, middle: date, today: date, incomplete: str | None) -> Day:
    if not FIRST_DAY <= first <= today:
        return NO_DAY
    if incomplete is None:
        return Day(None, ("first", "middle", "last"), "which day of it is to stand there?")
    return Day(min({"first": first, "middle": middle, "last": last}[incomplete], today))
