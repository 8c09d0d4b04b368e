"""An open read once and whole on a repeat: a path found once through a winding is a path, one lost contact condemns
nobody (common practice without source).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from grimcoil.core.choices import Spot
from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, unproven, watch
from grimcoil.core.limits import reaches
from grimcoil.core.measured import ResistanceTest
from grimcoil.core.readings import Reading, Shown
from grimcoil.core.resistance.naming import HIGH_SPEED, pair_of
from grimcoil.core.subject import Subject

# So many readings that agree decide; common practice without source.
AGREEING = 2


@dataclass(frozen=True, slots=True)
class _Read:
    """One reading of a pair: number of its test, name there, and whether it shows an open or a path."""

    number: int
    name: str
    reading: Reading
    open: bool
    links: str | None
    through_cable: bool


def settled_opens(
    tests: Sequence[ResistanceTest], subject: Subject
) -> tuple[tuple[ResistanceTest, ...], tuple[Finding, ...]]:
    """The tests without the opens that another reading of the same pair contradicts, and what is to be said of them.

    A pair open once and whole twice is whole: the reading that agrees stands for the open one. Open at the starter and
    whole at the motor box is the cable's affair and stays.
    """
    if len(tests) < 2:
        return tuple(tests), ()
    out, findings = list(tests), []
    for pair, read in _by_pair(tests, subject).items():
        whole = [one for one in read if not one.open]
        opens = [one for one in read if one.open and any(_contradicts(other, one) for other in whole)]
        if not opens:
            continue
        agreed = len(opens) < AGREEING <= len(whole)
        for one in opens:
            stands = next((w.reading for w in whole if w.through_cable == one.through_cable), None) if agreed else None
            out[one.number] = _without(out[one.number], one.name, stands)
        findings.append(_said(pair, opens, whole, agreed))
    return tuple(out), tuple(findings)


def _by_pair(tests: Sequence[ResistanceTest], subject: Subject) -> dict[str, list[_Read]]:
    scheme, out = subject.winding.lead_scheme, dict[str, list[_Read]]()
    for number, test in enumerate(tests):
        if test.hot or test.hookup.at == Spot.CABLE or test.hookup.scope == "cable":
            continue
        turned = HIGH_SPEED.get(scheme, {}) if test.hookup.part == "high" else {}
        through = test.hookup.at == Spot.STARTER or test.hookup.scope == "motor+cable"
        for name, reading in test.readings.items():
            is_open = _is_open(reading, subject.criteria)
            if is_open is not None:
                pair = pair_of(name, scheme)
                one = _Read(number, name, reading, is_open, test.hookup.links, through)
                out.setdefault(turned.get(pair, pair), []).append(one)
    return out


def _is_open(reading: Reading, criteria: Criteria) -> bool | None:
    """None where it shows neither: no beep, or a bound below what counts as open."""
    if reading.shown is Shown.OVER_RANGE or reaches(reading.amount.low, criteria.open_above_ohm.value):
        return True
    if reading.shown is Shown.BEEP or (reading.shown is Shown.VALUE and reading.amount.high != float("inf")):
        return False
    return None


def _contradicts(whole: _Read, opened: _Read) -> bool:
    """The same way read, or through more than the open one was: links left in are another path."""
    if opened.through_cable and not whole.through_cable:
        return False
    return whole.links == opened.links or None in (whole.links, opened.links)


def _without(test: ResistanceTest, name: str, stands: Reading | None) -> ResistanceTest:
    readings = {key: reading for key, reading in test.readings.items() if key != name}
    return replace(test, readings=readings if stands is None else {**readings, name: stands})


def _said(pair: str, opens: Sequence[_Read], whole: Sequence[_Read], agreed: bool) -> Finding:
    shown = f"{pair} reads {_texts(opens)}, and {_texts(whole)} again"
    if agreed:
        return watch("contact-lost", f"{shown}: whole, one contact was lost. Clean the points.")
    return unproven("open-once", f"{shown}: read that pair again. Two readings that agree decide.")


def _texts(read: Iterable[_Read]) -> str:
    return " and ".join(one.reading.text for one in read)
