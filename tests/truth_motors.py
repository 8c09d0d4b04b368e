"""Simulated motors for the truth table: every scheme, one fault or none, rounding meters, tests left out.

Each case is a `grimcoil-job/1` document with what is true of the motor. All figures are drawn from a seed; ohms come
from the net of the scheme, insulation of groups adds up as conductances: no judging code is asked what to expect.
"""

from __future__ import annotations

import random
from dataclasses import dataclass
from itertools import combinations
from typing import Any

from grimcoil.core.decision.needs import OHM_SETS
from grimcoil.core.points import groups_of, phases_of
from grimcoil.core.stator.network import SOUND, Fault, lead_ohms
from grimcoil.core.stator.schemes import SCHEMES

Json = dict[str, Any]
LINES = ("L1", "L2", "L3")
PAIRS = ("L1-L2", "L2-L3", "L3-L1")
MOTOR_FAULTS = ("turns", "open-coil", "frame-low", "frame-zero", "between-low")
OTHER_FAULTS = ("lead-joint", "cable-joint", "cable-open", "cable-low", "supply-unbalanced", "line-lost", "overload")
FAULTS = ("none", *MOTOR_FAULTS, *OTHER_FAULTS)
BY_CABLE = ("cable-joint", "cable-open", "cable-low")
COPPER_20 = 0.00393


@dataclass(frozen=True)
class Case:
    """A document and the truth. left_out: what was taken from a whole job; coarse: the meter can't prove the ohms."""

    document: Json
    scheme: str
    fault: str
    left_out: str
    coarse: bool

    @property
    def motor_is_bad(self) -> bool:
        """The winding itself has the fault."""
        return self.fault in MOTOR_FAULTS

    @property
    def provable(self) -> bool:
        """Nothing was left out and the meter resolves it: a verdict must come."""
        return not self.left_out and not self.coarse


@dataclass(frozen=True)
class _Motor:
    scheme: str
    half_coil: float
    fault: str
    dice: random.Random
    coil: str
    group: int
    other: int
    warm_c: float

    def ohm(self, a: str, b: str) -> float | None:
        """Between two leads at the winding's temperature; None where open."""
        made = SCHEMES[self.scheme]
        broken = {"turns": Fault(scaled=((self.coil, 0.8),)), "open-coil": Fault(opened=(self.coil,))}
        at = [made.labels.index(lead) for lead in (a, b)]
        ohm = float(lead_ohms(made, broken.get(self.fault, SOUND))[at[0], at[1]])
        if ohm == float("inf"):
            return None
        if self.scheme == "two-speed-two-winding" and len(a) > 1:
            ohm *= 0.4  # the high speed has fewer turns of thicker wire
        joint = 0.3 * 4 * self.half_coil if self.fault == "lead-joint" and made.labels[0] in (a, b) else 0.0
        return ohm * self.half_coil * (1 + COPPER_20 * (self.warm_c - 20)) + joint

    def mohm_to_frame(self, group: int) -> float:
        """Of one group, at 40 °C."""
        low = {"frame-low": 1.0, "frame-zero": 0.01}.get(self.fault)
        return low if low is not None and group == self.group else 400.0

    def mohm_between(self, a: int, b: int) -> float:
        """Of two groups, at 40 °C."""
        return 1.5 if self.fault == "between-low" and {a, b} == {self.group, self.other} else 900.0


def case(seed: int, fault: str | None = None, left_out: bool | None = None, coarse: bool | None = None) -> Case:
    """One case of a seed; what isn't given is drawn."""
    dice = random.Random(seed)
    scheme = dice.choice(list(SCHEMES))
    wanted = fault or dice.choice(FAULTS)
    groups = groups_of(scheme)
    if wanted == "between-low" and len(groups) < 2:
        wanted = "frame-low"
    if wanted in BY_CABLE and not scheme.startswith("three-lead"):
        wanted = "none"
    rough = dice.random() < 0.2 if coarse is None else coarse
    group = dice.randrange(len(groups))
    other = (group + 1) % len(groups)
    coil = dice.choice(SCHEMES[scheme].coils).name
    half = dice.uniform(0.05, 2.0)
    motor = _Motor(scheme, half, wanted, dice, coil, group, other, round(dice.uniform(12, 38), 1))
    tests = [*_ohm_tests(motor, rough), *_holds(motor), *_live(motor)]
    missing = ""
    if wanted not in BY_CABLE and (left_out or (left_out is None and dice.random() < 0.3)):
        tests, missing = _without_one(tests, dice)
    document = {
        "format": "grimcoil-job/1",
        "motor": {"lead_scheme": scheme, "insulation_system": "thermosetting", "insulation_class": "F"} | _plate(),
        "conditions": {"winding_temperature_c": motor.warm_c, "ambient_temperature_c": motor.warm_c},
        "supply_system": "wye-earthed",
        "tests": tests,
    }
    return Case(document, scheme, wanted, missing, rough)


def _plate() -> Json:
    return {"rated_voltage_v": 460, "frequency_hz": 60, "power": "15 hp", "full_load_current_a": 21, "speed_rpm": 1755}


