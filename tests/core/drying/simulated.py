"""Dryings made from the handbook's text: copper heated by its current's square, moisture that leaves faster the warmer
it is, phases wet by themselves and joined on the tester; rests, rotations, digits. Nothing here asks the code that is
tested but for the law of correction, which has its published check.
"""

import math
from datetime import datetime, timedelta
from random import Random

from grimcoil.core.insulation.correction import correction_factor

START = datetime(2026, 3, 14, 8, 0)
COPPER = 234.5
COLD_C, COLD_OHM = 18.0, 0.412
MINUTE_H = 1 / 60
HOOKUPS = (
    ("series", "six-lead", (1, 1, 1)), ("one-and-two", "three-lead-wye", (1, 0.25, 0.25)),
    ("delta-two", "three-lead-delta", (1, 0.25, 0.25)),
)  # fmt: skip


class Wet:
    """One wet motor on one hookup."""

    def __init__(self, seed):
        dice = self.dice = Random(seed)
        self.hookup, self.scheme, self.heat = dice.choice(HOOKUPS)
        self.decades = dice.uniform(2.5, 4.2) if dice.random() < 0.5 else dice.uniform(1.0, 2.4)  # soaked or damp
        self.dry = dice.uniform(1.8, 3.2)
        self.tau_h = math.exp(dice.uniform(math.log(0.8), math.log(9)))
        self.warmth = dice.uniform(0.0, 0.05)
        deep = dice.uniform(0.1, 0.5) if dice.random() < 0.5 else 0.0  # moisture that sits deep leaves slowly
        self.slow = dice.uniform(2, 4)
        self.wet = [[1 - deep, deep] for _ in range(3)]
        self.celsius = [COLD_C] * 3
        self.target_c, self.noise, self.every_h = (
            dice.uniform(65, 82),
            dice.uniform(0.005, 0.03),
            dice.choice([0.5, 0.75, 1]),
        )
        self.heat_h, self.rest_h = (dice.uniform(2, 6), dice.uniform(0.4, 2)) if dice.random() < 0.6 else (1e9, 0.0)
        self.rotate_h = None if self.hookup == "series" else dice.choice([None, 2.0, 3.0])
        self.hot = 0

    def resting(self, t):
        return t % (self.heat_h + self.rest_h) >= self.heat_h

    def pass_minute(self, resting):
        mean = sum(self.celsius) / 3
        share = [self.heat[(i - self.hot) % 3] for i in range(3)]
        power = 0.0 if resting or max(self.celsius) >= self.target_c else 30.0 / sum(share)
        for p in range(3):
            loss = (self.celsius[p] - COLD_C) / (4 if resting else 12)
            self.celsius[p] += (power * share[p] - loss + (mean - self.celsius[p]) / 0.7) * MINUTE_H
            pace = math.exp(self.warmth * (self.celsius[p] - 75)) * MINUTE_H / self.tau_h
            self.wet[p] = [self.wet[p][0] * math.exp(-pace), self.wet[p][1] * math.exp(-pace / self.slow)]

    def ohm(self):
        a, b, c = ((COPPER + self.celsius[(self.hot + i) % 3]) / (COPPER + COLD_C) for i in range(3))
        whole = {
            "series": (a + b + c) / 3, "one-and-two": (a + b * c / (b + c)) / 1.5,
            "delta-two": a * (b + c) / (a + b + c) * 1.5,
        }  # fmt: skip
        return COLD_OHM * whole[self.hookup]

    def read_mohm(self):
        """The minute's value and that of 30 s, as read."""
        whole = 3 / sum(10 ** (self.decades * sum(m) - self.dry) for m in self.wet)
        k = correction_factor(min(85, max(10, sum(self.celsius) / 3)), "thermosetting")
        minute = whole / k * math.exp(self.dice.gauss(0, self.noise))
        wet = sum(map(sum, self.wet)) / 3
        return minute, minute / (1.15 + 0.45 * (1 - wet) ** 2 + self.dice.gauss(0, 0.01))

    def entries(self, hours=60.0):
        """Everything kept in so many hours, in order."""
        out, due = [], {"heat": 0.1, "read": self.every_h, "rotate": self.rotate_h or 1e9}
        for minute in range(int(hours * 60)):
            t = minute * MINUTE_H
            resting = self.resting(t)
            self.pass_minute(resting)
            at = (START + timedelta(minutes=minute)).isoformat()
            if not resting and t >= due["heat"]:
                due["heat"] = t + 0.25
                volts = 6.2 * self.ohm() * (1 + self.dice.gauss(0, 0.001))
                out.append({"at": at, "amps": "6.200", "volts": f"{volts:.4f}"})
            if not resting and t >= due["read"]:
                due["read"] = t + self.every_h
                minute_mohm, early_mohm = self.read_mohm()
                out += [
                    {"at": at, "insulation": f"{float(f'{v:.3g}'):g}M", "t_s": s, "test_voltage_v": 500}
                    for s, v in ((30, early_mohm), (60, minute_mohm))
                ]
            if t >= due["rotate"]:
                due["rotate"] = t + self.rotate_h
                self.hot = (self.hot + 1) % 3
                out.append({"at": at, "rotated_to": str(self.hot + 1)})
        return out


def document(wet, entries):
    motor = {"tag": "W", "rated_voltage_v": 460, "full_load_current_a": 21, "lead_scheme": wet.scheme}
    cold = {"ohm": str(COLD_OHM), "temperature_c": COLD_C}
    return {"format": "grimcoil-drying/1", "motor": motor, "hookup": wet.hookup, "cold": cold, "entries": entries}
