"""The table of connections against the judge of joinings."""

import pytest

from grimcoil.core.stator.connect import Duty, Supply, Wiring, judge_connection
from grimcoil.core.stator.connections import CONNECTIONS
from grimcoil.core.stator.rating import parse_rated


def codes(result):
    return [finding.code for finding in result.findings]


RATED = {
    "three-lead-wye": "400Y",
    "three-lead-delta": "400D",
    "six-lead": "400D/690Y",
    "nine-lead-wye": "230Y/460Y",
    "nine-lead-delta": "240D/480D",
    "twelve-lead": "230D/400Y/460D/796Y",
    "part-winding": "400Y",
    "two-speed-two-winding": "400Y",
    "two-speed-one-winding-delta": "400",
    "two-speed-one-winding-wye": "400Y",
}


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
