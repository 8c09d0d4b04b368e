"""The size of a fault, against a plain walk through sizes and pairs of readings."""

from itertools import combinations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.leads.layouts import layouts, part_of
from grimcoil.core.leads.ohms import OhmReading, Path, spread
from grimcoil.core.leads.sizes import coil_off, leak_between, misfit_of
from grimcoil.core.stator.network import Fault, lead_ohms
from grimcoil.core.stator.schemes import SCHEMES


@given(st.lists(st.tuples(st.floats(0.1, 50), st.floats(0.001, 5)), min_size=2, max_size=9), st.data())
def test_the_spread_is_the_greatest_over_all_pairs(values, data):
    ratio, width = np.array(values).T
    mine = np.array(data.draw(st.lists(st.booleans(), min_size=len(values), max_size=len(values))))
    pairs = [
        abs(ratio[i] - ratio[j]) / (width[i] + width[j]) for i, j in combinations(range(len(values)), 2)
        if mine[i] and mine[j]
    ]  # fmt: skip
    assert spread(ratio, width, mine) == pytest.approx(max(pairs, default=0.0))


def read(scheme, fault, labels):
    ohms = 0.7 * lead_ohms(SCHEMES[scheme], fault)
    pairs = combinations(range(len(labels)), 2)
    found = [(i, j, float(ohms[labels[i], labels[j]])) for i, j in pairs]
    return [
        OhmReading(i, j, Path.OPEN) if np.isinf(ohm) else OhmReading(i, j, Path.VALUE, ohm, 0.0005)
        for i, j, ohm in found
    ]


@pytest.mark.parametrize("factor", [0.07, 0.6, 4.0, 40.0])
def test_a_coils_factor_comes_back(factor):
    nearest = layouts("six-lead")[:3]
    readings = read("six-lead", Fault(scaled=(("2-5", factor),)), nearest[0])
    fitted = {
        coil.name: one
        for coil, one in zip(SCHEMES["six-lead"].coils, coil_off("six-lead", nearest, readings), strict=True)
    }
    assert fitted["2-5"].size == pytest.approx(factor, rel=0.02)
    assert fitted["2-5"].misfit < 1 < fitted["1-4"].misfit
    labels = fitted["2-5"].labels
    faulty = lead_ohms(SCHEMES["six-lead"], Fault(scaled=(("2-5", fitted["2-5"].size),)))
    assert fitted["2-5"].misfit == pytest.approx(misfit_of(faulty, labels, readings, part_of("six-lead").tolist()))


def test_a_leak_comes_back_in_ohms_and_another_path_fits_nowhere():
    nearest = layouts("two-speed-one-winding-delta")[:2]
    labels = SCHEMES["two-speed-one-winding-delta"].labels
    readings = read("two-speed-one-winding-delta", Fault(leaks=((labels[0], labels[4], 3.0),)), nearest[0])
    found = dict(leak_between("two-speed-one-winding-delta", nearest, readings))
    assert found[0, 4].size == pytest.approx(0.7 * 3.0, rel=0.03)
    assert found[0, 4].misfit == min(one.misfit for one in found.values())
    sound = lead_ohms(SCHEMES["six-lead"])
    assert misfit_of(sound, range(6), [OhmReading(0, 1, Path.CLOSED)], [0] * 6) == np.inf
