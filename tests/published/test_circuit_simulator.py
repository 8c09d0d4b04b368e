"""Ohms and volts against two independent solvers: ngspice (node analysis) and networkx (resistance distance)."""

import math
import warnings

import networkx as nx
import numpy as np
import pytest

from grimcoil.core.circuit.contacts import judge_contacts
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.fields import DROP
from grimcoil.core.measured import ContactTest
from grimcoil.core.readings import parse_reading
from grimcoil.core.resistance.patterns import patterns
from grimcoil.core.resistance.phases import delta_phases, wye_phases
from grimcoil.core.stator.coils import merged
from grimcoil.core.stator.network import SOUND, Fault, lead_ohms
from grimcoil.core.stator.schemes import SCHEMES
from tests.published.spice import resistance_decks, run

FAULTS = {
    "sound": SOUND,
    "first coil open": None,
    "first coil short by 12 %": None,
    "a leak between two leads": None,
}


def faulty(scheme, name):
    coil, (a, b) = scheme.coils[0].name, (scheme.labels[0], scheme.labels[1])
    return {
        "sound": SOUND,
        "first coil open": Fault(opened=(coil,)),
        "first coil short by 12 %": Fault(scaled=((coil, 0.88),)),
        "a leak between two leads": Fault(leaks=((a, b, 25.0),)),
    }[name]


def net_of(scheme, fault):
    """Branches by node number, and the node of each lead: the scheme written out anew, without the core's solver."""
    ends = [end for coil in scheme.coils for end in (coil.start, coil.finish)]
    node = merged(ends, scheme.joints)
    scale = dict(fault.scaled)
    branches = [
        (node[c.start], node[c.finish], scale.get(c.name, 1.0)) for c in scheme.coils if c.name not in fault.opened
    ]
    lead = {label: node[end] for label, end in scheme.leads}
    return branches + [(lead[a], lead[b], ohm) for a, b, ohm in fault.leaks], lead


@pytest.mark.parametrize("fault", FAULTS)
@pytest.mark.parametrize("name", SCHEMES)
def test_every_scheme_sound_and_faulty(name, fault):
    scheme = SCHEMES[name]
    branches, lead = net_of(scheme, faulty(scheme, fault))
    ours = lead_ohms(scheme, faulty(scheme, fault))
    graph = nx.Graph()
    graph.add_nodes_from(lead.values())
    for a, b, ohm in branches:
        together = graph.get_edge_data(a, b, {"conductance": 0.0})["conductance"]
        graph.add_edge(a, b, conductance=together + 1 / ohm)
    pairs = [(i, j) for i in range(len(lead)) for j in range(i)]
    labels = scheme.labels
    closed = [(i, j) for i, j in pairs if nx.has_path(graph, lead[labels[i]], lead[labels[j]])]
    assert {(i, j) for i, j in pairs if math.isfinite(ours[i, j])} == set(closed)
    simulated = resistance_decks([(branches, lead[labels[i]], lead[labels[j]]) for i, j in closed])
    for (i, j), ohm in zip(closed, simulated, strict=True):
        part = graph.subgraph(nx.node_connected_component(graph, lead[labels[i]]))
        a, b = lead[labels[i]], lead[labels[j]]
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            distance = 0.0 if a == b else nx.resistance_distance(part, a, b, weight="conductance", invert_weight=False)
        assert ours[i, j] == pytest.approx(distance, rel=1e-9, abs=1e-12)
        assert ours[i, j] == pytest.approx(ohm, rel=1e-6, abs=1e-9)


def lines(kind, ohms):
    """Line readings of three phases by the simulator. kind: wye (to a star) or delta (1-2, 2-3, 3-1); None is open."""
    ends = [(1, 0), (2, 0), (3, 0)] if kind == "wye" else [(1, 2), (2, 3), (3, 1)]
    branches = [(a, b, ohm) for (a, b), ohm in zip(ends, ohms, strict=True) if ohm is not None]
    return resistance_decks([(branches, a, b) for a, b in ((1, 2), (2, 3), (3, 1))])


def test_wye_and_delta_phases_come_back_from_simulated_lines():
    assert wye_phases(*lines("wye", (0.87, 0.99, 1.01))) == pytest.approx((0.87, 0.99, 1.01), rel=1e-6)
    assert delta_phases(*lines("delta", (2.713, 3.149, 2.768))) == pytest.approx((2.713, 3.149, 2.768), rel=1e-6)


@pytest.mark.parametrize(
    ("kind", "ohms", "pattern", "phase"),
    [
        ("wye", (2.4 * 0.88, 2.4, 2.4), "shorted-turns", "1"),
        ("wye", (2.4, 2.4 * 1.15, 2.4), "poor-joint", "2"),
        ("wye", (2.4, 2.4, 4.8), "parallel-path-open", "3"),
        ("delta", (7.2, 7.2 * 0.88, 7.2), "shorted-turns", "2-3"),
        ("delta", (7.2, 7.2, 7.2 * 1.2), "poor-joint", "3-1"),
        ("delta", (None, 7.2, 7.2), "open-coil-delta", "1-2"),
        ("delta", (14.4, 7.2, 7.2), "parallel-path-open", "1-2"),
    ],
)
def test_patterns_of_simulated_faults(kind, ohms, pattern, phase):
    found = patterns(lines(kind, ohms), False, kind, 0.02, healthy_ohm=4.8)
    assert [(p.pattern, p.phase) for p in found] == [(pattern, phase)]


def test_the_drop_names_the_bad_pole_where_the_line_volts_do_not():
    """480 V, 20 + j15 ohm a phase in wye, one pole of 1.6 ohm: worked out by the simulator."""
    volts = [(480 / math.sqrt(3), angle) for angle in (0, -120, 120)]
    deck = ["poles"]
    for i, ((volt, angle), pole) in enumerate(zip(volts, (0.001, 0.001, 1.6), strict=True), start=1):
        deck += [
            f"V{i} s{i} 0 AC {volt!r} {angle}",
            f"R{i} s{i} m{i} {pole}",
            f"Z{i}R m{i} q{i} 20".replace("Z", "RZ"),
            f"L{i} q{i} star {15 / (2 * math.pi * 60)!r}",
        ]
    deck += ["Rstar star 0 1e9", ".control", "ac lin 1 60 60", "@PRINT", ".endc"]
    drops = run("\n".join(deck), *(f"vm(s{i},m{i})" for i in (1, 2, 3)))
    motor = run("\n".join(deck), *(f"vm(m{i},m{i % 3 + 1})" for i in (1, 2, 3)))
    assert drops == pytest.approx([0.01111, 0.01088, 17.145], rel=1e-3)
    assert motor == pytest.approx([480.0, 462.9, 473.1], abs=0.05)
    readings = {f"L{i}": parse_reading(f"{drop:.3f}", DROP) for i, drop in enumerate(drops, start=1)}
    result = judge_contacts(ContactTest(readings, 10.716), FIELD_GENERAL)
    assert result.worst == "L3"
    assert result.watts == pytest.approx(183.7, abs=0.1)
    assert int(np.argmin(motor)) != 2
