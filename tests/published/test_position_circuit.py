"""The circuit of a position, live and dead, against ngspice: the same branches, the motor as coupled admittances built
of resistors, inductors and capacitors, solved by the simulator.
"""

import cmath
import math
import re
from dataclasses import replace

import pytest

from grimcoil.core.circuit.network import (
    LEAK_S,
    NONE,
    OPEN_S,
    A,
    Change,
    _admittances,
    _coils,
    closed,
    layout_of,
    solve,
)
from grimcoil.core.circuit.place import LINES, NEIGHBOURS, Place, State
from tests.published.spice import resistance_decks, run

WYE = Place()
DELTA = Place(wound="delta", phase_ohm=1.05)
UNEARTHED = Place(system="unearthed")
HELD, RUN, LIVE = State(contactor="in", at="start"), State(contactor="in", at="run"), State()
COLD, COLD_IN, BOX = (
    State(supply="off"),
    State(supply="off", contactor="in"),
    State(supply="off", motor="lifted-at-box"),
)
OPEN = 5e7
OMEGA = 2 * math.pi * 60


def siemens(place, state, change, key, sound):
    changed = (change.branch or {}).get(key)
    if changed is not None and changed > 900:
        return changed
    if not closed(place, state, key):
        return OPEN_S
    return sound if changed is None else changed


def branches(place, state, change):
    layout = layout_of(place)
    for key, (a, b, sound) in layout.branches.items():
        yield a, b, siemens(place, state, change, key, sound)
    yield from change.shunt
    yield "frame", "earth", 100.0


def named_once(place, text):
    """Points with nothing between them are one node."""
    index = layout_of(place).index
    own = {number: point for point, number in reversed(index.items())}
    for point, number in index.items():
        text = re.sub(rf"\b{node(point)}\b", node(own[number]), text)
    return text


def node(point):
    return "0" if point == "earth" else "n" + point.replace("-", "_").lower()


def coupled(place, state, change):
    """The motor: each coil's current from each coil's volts, by sequence components written out anew."""
    zero, positive, negative = _admittances(place, state, change)
    lines = []
    for i, (a, b) in enumerate(_coils(place)):
        for j, (c, d) in enumerate(_coils(place)):
            turn = A ** (j - i)
            y = (zero + positive * turn + negative / turn) / 3
            flips = (change.turned == i) != (change.turned == j)
            y *= -1 if flips else 1
            name = f"{i}{j}"
            lines += [f"E{name} x{name} 0 {node(c)} {node(d)} 1", f"V{name} x{name} y{name} 0"]
            lines.append(f"R{name} y{name} 0 {1 / y.real!r}")
            reactive = (
                f"L{name} y{name} 0 {-1 / y.imag / OMEGA!r}" if y.imag < 0 else f"C{name} y{name} 0 {y.imag / OMEGA!r}"
            )
            lines += [reactive, f"F{name} {node(a)} {node(b)} V{name} 1"]
    return lines


def simulated(place, state, change, asked):
    lines = ["position"]
    own = set({number: point for point, number in reversed(layout_of(place).index.items())}.values())
    for k, (a, b, s) in enumerate(branches(place, state, change)):
        lines.append(f"Rb{k} {node(a)} {node(b)} {1 / s!r}")
    lines += [f"Rg{k} {node(point)} 0 {1 / LEAK_S!r}" for k, point in enumerate(sorted(own - {"earth"}))]
    for n in LINES:
        lines += [f"Rf{n} {node(f'winding-{n}')} {node('frame')} 1e9", f"Rc{n} {node(f'cable-T{n}')} 0 {1 / 3e-10!r}"]
        volts = place.volts / math.sqrt(3) * change.source[n - 1]
        lines.append(f"Vs{n} s{n} {node('neutral')} AC {volts!r} {-120 * (n - 1)}")
        lines += [f"Ri{n} s{n} t{n} 0.01", f"Li{n} t{n} {node(f'phase-{n}')} {0.03 / OMEGA!r}"]
    if place.system == "unearthed":
        lines += [f"Cs{n} {node(f'phase-{n}')} 0 {1e-5 / OMEGA!r}" for n in LINES]
    lines.append(f"Rn {node('neutral')} 0 {1e6 if place.system == 'unearthed' else 0.05!r}")
    a, b = place.control_lines
    magnetising = place.volts**2 / 8
    lines += [
        f"Rt {node(f'line-L{a}')} tx {magnetising * 0.3!r}",
        f"Lt tx {node(f'line-L{b}')} {magnetising * 0.95 / OMEGA!r}",
    ]
    lines += coupled(place, state, change)
    lines += [".control", "ac lin 1 60 60", "@PRINT", ".endc"]
    expressions = [f"{part}({node(p)})" for pair in asked for p in pair if p != "earth" for part in ("vr", "vi")]
    distinct = list(dict.fromkeys(expressions))
    found = dict(
        zip(
            distinct,
            run(named_once(place, "\n".join(lines)), *(named_once(place, one) for one in distinct)),
            strict=True,
        )
    )

    def volts_of(point):
        return 0j if point == "earth" else complex(found[f"vr({node(point)})"], found[f"vi({node(point)})"])

    return [abs(volts_of(p) - volts_of(q)) for p, q in asked]


