"""Hookups: shares by Kirchhoff, heat by their square."""

import numpy as np
import pytest

from grimcoil.core.drying.hookup import DELTA_PHASES, SCHEMES, WYE_PHASES, Hookup, hookup_of


@pytest.mark.parametrize(("name", "phases"), [("one-and-two", WYE_PHASES), ("delta-two", DELTA_PHASES)])
def test_shares_are_kirchhoffs(name, phases):
    """One lead in, for a wye two joined ones out; for a delta the third hangs free. Solved from the nodes anew."""
    share = Hookup(name, phases, phases[0]).share()
    r = 1.0
    if name == "one-and-two":
        matrix = np.array([[1 / r, -1 / r], [-1 / r, 3 / r]])  # lead 1, star; leads 2 and 3 at zero
        lead, star = np.linalg.solve(matrix, [1.0, 0.0])
        assert share == pytest.approx({"1": (lead - star) / r, "2": star / r, "3": star / r})
    else:
        matrix = np.array([[2 / r, -1 / r], [-1 / r, 2 / r]])  # leads 1 and 3; lead 2 at zero
        one, three = np.linalg.solve(matrix, [1.0, 0.0])
        assert share == pytest.approx({"1-2": one / r, "2-3": three / r, "3-1": (one - three) / r})


def test_heat_goes_with_the_square():
    assert Hookup("one-and-two", WYE_PHASES, "2").heat() == {"1": 0.25, "2": 1.0, "3": 0.25}
    assert set(Hookup("series", WYE_PHASES, None).heat().values()) == {1.0}


def test_every_scheme_that_is_named_has_its_hookup():
    for name, schemes in SCHEMES.items():
        for scheme in schemes:
            assert hookup_of(name, scheme).name == name
