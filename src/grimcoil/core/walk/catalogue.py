"""Suspects, questions and measurements out of their data files, checked as they are read."""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from importlib.resources import files
from typing import Any

from grimcoil.core.circuit.place import LINES, NEIGHBOURS, Place, State

SYMPTOMS = {
    "dead-silent": "nothing happens when start is given",
    "hums": "it hums and won't turn",
    "trips-later": "it starts, then trips after a while",
    "trips-at-once": "it trips at once",
    "blows-fuse": "it blows a fuse or trips the breaker",
    "runs-hot": "it runs but gets hot",
    "slow-weak": "it is slow or weak",
    "noisy": "it is noisy or shakes",
    "runs-backwards": "it runs backwards",
    "earth-leakage": "the earth-leakage protection trips",
    "runs-on": "it runs on after stop",
    "chatters": "the contactor chatters",
}
ORDERS = ("most-telling", "motor-to-supply", "control-first", "overload-first", "from-local")
STATES: dict[str, State] = {
    "live": State(),
    "held": State(contactor="in", at="start"),
    "held-out": State(at="start"),
    "run": State(contactor="in", at="run"),
    "cold": State(supply="off"),
    "cold-in": State(supply="off", contactor="in"),
    "box": State(supply="off", motor="lifted-at-box"),
    "fuses-out": State(supply="off", fuses="out"),
    "uncoupled": State(supply="off", load="uncoupled"),
    "outgoing-lifted": State(contactor="in", at="start", motor="lifted-at-starter"),
    "local-open": State(contactor="in", at="start", local="open"),
    "local-dead": State(supply="off", local="open"),
    "uncoupled-run": State(contactor="in", at="run", load="uncoupled"),
}
INSTRUMENTS = {
    "volts-ac": "low-impedance voltmeter",
    "volts-ac-high-z": "voltmeter",
    "volts-across": "voltmeter, millivolts to full volts",
    "amps": "clamp",
    "ohms": "ohmmeter",
    "insulation": "insulation tester",
    "prove-dead": "two-pole tester",
}
LIVE_CAUTION = (
    "Live work: covers off no further than needed, probes and gloves for the volts, one hand, local rules first."
)
HELD_CAUTION = (
    "Hold Start for a few seconds only. Keep people clear. This counts as one start of the hour. " + LIVE_CAUTION
)
DEAD_CAUTION = "Isolated, locked and proved dead where the probes go."
TESTER_CAUTION = (
    "Disconnect electronics first. Nobody touches the leads during the test. Discharge them afterwards. " + DEAD_CAUTION
)


@dataclass(frozen=True, slots=True)
class SuspectKind:
    """One thing that can be wrong. per: `line`, `pair`, `phase`, `joint`, `switch` or empty; needs: what there must be.

    before: tests without which it isn't concluded, one of each group, as far as the position has them.
    """

    name: str
    element: str
    text: str
    fits: Mapping[str, float]
    start: str
    action: str
    causes: tuple[str, ...]
    per: str = ""
    needs: str = ""
    short: bool = False
    before: tuple[tuple[str, ...], ...] = ()


@dataclass(frozen=True, slots=True, eq=False)
class Trial:
    """A test, question, hand or try. between: pairs of points; answers: of a question, with how often each comes."""

    name: str
    quantity: str
    where: str
    instrument: str
    state: str
    minutes: float
    why: str
    risk: float = 0.0
    question: str = ""
    expect: str = ""
    caution: str = ""
    needs: str = ""
    short: str = ""
    closing: bool = False
    model: str = ""
    between: tuple[tuple[str, str], ...] = ()
    usual: Mapping[str, float] = field(default_factory=dict)
    told: Mapping[str, Mapping[str, float]] = field(default_factory=dict)

    @property
    def asks(self) -> bool:
        """Answered by a word, not by readings."""
        return bool(self.usual)

    @property
    def circuit(self) -> State | None:
        """The state it needs; None: any."""
        return STATES[self.state] if self.state else None


def _read(name: str) -> dict[str, Any]:
    return tomllib.loads((files("grimcoil.core.walk") / "data" / name).read_text(encoding="utf-8"))


