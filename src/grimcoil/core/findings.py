"""What a reading shows: verdicts and findings."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from enum import StrEnum

from grimcoil.core.catalogue import CATALOGUE


class Verdict(StrEnum):
    """Four answers. `unproven` is one of them: the readings don't allow a verdict."""

    SOUND = "sound"
    WATCH = "watch"
    ACT = "act"
    UNPROVEN = "unproven"


_LINES = {code: kind.line for code, kind in CATALOGUE.items()}


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing the readings show, as a sentence with its figures. `code` is in the catalogue."""

    code: str
    severity: Verdict
    text: str

    @property
    def source(self) -> str:
        """Source and standing in one line."""
        return _LINES[self.code]


# An index or a ratio that is merely unproven, or a remark on how it was read, doesn't unprove the value beside it.
SIDE = frozenset({"pi-unproven", "dar-unproven", "test-voltage-missing", "few-turns-hidden"})

_RANK = {Verdict.SOUND: 0, Verdict.UNPROVEN: 1, Verdict.WATCH: 2, Verdict.ACT: 3}


def worst(verdicts: Iterable[Verdict]) -> Verdict:
    """The verdict that governs: act over watch over unproven over sound; nothing at all is unproven."""
    return max(verdicts, key=_RANK.__getitem__, default=Verdict.UNPROVEN)


def verdict_of(findings: Iterable[Finding]) -> Verdict:
    """The governing verdict of some findings."""
    return worst([finding.severity for finding in findings])


def telling(findings: Iterable[Finding]) -> tuple[Finding, ...]:
    """Those of some findings that aren't in order."""
    return tuple(one for one in findings if one.severity is not Verdict.SOUND)


# What asks for action soon, after what asks for it now; and what only says how a series was put together.
SOON = frozenset({"trend-step-act"})
REMARKS = frozenset({"series-restarted", "series-changed", "series-beside", "short-holds-left-out", "trend-as-read"})


def by_weight(findings: Iterable[Finding]) -> list[Finding]:
    """Weightiest first, of the same weight what is urgent before what isn't, otherwise in the order found."""
    return sorted(findings, key=lambda f: (-_RANK[f.severity], f.code in SOON, f.code in REMARKS))


@dataclass(frozen=True, slots=True, kw_only=True)
class Result:
    """What one test shows: its findings and the verdict that governs them; figures are added by each kind.

    is_open: something that governs stays unproven, whatever else is on watch. verdict: what asks for action, else what
    stays open, else the worst of the rest. Both follow from the findings and are worked out once: they are asked often.
    """

    findings: tuple[Finding, ...] = ()
    is_open: bool = field(init=False, default=False)
    verdict: Verdict = field(init=False, default=Verdict.UNPROVEN)

    def __post_init__(self) -> None:
        severities = {f.severity for f in self.findings if f.severity is not Verdict.UNPROVEN or f.code not in SIDE}
        object.__setattr__(self, "is_open", Verdict.UNPROVEN in severities)
        object.__setattr__(self, "verdict", _governing(severities))


def _governing(severities: set[Verdict]) -> Verdict:
    for verdict in (Verdict.ACT, Verdict.UNPROVEN, Verdict.WATCH):
        if verdict in severities:
            return verdict
    return Verdict.SOUND if severities else Verdict.UNPROVEN


def sound(code: str, text: str) -> Finding:
    """A finding that is in order."""
    return Finding(code, Verdict.SOUND, text)


def watch(code: str, text: str) -> Finding:
    """A finding to keep an eye on."""
    return Finding(code, Verdict.WATCH, text)


def act(code: str, text: str) -> Finding:
    """A finding that asks for action."""
    return Finding(code, Verdict.ACT, text)


def failed_tester(shown: str) -> Finding:
    """What a reading is worth that was made with a tester which failed its own check."""
    text = f"Its tester failed its check ({shown}): unproven, whatever it shows. Check the tester, read again."
    return Finding("tester-failed", Verdict.UNPROVEN, text)


def unproven(code: str, text: str) -> Finding:
    """A finding that the readings don't allow a verdict."""
    return Finding(code, Verdict.UNPROVEN, text)
