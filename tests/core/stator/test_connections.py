"""The table of connections against the judge of joinings."""

import pytest

from grimcoil.core.stator.connect import Duty, Supply, Wiring, judge_connection
from grimcoil.core.stator.connections import CONNECTIONS
from grimcoil.core.stator.rating import parse_rated
from tests.core.stator.given import RATED, codes

VOLTS = {
    ("twelve-lead", "Y", "high"): 796, ("twelve-lead", "D", "high"): 460, ("twelve-lead", "Y", "low"): 400,
    ("twelve-lead", "D", "low"): 230, ("nine-lead-wye", "Y", "high"): 460, ("nine-lead-wye", "Y", "low"): 230,
    ("nine-lead-delta", "D", "high"): 480, ("nine-lead-delta", "D", "low"): 240, ("six-lead", "Y", "high"): 690,
}  # fmt: skip


@pytest.mark.parametrize("right", CONNECTIONS, ids=lambda c: f"{c.scheme}-{c.purpose}")
def test_every_connection_of_the_table_is_right_and_so_is_its_reverse(right):
    volts = VOLTS.get((right.scheme, right.letter, right.level), 400)
    for lines, sequence in ((right.lines, "forward"), (right.lines[1::-1] + right.lines[2:], "reverse")):
        result = judge_connection(
            right.scheme,
            parse_rated(RATED[right.scheme]),
            Supply((volts,) * 3),
            Wiring(lines, right.joined),
            Duty(right.speed, right.mode, right.duty),
        )
        assert codes(result) == ["right"]
        assert result.sequence == sequence
        assert right in result.right
