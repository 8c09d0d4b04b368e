"""Unmarked leads round the stator."""

import pytest

from grimcoil.draw.ring import PHONE, SLOTS, WIDE, Shown, ring
from tests.drawn import count, named, numbers, words


@pytest.mark.parametrize("at", [WIDE, PHONE], ids=["wide", "phone"])
@pytest.mark.parametrize("number", [3, 6, 9, 12])
def test_every_lead_is_drawn_found_coils_join_two_and_the_next_pair_stands_out(at, number):
    leads = tuple("ABCDEFGHIJKL"[:number])
    shown = Shown((("A", "B", "0.4 Ω"),), ("B", "C"), labels=(("A", "T1"),))
    drawn = ring(at, leads, shown, (("C", "/leads?pick=C&x=<1>"),), "ring")
    assert set(leads) <= set(words(drawn))
    assert "T1" in words(drawn)
    assert count(drawn, "fc") == 1
    assert count(drawn, "asknext") == 1
    assert count(drawn, "slot") == SLOTS
    assert "Lead C, read it next" in named(drawn)
    assert all(-60 <= figure <= max(at.width, at.height) + 60 for figure in numbers(drawn))


def test_nothing_read_yet():
    drawn = ring(WIDE, ("A", "B", "C"), Shown(), (), "ring")
    assert count(drawn, "fc") == count(drawn, "asknext") == 0
    assert named(drawn) == ["Stator with 3 unmarked leads"]