def _ohm_tests(motor: _Motor, rough: bool) -> list[Json]:
    sets = [[tuple(pair.split("-")) for pair in one.split()] for one in OHM_SETS[motor.scheme]]  # type: ignore[index]
    smallest = min((ohm for one in sets for a, b in one if (ohm := motor.ohm(a, b)) is not None), default=1.0)
    step = _step(smallest * (0.2 if rough else 0.0008))
    at = {"at": "motor-box", "links": "opened"}
    box = [_ohms(motor, one, step) | at for one in sets]
    if motor.fault not in ("cable-joint", "cable-open"):
        return box
    starter = [_ohms(motor, one, step, through=motor.fault) | {"at": "starter"} for one in sets]
    return starter + (box if motor.dice.random() < 0.6 else [])


def _step(most: float) -> float:
    """The next 1, 2 or 5 below: what the last digit of a meter moves by."""
    figure, _, exponent = f"{most:e}".partition("e")
    return float(f"{max(d for d in (1, 2, 5) if d <= float(figure))}e{exponent}")


def _ohms(motor: _Motor, pairs: list[tuple[str, ...]], step: float, through: str = "") -> Json:
    readings = {}
    for a, b in pairs:
        ohm = motor.ohm(a, b)
        if ohm is not None and through:
            joint = 0.4 * ohm if through == "cable-joint" and "1" in (a, b) else 0.0
            ohm = None if through == "cable-open" and "1" in (a, b) else ohm * 1.02 + joint
        noisy = None if ohm is None else ohm * motor.dice.gauss(1, 0.0004)
        readings[f"{a}-{b}"] = "OL" if noisy is None else _shown(noisy, step)
    return {"kind": "winding_resistance", "readings": readings, "resolution": f"{step:.12f}".rstrip("0").rstrip(".")}


def _shown(value: float, step: float) -> str:
    decimals = max(0, -int(f"{step:e}".partition("e")[2]))
    return f"{round(value / step) * step:.{decimals}f}"


def _holds(motor: _Motor) -> list[Json]:
    groups, phases = groups_of(motor.scheme), phases_of(motor.scheme)
    out = [_hold("insulation", groups[n], ("frame",), motor.mohm_to_frame(n), motor) for n in range(len(groups))]
    if motor.fault == "cable-low":
        whole = 1 / (1 / motor.mohm_to_frame(0) + 1 / 0.6)
        low = _hold("insulation", groups[0], ("frame",), whole, motor) | {"scope": "motor+cable"}
        out = [low, *([out[0] | {"scope": "motor"}] if motor.dice.random() < 0.6 else [])]
    sides = [({a}, {b}) for a, b in combinations(range(len(groups)), 2)]
    if len(groups) > len(phases) > 0:
        sides = [(set(a), set(b)) for a, b in combinations(phases, 2)]
        sides += [({a}, {b}) for phase in phases for a, b in combinations(sorted(phase), 2)]
    for first, second in sides:
        mohm = 1 / sum(1 / motor.mohm_between(a, b) for a in first for b in second)
        ends, to = (tuple(lead for n in sorted(side) for lead in groups[n]) for side in (first, second))
        out.append(_hold("winding_to_winding", ends, to, mohm, motor))
    return out


def _hold(kind: str, ends: tuple[str, ...], to: tuple[str, ...], mohm_40: float, motor: _Motor) -> Json:
    """Warm copper insulates less: at 40 °C `mohm_40`, halving every 50 K or so down here (the law's own slope)."""
    factor = 2.718281828 ** (-1245 * (1 / (motor.warm_c + 273) - 1 / 313))
    read = mohm_40 / factor
    series = [{"t_s": t, "reading": f"{read * times:.4g}M"} for t, times in ((30, 0.75), (60, 1.0))]
    return {"kind": kind, "from": list(ends), "to": list(to), "test_voltage_v": 500, "series": series}


def _live(motor: _Motor) -> list[Json]:
    dice = motor.dice
    volts = {pair: round(dice.gauss(478, 1.0)) for pair in PAIRS}
    if motor.fault == "supply-unbalanced":
        volts["L2-L3"] = round(478 * 0.93)
    amps = {line: dice.gauss(17, 0.1) for line in LINES}
    if motor.fault == "line-lost":
        amps = {"L1": 1.1, "L2": 29.0, "L3": 29.4}
    if motor.fault == "overload":
        amps = {line: dice.gauss(31, 0.1) for line in LINES}
    return [
        {"kind": "supply_voltage", "line_to_line": {pair: str(v) for pair, v in volts.items()}},
        {"kind": "line_current", "readings": {line: f"{a:.1f}" for line, a in amps.items()}},
    ]


def _without_one(tests: list[Json], dice: random.Random) -> tuple[list[Json], str]:
    """A job with one key test left out, one reading of it, or a weaker test in its place."""
    at = dice.randrange(len(tests))
    test = tests[at]
    names = {"winding_resistance": "readings", "supply_voltage": "line_to_line", "line_current": "readings"}
    key = names.get(test["kind"])
    how = dice.choice(("test", "reading", "weaker"))
    if how == "test":
        return tests[:at] + tests[at + 1 :], f"{test['kind']}"
    if key:
        gone = dice.choice(list(test[key]))
        left = test | {key: {name: text for name, text in test[key].items() if name != gone}}
        if how == "weaker" and test["kind"] == "winding_resistance":
            left = test | {"hot": True}
        return [*tests[:at], left, *tests[at + 1 :]], f"{test['kind']} {how}"
    spot = test | {"series": [{"t_s": 10, "reading": test["series"][0]["reading"]}]}
    weak = test | {"test_voltage_v": 9, "series": [{"t_s": 5, "reading": "OL"}]}
    return [*tests[:at], dice.choice((spot, weak)), *tests[at + 1 :]], f"{test['kind']} {how}"
