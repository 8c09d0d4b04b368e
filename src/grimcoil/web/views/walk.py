"""The fault walk's page: suspects by weight, the circuit, the next test as a line to fill in."""

from __future__ import annotations

from dataclasses import dataclass
from urllib.parse import urlencode

from grimcoil.core.circuit.place import ELEMENTS, State
from grimcoil.core.readings import three_digits
from grimcoil.core.walk.catalogue import STATES, Trial
from grimcoil.core.walk.safety import proofs_needed
from grimcoil.core.walk.tell import element_states, end_words, findings_of, so_far, to_do, weighed
from grimcoil.core.walk.walk import PROVE_DEAD, Next, Walk
from grimcoil.core.walk.words import pair_words, point_words, trial_words
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
    """A suspect over all its lines: words with the lines that weigh most, share, what moved it."""

    words: str
    percent: float
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


# What a meter shows that isn't a figure, as keys: the word on the key, the text it types.
QUICK = {
    "ohms": (("Short", "0.0"), ("OL", "OL"), ("Beep", "beep"), ("No beep", "no beep")),
    "insulation": (("0.00 MΩ: short", "short"), ("Over range", "OL")),
    "volts-ac": (("Nothing, 0 V", "0"),),
    "volts-across": (("Nothing, 0 V", "0"),),
    "amps": (("No current, 0 A", "0"),),
}  # fmt: skip


def chosen(made: Walk, picked: str) -> Next | None:
    """The test that somebody chose instead, with its proof first; the walk's own where that can't be."""
    trial = next((one.trial for one in made.others if one.trial.name == picked), None)
    if trial is None or made.next is None:
        return made.next
    needed = proofs_needed(made.guard, trial)
    return Next(PROVE_DEAD, needed[0], STATES["cold"]) if needed else Next(trial, trial.where, trial.circuit or State())


class WalkView:
    """What the template asks for."""

    def __init__(self, done: Walked, order: str, picked: str = "") -> None:
        made = done.made
        self.done, self.made, self.order = done, made, order
        self.suspects = [
            Weighed(words, 100 * share, self._by(by)) for words, share, by in weighed(made)[:SHOWN]
        ]  # fmt: skip
        self.cleared = [
            (one.suspect.kind.text + (f", {one.suspect.line}" if one.suspect.line else ""), self._by(one.by))
            for one in made.standings if one.state == "cleared" and one.suspect.line in (None, "L1", "L1-L2")
        ]  # fmt: skip
        self.findings, self.so_far, self.to_do = findings_of(made), so_far(made), to_do(made)
        self.end_words = end_words(made)
        following = chosen(made, picked)
        self.trial: Trial | None = following.trial if following else None
        self.where = WHERE.get(following.where, following.where) if following else ""
        self.instrument = self.trial.instrument if self.trial and self.trial.instrument != "—" else ""
        self.spot = following.where if following else ""
        self.live = bool(following and following.state.live and self.trial and self.trial.quantity != "prove-dead")
        self.points = points_of(self.trial) if self.trial and not self.trial.asks else []
        self.unit = UNITS.get(self.trial.quantity, "") if self.trial else ""
        self.others = [
            (trial_words(done.place, one.trial), self.pick_address(one.trial.name)) for one in made.others
        ]  # fmt: skip
        self.title = trial_words(done.place, self.trial) if self.trial else ""
        self.back = self.address(done.tokens) if picked and following is not made.next else ""
        self.point_words = [
            pair_words(done.place, *(pair.split("~") if "~" in pair else (pair, ""))) for pair in self.points
        ]  # fmt: skip
        self.quick = QUICK.get(self.trial.quantity, ()) if self.trial else ()
        self.all_points = sorted(done.place.points())
        self.drawing = circuit(self._parts(), self.live, points={one: self.named(one) for one in self.all_points})
        self.kept = [
            Kept(done.words[i], self.address(done.tokens[:i] + done.tokens[i + 1 :]))
            for i, token in enumerate(done.tokens)
        ]  # fmt: skip

    def address(self, tokens: tuple[str, ...], order: str = "") -> str:
        """The same walk with other entries or in another order."""
        return address(self.done.tag, self.made.symptom, order or self.order, tokens)

    def _by(self, by: tuple[str, ...]) -> str:
        return self.plain(by[0]) if by else ""

    def plain(self, words: str) -> str:
        """An entry in the trade's words."""
        return self.made.plain.get(words, words)

    def named(self, point: str) -> str:
        """A point in words."""
        return point_words(self.done.place, point)

    def pick_address(self, name: str) -> str:
        """The same walk with another test asked for."""
        return self.address(self.done.tokens) + "&" + urlencode([("n", name)])

    def _parts(self) -> list[Part]:
        states = element_states(self.made, ELEMENTS)
        clamp = bool(self.trial and self.trial.quantity == "amps")
        points = [point for pair in (self.trial.between if self.trial else ()) for point in pair]
        touched = {"overload"} if clamp else {PLACED.get(point.split("-")[0], "") for point in points[1::2] or points}
        return [
            Part(element, state, element in touched, self.plain(by[0]) if by and state != "untested" else "", clamp)
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


def percent(value: float) -> str:
    """A share as a person reads it."""
    return three_digits(round(value)) if value >= 1 else "<1"
