"""Ohms between the leads of every scheme, in units of one half-coil."""

import math

import pytest

from grimcoil.core.stator.network import Fault, lead_ohms, pair_ohms
from grimcoil.core.stator.schemes import SCHEMES


def test_the_ring_tells_only_its_cyclic_order():
    """Neighbours 5/6, next 4/3, opposite 3/2: the same six times round."""
    ohms = lead_ohms(SCHEMES["two-speed-one-winding-delta"])
    rows = [sorted(round(float(v), 6) for v in row if v > 0) for row in ohms]
    assert all(row == [round(v, 6) for v in (5 / 6, 5 / 6, 4 / 3, 4 / 3, 3 / 2)] for row in rows)


def test_the_tapped_star():
    ohms = pair_ohms(SCHEMES["two-speed-one-winding-wye"])
    assert sorted(round(v, 6) for v in ohms.values()) == sorted([1] * 3 + [2] * 3 + [3] * 6 + [4] * 3)


def test_an_open_coil_of_a_closed_delta_is_no_open_pair():
    fault = Fault(opened=("1-4",))
    ohms = lead_ohms(SCHEMES["three-lead-delta"], fault)
    assert sorted([ohms[0, 1], ohms[1, 2], ohms[2, 0]]) == pytest.approx([2, 2, 4])


def test_a_lifted_lead_reads_open_and_a_leak_joins_groups():
    scheme = SCHEMES["six-lead"]
    assert math.isinf(lead_ohms(scheme, Fault(lifted=("4",)))[0, 3])
    leaked = lead_ohms(scheme, Fault(leaks=(("1", "2", 50.0),)))
    assert leaked[0, 1] == pytest.approx(50)
    assert leaked[3, 4] == pytest.approx(2 + 50 + 2)


def test_links_outside_close_a_star():
    ohms = lead_ohms(SCHEMES["six-lead"], links=(("4", "5", "6"),))
    assert ohms[0, 1] == pytest.approx(4)
