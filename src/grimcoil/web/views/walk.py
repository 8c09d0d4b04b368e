"""The fault walk's page: suspects by weight, the circuit, the next test as a line to fill in."""

from __future__ import annotations

import re
from dataclasses import dataclass
from urllib.parse import urlencode

from grimcoil.core.circuit.place import ELEMENTS
from grimcoil.core.readings import three_digits
from grimcoil.core.walk.catalogue import Trial
from grimcoil.core.walk.tell import element_states, findings_of, so_far
from grimcoil.draw.walk import Part, circuit
from grimcoil.service.walks import SEPARATOR, Walked, points_of
from grimcoil.web.urls import Urls

SHOWN = 5
WHERE = {
    "panel": "at the panel", "motor-box": "at the motor box", "disconnect": "at the disconnect by the motor",
    "motor": "at the motor", "machine": "at the machine", "operator": "ask the operator", "drive": "at the drive",
}  # fmt: skip
UNITS = {"volts-ac": "V", "volts-ac-high-z": "V", "volts-across": "V", "ohms": "Ω", "insulation": "MΩ", "amps": "A"}
PLACED = {
    "supply": "supply", "protection": "protection", "disconnect": "disconnect", "line": "contactor",
    "load": "contactor", "overload": "overload", "cable": "cable", "local": "local", "box": "box", "lead": "winding",
    "control": "control", "chain": "control", "coil": "coil", "P1": "protector",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Weighed:
    """A suspect over all its lines: words, share, the lines that weigh most, what moved it."""

    words: str
    percent: float
    lines: str
    by: str


@dataclass(frozen=True, slots=True)
class Kept:
    """An entry as listed, with the address without it."""

    words: str
    without: str


def address(tag: str, symptom: str, order: str, tokens: tuple[str, ...]) -> str:
    """The walk with these entries."""
    given: list[tuple[str, str]] = [(k, v) for k, v in (("tag", tag), ("s", symptom)) if v]
    if order != "most-telling":
        given.append(("o", order))
    return Urls.walk + "?" + urlencode([*given, *(("d", token) for token in tokens)])


class WalkView:
    """What the template asks for."""

    def __init__(self, done: Walked, order: str) -> None:
        made = done.made
        self.done, self.made, self.order = done, made, order
        self.suspects = weighed(done)
        self.cleared = [
            (one.suspect.kind.text + (f", {one.suspect.line}" if one.suspect.line else ""), one.by[0] if one.by else "")
            for one in made.standings if one.state == "cleared" and one.suspect.line in (None, "L1", "L1-L2")
        ]  # fmt: skip
        self.findings, self.so_far = findings_of(made), so_far(made)
        following = made.next
        self.trial: Trial | None = following.trial if following else None
        self.where = WHERE.get(following.where, following.where) if following else ""
        self.spot = following.where if following else ""
        self.live = bool(following and following.state.live and self.trial and self.trial.quantity != "prove-dead")
        self.points = points_of(self.trial) if self.trial and not self.trial.asks else []
        self.unit = UNITS.get(self.trial.quantity, "") if self.trial else ""
        self.others = [one.trial for one in made.others]
        self.drawing = circuit(self._parts(), self.live)
        self.kept = [
            Kept(token.replace(SEPARATOR, " · "), self.address(done.tokens[:i] + done.tokens[i + 1 :]))
            for i, token in enumerate(done.tokens)
        ]  # fmt: skip

    def address(self, tokens: tuple[str, ...], order: str = "") -> str:
        """The same walk with other entries or in another order."""
        return address(self.done.tag, self.made.symptom, order or self.order, tokens)

    def _parts(self) -> list[Part]:
        states = element_states(self.made, ELEMENTS)
        touched = {PLACED.get(a.split("-")[0], "") for a, _ in (self.trial.between if self.trial else ())}
        return [
            Part(element, state, element in touched, _short(by[-1]) if by and state != "untested" else "")
            for element, (state, by) in states.items()
        ]

    @property
    def sheet_address(self) -> str:
        """The same on paper."""
        return self.address(self.done.tokens).replace(Urls.walk, Urls.walk_sheet, 1)

    @property
    def mended_address(self) -> str:
        """Go on after the condemned part is mended."""
        end = self.made.end
        if end is None:
            return ""
        return self.address((*self.done.tokens, f"mended{SEPARATOR}{end.suspect.name}{SEPARATOR}{end.line or ''}"))


_POINT = re.compile(r"\b[a-z]+-[LT]?\d(?:~[a-z]+(?:-[LT]?\d)?)? ")


def _short(words: str) -> str:
    """An entry's readings without the names of its points: `481, 479, 480 while trying`."""
    return _POINT.sub("", words).replace(", live", "").replace(", dead", "")


def weighed(done: Walked) -> list[Weighed]:
    """The heaviest suspects, each over all its lines."""
    by_name: dict[str, list[tuple[float, str, tuple[str, ...], str]]] = {}
    for one in done.made.standings:
        if one.belief > 0.002:
            where = one.suspect.line or ""
            by_name.setdefault(one.suspect.name, []).append((one.belief, where, one.by, one.suspect.kind.text))
    out = []
    for rows in by_name.values():
        share = sum(row[0] for row in rows)
        best = max(rows)
        heavy = [where for belief, where, _, _ in sorted(rows, reverse=True) if belief > 0.25 * share and where]
        lines = ", ".join(dict.fromkeys(heavy)) if len(set(heavy)) < 3 else ""
        out.append(Weighed(best[3], 100 * share, lines, best[2][0] if best[2] else ""))
    return sorted(out, key=lambda one: -one.percent)[:SHOWN]


def percent(value: float) -> str:
    """A share as a person reads it."""
    return three_digits(round(value)) if value >= 1 else "<1"