@lru_cache(maxsize=1)
def suspects() -> dict[str, SuspectKind]:
    """All kinds of suspects by name. Raises ValueError for a symptom that isn't one."""
    out = {}
    for name, given in _read("suspects.toml").items():
        strange = set(given["fits"]) - set(SYMPTOMS)
        if strange:
            raise ValueError(f"suspects.toml: {name} fits {strange.pop()}, which is no symptom")
        groups = tuple(tuple(group) for group in given.get("before", ()))
        out[name] = SuspectKind(name=name, **(given | {"causes": tuple(given["causes"]), "before": groups}))
    return out


@lru_cache(maxsize=1)
def questions() -> dict[str, Trial]:
    """Looks, questions, hands and tries by name. Raises ValueError for a suspect or answer that isn't one."""
    out = {}
    for name, given in _read("questions.toml").items():
        told: dict[str, dict[str, float]] = {}
        for answer, surely in given.pop("expect", {}).items():
            for suspect, share in surely.items():
                if suspect not in suspects() or answer not in given["usual"]:
                    raise ValueError(f"questions.toml: {name}.{answer} speaks of {suspect}")
                told.setdefault(suspect, {})[answer] = share
        state = given.pop("state", "")
        out[name] = Trial(name=name, state=state, told=told, **given)
    return out


@lru_cache(maxsize=64)
def trials(place: Place) -> dict[str, Trial]:
    """Every test that this position allows of, questions and measurements, by name."""
    points = place.points()
    out = {name: one for name, one in questions().items() if has(place, one.needs)}
    for name, given in _read("measurements.toml").items():
        if not has(place, given.get("needs", "")):
            continue
        between = tuple(pair for pair in _between(place, given) if set(pair) <= points)
        if not between and given["quantity"] != "amps":
            continue
        if given["quantity"] == "insulation" and (place.no_insulation_test or place.electronics):
            continue
        out[name] = Trial(
            name=name, quantity=given["quantity"], where=given["where"], state=given["state"], why=given["why"],
            instrument=INSTRUMENTS[given["quantity"]], minutes=given["minutes"], risk=given.get("risk", 0),
            expect=given["expect"], needs=given.get("needs", ""), between=between,
            closing=STATES[given["state"]].closing, caution=_caution(given),
        )  # fmt: skip
    return out


def _caution(given: Mapping[str, Any]) -> str:
    state = STATES[given["state"]]
    if state.closing:
        return HELD_CAUTION
    if state.live:
        return LIVE_CAUTION
    return TESTER_CAUTION if given["quantity"] == "insulation" else DEAD_CAUTION


def _between(place: Place, given: Mapping[str, Any]) -> list[tuple[str, str]]:
    if "points" in given:
        return [(a, b) for a, _, b in (pair.partition("~") for pair in given["points"])]
    if given.get("chain"):
        stages = [*(["control-F"] if place.control_fuse else []), *(f"chain-{k + 1}" for k in range(len(place.chain)))]
        return [(stage, "control-N") for stage in [*stages, "coil-A1"]]
    if "pairs" in given:
        return [(f"{given['pairs']}{a}", f"{given['pairs']}{b}") for a, b in NEIGHBOURS]
    for key, other in (("earth", "earth"), ("frame", "frame")):
        if key in given:
            return [(f"{given[key]}{n}", other) for n in LINES]
    if "across" in given:
        first, second = given["across"]
        if first == "before-line":
            first = "disconnect-L" if place.disconnect == "panel" else "protection-L"
        return [(f"{first}{n}", f"{second}{n}") for n in LINES]
    return []


NEEDS: Mapping[str, Callable[[Place], bool]] = {
    "": lambda _: True,
    "fuses": lambda place: place.protection == "fuses",
    "breaker": lambda place: place.protection == "breaker",
    "panel-disconnect": lambda place: place.disconnect == "panel",
    "a-disconnect": lambda place: place.disconnect != "none",
    "local": lambda place: place.disconnect == "local",
    "control-fuse": lambda place: place.control_fuse,
    "protector": lambda place: place.protector != "none",
    "brought-out": lambda place: place.protector == "brought-out",
    "brake": lambda place: place.brake != "none",
    "star-delta": lambda place: place.starter == "star-delta",
    "reduced": lambda place: place.starter in ("autotransformer", "part-winding", "soft"),
    "drive": lambda place: place.electronics,
    "asked": lambda _: True,
    "feeds": lambda _: True,
}


def has(place: Place, needs: str) -> bool:
    """Whether the position has what a suspect or test is about. Raises KeyError for what nobody knows of."""
    return NEEDS[needs](place)
