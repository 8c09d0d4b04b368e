"""A position with a fault in it that answers whatever is asked: by the circuit, by eye, by hand, by word of mouth."""

from __future__ import annotations

from dataclasses import dataclass, replace
from random import Random
from typing import Any

from grimcoil.bench import meters
from grimcoil.core.circuit.place import Place, State
from grimcoil.core.walk.catalogue import SYMPTOMS, Trial
from grimcoil.core.walk.evidence import Panel, expected, pulls_in
from grimcoil.core.walk.faults import TRIPPED, Control, Suspect, line_up

SHOWN = {"volts-ac": meters.volts, "volts-ac-high-z": meters.volts, "volts-across": meters.volts,
         "ohms": meters.ohms, "insulation": meters.megohms}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Plant:
    """A place, what is wrong with it, in which size, and what the operator complains of. besides: a second fault."""

    place: Place
    fault: Suspect
    size: int
    symptom: str
    seed: int
    reset: bool = False
    besides: Suspect | None = None

    @property
    def panel(self) -> Panel:
        """Its place with every suspect, the overload as it is now, the second fault beside each."""
        return Panel(self.place, () if self.besides is None else (self.besides.key,), self.reset)

    def after(self, trial: Trial) -> Plant:
        """The plant once a test was made: an overload that was reset stays so."""
        return replace(self, reset=True) if trial.name == "overload-reset" else self

    @property
    def comes_in(self) -> bool:
        """Whether the contactor does with the start held."""
        return float(pulls_in(self.panel)[self.row]) > 0.5

    @property
    def row(self) -> int:
        """Where this fault stands among all variants of the place."""
        panel = self.panel
        number = panel.suspects.index(self.fault)
        return int((panel.variants()[1] < number).sum()) + self.size

    def measured(self, trial: Trial) -> dict[str, str]:
        """What the meter shows, by point or line."""
        state = trial.circuit
        if state is None:
            raise ValueError(f"{trial.name} isn't measured")
        dice = Random(f"{self.seed} {trial.name}")  # noqa: S311 - noise that comes again
        between = trial.between or tuple((f"L{n}", "") for n in (1, 2, 3))
        out = {}
        for a, b in between:
            value = float(expected(self.panel, trial.quantity, state, a, b)[self.row])
            show = meters.amps if trial.quantity == "amps" else SHOWN[trial.quantity]
            out[f"{a}~{b}" if b else a] = show(value, dice)
        return out

    def answers(self, trial: Trial) -> str:
        """What is seen, felt or told: the likeliest answer with this fault."""
        if trial.quantity == "prove-dead":
            return "dead"
        if trial.model == "contactor":
            low = self.fault.name == "control-volts-low"
            if low:
                return "chatters"
            return "pulls-in" if self.comes_in else "stays-out"
        told = trial.told.get(self.fault.name, {}) or trial.told.get(self.besides.name if self.besides else "", {})
        if trial.model == "start":
            shown = self.panel.start_of(self.fault)
            return shown if shown in trial.usual else "runs"
        if self.reset and self.fault.name == TRIPPED and trial.name == "overload-look":
            return "not-tripped"
        best = max(told, key=lambda answer: told[answer], default="")
        if best and told[best] >= 0.5:
            return best
        return max(trial.usual, key=lambda answer: trial.usual[answer])

    def done(self, trial: Trial, where: str) -> dict[str, Any]:
        """An entry of a walk: the test with what it gave."""
        if trial.asks:
            return {
                "test": trial.name,
                "answer": self.answers(trial),
                "where": where if where == "motor-box" else "panel",
            }
        return {"test": trial.name, "readings": self.measured(trial)}


def state_of(trial: Trial) -> State | None:
    """The state a test needs."""
    return trial.circuit


def plants(count: int, seed: int = 1) -> list[Plant]:
    """Random single-fault plants over all symptoms: places of many kinds, faults by how well they fit the complaint."""
    dice = Random(seed)  # noqa: S311 - plants that come again
    out: list[Plant] = []
    names = list(SYMPTOMS)
    while len(out) < count:
        place = random_place(dice)
        symptom = names[len(out) % len(names)]
        fitting = [one for one in line_up(place) if symptom in one.kind.fits]
        if not fitting:
            continue
        fault = dice.choices(fitting, [one.kind.fits[symptom] for one in fitting])[0]
        out.append(Plant(place, fault, dice.randrange(len(fault.variants)), symptom, dice.randrange(10**6)))
    return out


def double_plants(count: int, seed: int = 2) -> list[Plant]:
    """The same with a second fault in another element, of the power side, that fits the complaint as well."""
    dice = Random(seed)  # noqa: S311 - plants that come again
    out: list[Plant] = []
    for plant in plants(4 * count, seed):
        others = [
            one
            for one in line_up(plant.place)
            if plant.symptom in one.kind.fits
            and one.element != plant.fault.element
            and all(variant.control == Control() for variant in (*one.variants, *plant.fault.variants))
        ]
        if others and len(out) < count:
            out.append(replace(plant, besides=dice.choice(others)))
    return out


def random_place(dice: Random) -> Place:
    """A position as plants have them."""
    volts = dice.choice([400.0, 480.0, 575.0])
    amps = dice.choice([4.2, 9.6, 21.0, 52.0, 96.0])
    wound = dice.choice(["wye", "wye", "delta"])
    line_ohm = 0.054 * volts / (3**0.5 * amps) * dice.uniform(0.7, 1.4)
    starter = dice.choice(["direct"] * 6 + ["reversing", "star-delta", "autotransformer", "drive"])
    return Place(
        volts=volts, amps=amps, rated_volts=volts / 1.04,
        system=dice.choice(["wye-earthed"] * 4 + ["unearthed", "high-resistance-earthed", "corner-earthed"]),
        starter=starter, disconnect=dice.choice(["panel", "panel", "local", "none"]),
        protection=dice.choice(["fuses", "breaker"]),
        control=dice.choice(["L1-L2", "L2-L3", "L3-L1", "separate"]), control_volts=dice.choice([24.0, 110.0, 230.0]),
        control_fuse=dice.random() < 0.8, protector=dice.choice(["none"] * 4 + ["star-point", "control-chain"]),
        chain=("stop", "permissive", "protector", "overload", "start"),
        brake=dice.choice(["none"] * 4 + ["two-lines"]), dial_amps=amps, wound=wound,
        cable_ohm=dice.uniform(0.01, 0.1), phase_ohm=line_ohm / 2 if wound == "wye" else line_ohm * 1.5,
    )  # fmt: skip
