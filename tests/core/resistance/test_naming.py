"""Pairs under one name, sorted by what a lead scheme lets one compare."""

import pytest

from grimcoil.core.resistance.naming import expected_ohms, pair_of, sets_of, sort_pairs
from grimcoil.core.stator.network import pair_ohms
from grimcoil.core.stator.schemes import SCHEMES


@pytest.mark.parametrize(
    ("name", "scheme", "pair"),
    [
        ("2-1", "three-lead", "1-2"),
        ("U-W", "three-lead", "3-1"),
        ("T1–T2", "nine-lead-wye", "1-2"),
        ("U1-U2", "six-lead", "1-4"),
        ("W1-V1", "three-lead", "2-3"),
        ("8-7", "nine-lead-wye", "7-8"),
        ("10-1", "twelve-lead", "1-10"),
        ("2U-2V", "two-speed-two-winding", "11-12"),
        ("2U-1U", "two-speed-one-winding-wye", "1-6"),
        ("one", "three-lead", "one"),
    ],
)
def test_one_spelling(name, scheme, pair):
    assert pair_of(name, scheme) == pair


@pytest.mark.parametrize("scheme", SCHEMES)
def test_every_set_of_a_scheme_reads_alike_and_has_company(scheme):
    for one in sets_of(scheme):
        assert len(one.pairs) >= 3
        assert one.expected > 0
        assert all(pair_of(pair, scheme) == pair for pair in one.pairs)


def test_nine_lead_delta_compares_six_half_coils_and_three_corners():
    assert sorted(len(one.pairs) for one in sets_of("nine-lead-delta")) == [3, 6]


def test_unknown_scheme_compares_what_is_given():
    kinds = sort_pairs(("A-B", "C-D", "E-F"), "unknown", None)
    assert [one.pairs for one in kinds.sets] == [("A-B", "C-D", "E-F")]
    assert not kinds.apart
    assert not kinds.odd


def test_a_lead_that_is_not_there_is_set_aside():
    assert sort_pairs(("1-4", "2-5", "3-6", "4-99"), "six-lead", "opened").odd == ("4-99",)


@pytest.mark.parametrize("scheme", SCHEMES)
def test_the_table_of_expected_ohms_is_what_the_net_gives(scheme):
    net = {pair_of(f"{a}-{b}", scheme): ohm for (a, b), ohm in pair_ohms(SCHEMES[scheme]).items()}
    assert expected_ohms(scheme) == pytest.approx(net)
