"""The simulated motor's ohms against the circuit simulator from Debian, over schemes, faults and pairs of leads."""

import itertools
import math

import pytest

from grimcoil.simulator.machine import COILS, FAULTS, OPEN_OHM, Machine
from tests.published.spice import resistance_decks


def test_the_simulated_motor_reads_as_the_circuit_simulator_does():
    cases = []
    for scheme, fault in itertools.product(sorted(COILS), sorted(set(FAULTS) - {"to-frame", "damp", "line-lost"})):
        machine = Machine(scheme, fault=fault)
        leads = sorted({end for coil in COILS[scheme] for end in coil} - {"S"})
        for red, black in itertools.combinations(leads, 2):
            ohm = machine.ohms((red,), (black,))
            if math.isfinite(ohm):
                net = [branch for branch in machine.net() if branch[2] < OPEN_OHM]
                cases.append((net, red, black, ohm))
    told = resistance_decks([case[:3] for case in cases])
    assert len(cases) >= 60
    assert told == pytest.approx([case[3] for case in cases], rel=1e-3)