CASES = [
    ("sound held", WYE, HELD, NONE),
    ("sound run", WYE, RUN, NONE),
    ("sound at rest", WYE, LIVE, NONE),
    ("delta held", DELTA, HELD, NONE),
    ("delta run", DELTA, RUN, NONE),
    ("fuse at rest", WYE, LIVE, Change({("protection", 1): OPEN_S})),
    ("fuse held", WYE, HELD, Change({("protection", 3): OPEN_S})),
    ("pole held", WYE, HELD, Change({("pole", 1): OPEN_S})),
    ("pole run", WYE, RUN, Change({("pole", 1): OPEN_S})),
    ("pole run delta", DELTA, RUN, Change({("pole", 2): OPEN_S})),
    ("pole burnt", WYE, RUN, Change({("pole", 3): 1 / 2.2})),
    ("wye open", WYE, HELD, Change({("wire", 2): OPEN_S})),
    ("delta open held", DELTA, HELD, Change({("wire", 1): OPEN_S})),
    ("delta open run", DELTA, RUN, Change({("wire", 1): OPEN_S})),
    ("reversed", WYE, HELD, Change(turned=0)),
    ("line low", WYE, RUN, Change(source=(0.87, 1.0, 1.0))),
    ("all low", WYE, RUN, Change(source=(0.83, 0.83, 0.83))),
    ("to frame", WYE, HELD, Change(shunt=[("winding-1", "frame", 0.5)])),
    ("to frame unearthed", UNEARTHED, HELD, Change(shunt=[("winding-2", "frame", 0.5)])),
    ("cores together", WYE, HELD, Change(shunt=[("box-T1", "box-T2", 1.0)])),
    ("load grown", DELTA, RUN, Change(load=1.22)),
    ("star open", replace(WYE, protector="star-point"), HELD, Change({("star", n): OPEN_S for n in LINES})),
    ("cable bad", WYE, HELD, Change({("cable", 1): 0.5})),
    ("unearthed at rest", UNEARTHED, LIVE, NONE),
]


@pytest.mark.parametrize(("place", "state", "change"), [case[1:] for case in CASES], ids=[case[0] for case in CASES])
def test_live_states(place, state, change):
    asked = [(f"{stage}{a}", f"{stage}{b}") for stage in ("line-L", "load-L", "box-T") for a, b in NEIGHBOURS]
    asked += [(f"load-L{n}", "earth") for n in LINES] + [(f"load-L{n}", f"overload-T{n}") for n in LINES]
    solved = solve(place, state, [change])
    ours = [float(solved.between(p, q, 1e12)[0]) for p, q in asked]
    assert ours == pytest.approx(simulated(place, state, change, asked), rel=2e-4, abs=2e-3)


def test_the_turning_operator_is_a_third_of_a_turn():
    assert pytest.approx(cmath.rect(1, math.radians(120))) == A


DEAD = [
    ("cold", WYE, COLD, NONE),
    ("cold delta", DELTA, COLD, NONE),
    ("wye open", WYE, COLD, Change({("wire", 1): OPEN_S})),
    ("delta open", DELTA, COLD, Change({("wire", 1): OPEN_S})),
    ("to frame", WYE, COLD, Change(shunt=[("winding-1", "frame", 2.0)])),
    ("pushed in", WYE, COLD_IN, NONE),
    ("lifted", WYE, BOX, Change(shunt=[("box-T1", "earth", 2.0)])),
]


@pytest.mark.parametrize(("place", "state", "change"), [case[1:] for case in DEAD], ids=[case[0] for case in DEAD])
def test_dead_states(place, state, change):
    asked = [(f"overload-T{a}", f"overload-T{b}") for a, b in NEIGHBOURS] + [(f"lead-{n}", "frame") for n in LINES]
    net = [(node(a), node(b), 1 / s) for a, b, s in branches(place, state, change)]
    net += [(node(a), node(b), place.phase_ohm) for a, b in _coils(place)]
    net += [(node(f"winding-{n}"), node("frame"), 1e9) for n in LINES]
    net += [(node(f"cable-T{n}"), "0", 1 / 3e-10) for n in LINES]
    first, second = (node(f"line-L{n}") for n in place.control_lines)
    net.append((first, second, max(2.0, place.volts**2 / 8 * 0.02)))
    net += [(node(point), "0", 1 / LEAK_S) for point in layout_of(place).index if point != "earth"]
    solved = solve(place, state, [change])
    for p, q in asked:
        one = [(named_once(place, a), named_once(place, b), ohm) for a, b, ohm in net]
        (simulated_ohm,) = resistance_decks([(one, *(named_once(place, node(point)) for point in (p, q)))])
        ours = float(solved.ohms(p, q, 0.0)[0])
        if simulated_ohm < OPEN:
            assert ours == pytest.approx(simulated_ohm, rel=1e-3)
        else:  # open is open: the simulator needs leaks of its own there
            assert ours > OPEN
