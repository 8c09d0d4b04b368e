"""A motor with hidden labels that answers any reading asked of it, through a meter with digits and contacts."""

import random

import numpy as np

from grimcoil.core.leads.coupling import COUPLINGS, Coupling, ratio
from grimcoil.core.leads.identify import Puzzle, identify
from grimcoil.core.leads.layouts import part_of
from grimcoil.core.leads.markings import free_moves
from grimcoil.core.leads.ohms import OhmReading, Path
from grimcoil.core.stator.network import SOUND, lead_ohms
from grimcoil.core.stator.schemes import SCHEMES

NAMES = "ABCDEFGHIJKL"


class Motor:
    """labels: label number by lead, hidden from the solver."""

    def __init__(self, scheme, seed, half_coil_ohm=0.95, resolution=0.01, fault=SOUND):
        self.dice = random.Random(seed)
        self.scheme, self.made = scheme, SCHEMES[scheme]
        self.labels = list(range(len(self.made.labels)))
        self.dice.shuffle(self.labels)
        self.table = lead_ohms(self.made, fault)
        self.coupling = self.dice.uniform(0.6, 0.95)
        self.half_coil_ohm, self.resolution = half_coil_ohm, resolution
        self.leads = tuple(NAMES[: len(self.labels)])

    def ohms(self, i, j):
        a, b = self.labels[i], self.labels[j]
        if np.isinf(self.table[a, b]):
            return OhmReading(i, j, Path.OPEN)
        part = part_of(self.scheme)
        value = self.table[a, b] * self.half_coil_ohm * (0.3 if part[a] else 1.0)
        shown = round(value * (1 + self.dice.gauss(0, 0.003)) / self.resolution) * self.resolution
        return OhmReading(i, j, Path.VALUE, shown, self.resolution / 2)

    def couple(self, test):
        def hidden(leads):
            return tuple(self.labels[lead] for lead in leads)

        shares = ratio(self.scheme, hidden(test.source), hidden(test.across), tuple(sorted(hidden(test.joined))))
        value = float(np.interp(self.coupling, COUPLINGS, shares)) * (1 + self.dice.gauss(0, 0.02))
        if test.test == "kick":
            return Coupling(test.source, test.across, test.joined, up=value < 0)
        return Coupling(test.source, test.across, test.joined, abs(value))

    def all_ohms(self):
        return [self.ohms(i, j) for i in range(len(self.leads)) for j in range(i)]

    def is_among(self, candidates):
        """Whether a candidate holds the hidden labels, up to what no test can tell."""
        names = self.made.labels
        moved = [[names[move[label]] for label in self.labels] for move in free_moves(self.scheme)]
        return any(
            all(label in one.markings[lead] for lead, label in zip(self.leads, labels, strict=True))
            for one in candidates
            for labels in moved
            if one.scheme == self.scheme
        )


def solve(motor, most=90):
    """Ask and answer until nothing more is asked: the identification, ohms read, coupling tests made."""
    ohms, tests = [], []
    for _ in range(most):
        found = identify(Puzzle(motor.leads, tuple(ohms), tuple(tests)))
        if found.next_test is None:
            break
        if found.next_test.test == "ohms":
            ohms.append(motor.ohms(*found.next_test.between))
        else:
            tests.append(motor.couple(found.next_test))
    return found, ohms, tests
