"""Volts as the plate prints them."""

import pytest

from tests.core.stator.given import codes, judged


@pytest.mark.parametrize("rated", ["208Y/230Y/460Y", "208-230/460", "208-230Y/460Y"])
@pytest.mark.parametrize(("supply", "lines", "joined"), [
    (208, "1-7 2-8 3-9", "4-5-6"), (230, "1-7 2-8 3-9", "4-5-6"), (460, "1 2 3", "4-7 5-8 6-9"),
])  # fmt: skip
def test_three_voltages_on_a_plate(rated, supply, lines, joined):
    result = judged("nine-lead-wye", rated, supply, lines, joined)
    assert codes(result) == ["right"]
    assert [(c.lines_text, c.joined_text) for c in result.right] == [(lines, joined)]
    assert max(c.percent_of_design for c in result.coils) == pytest.approx(100, abs=0.1)


RING = "two-speed-one-winding-delta"


@pytest.mark.parametrize(
    ("rated", "speed", "duty", "lines", "joined", "told"),
    [
        ("460D/460Y", "low", "constant-torque", "1 2 3", "", ["right"]),
        ("460D/460Y", "high", "constant-torque", "6 4 5", "1-2-3", ["right"]),
        ("460D/460Y", "low", "constant-power", "1 2 3", "4-5-6", ["right"]),
        ("460D", "high", "constant-torque", "6 4 5", "1-2-3", ["right"]),
        ("460", "high", "constant-torque", "6 4 5", "1-2-3", ["right"]),
        ("460D/460Y", "high", None, "6 4 5", "1-2-3", ["ambiguous-rating"]),
    ],
)
def test_two_speed_plates_are_understood_by_speed_and_duty(rated, speed, duty, lines, joined, told):
    assert codes(judged(RING, rated, 460, lines, joined, speed=speed, duty=duty)) == told
