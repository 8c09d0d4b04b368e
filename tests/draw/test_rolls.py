"""A roll: each line to the lead it takes now, over where it lay."""

from grimcoil.draw.joints import PHASE_COLOURS
from grimcoil.draw.rolls import roll_plate
from tests.drawn import count, tree, words

NOW = (("L1", "3"), ("L2", "1"), ("L3", "2"))
BEFORE = (("L1", "1"), ("L2", "2"), ("L3", "3"))


def test_every_line_takes_another_lead_than_before():
    drawn = roll_plate(0, 0, NOW, BEFORE, ("brown", "black", "grey"))
    assert "L1 takes 3, L2 takes 1, L3 takes 2" in words(drawn)
    wires = [one for one in tree(drawn).iter() if one.attrib.get("class") == "wire-i"]
    assert [wire.attrib["stroke"] for wire in wires] == [PHASE_COLOURS[name] for name in ("brown", "black", "grey")]
    ways = [one.attrib["d"] for one in tree(drawn).iter() if one.attrib.get("class") == "should"]
    assert not set(ways) & {wire.attrib["d"] for wire in wires}
    assert {way.split("C")[0] for way in ways} == {wire.attrib["d"].split("C")[0] for wire in wires}


def test_without_colours_of_the_works_the_lines_are_drawn_alike():
    drawn = roll_plate(0, 0, NOW, BEFORE, ())
    assert len({one.attrib["stroke"] for one in tree(drawn).iter() if one.attrib.get("class") == "wire-i"}) == 1
    assert count(drawn, "nd") == 6
