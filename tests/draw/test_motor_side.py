"""A motor from the side, and the stops of a round."""

import pytest

from grimcoil.core.rounds.tasks import Task
from grimcoil.draw.motor_side import PLACES, motor_side, route
from tests.drawn import count, named, words


@pytest.mark.parametrize("task", ["", *Task])
def test_every_task_has_its_place(task):
    drawn = motor_side(task)
    said = PLACES[task] if task else "nothing is due here"
    assert named(drawn) == [f"The motor from the side: {said}."]
    assert count(drawn, "on") >= (
        1 if task in (Task.VENTS, Task.BOX, Task.GREASE, Task.LISTEN, Task.FRAME, Task.CLEAN) else 0
    )


@pytest.mark.parametrize("at", [0, 4, 13])
def test_nine_stops_round_the_one_now(at):
    stops = [(f"M-{i}", "now" if i == at else "done" if i < at else "due") for i in range(14)]
    drawn = route(stops, 700)
    assert len(words(drawn)) == 9
    assert f"M-{at}" in words(drawn)
    assert named(drawn)[0].startswith(f"Stop {at + 1} of 14: ")
    assert count(drawn, "ptr-s") == 1
