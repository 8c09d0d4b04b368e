"""From a walk that leaves motor and cable to its dead tests and back: suspects carried in, readings carried out."""

import pytest

from grimcoil.core.errors import Forbidden, GateClosed
from grimcoil.core.people import Role
from grimcoil.core.walk.catalogue import suspects
from grimcoil.core.walk.safety import proofs_needed
from grimcoil.service.handing_over import TOLD, beside, hand_over, leaves_motor, way_back
from grimcoil.service.jobs import Start, open_bench, start_job
from grimcoil.service.walks import walked
from tests.at_plant import plant_at, token_of
from tests.support import add_person
from tests.walker import Walker

HERE = "/troubleshooting?tag=BW-7&s=hums"


@pytest.fixture
def walker(store, electrician, clock):
    return Walker(store, electrician, clock, "BW-7", "three-lead")


def left_to_motor(store, fault, tag="BW-7"):
    """A walk on a plant with this fault, as far as it leaves motor and cable."""
    tokens = []
    done = walked(store, tag, "hums", "most-telling", tokens)
    plant = plant_at(done.place, fault)
    for _ in range(20):
        if leaves_motor(done):
            return done, tokens, plant
        assert done.made.end is None, tokens
        tokens.append(token_of(plant, done.made.next.trial, done.made.next.where))
        done = walked(store, tag, "hums", "most-telling", tokens)
    pytest.fail(f"{fault} is never left to the motor")


def test_an_open_winding_is_handed_over_read_and_comes_back_condemned(store, electrician, clock, walker):
    done, tokens, _plant = left_to_motor(store, "winding-open")
    for _ in range(2):
        job = hand_over(store, electrician, done, HERE, "over-token-0001", clock())
    bench = open_bench(store, job, clock())
    told = bench.state.kept.standing[TOLD].text
    assert told.startswith("Troubleshooting leaves ")
    assert suspects()["winding-open"].text in told
    assert len(bench.rows) == 1
    assert way_back(store, bench) == HERE
    walker.job = job
    walker.changed |= {"winding_resistance.1-2": "OL", "winding_resistance.3-1": "OL"}
    walker.to("insulation.1-2-3.on")  # no test of the whole on an open winding
    back = way_back(store, walker.bench)
    entries = [part.removeprefix("d=").replace("%7E", "~") for part in back.removeprefix(HERE + "&").split("&")]
    assert entries == ["job~ohms-motor-lifted~OL~0.2611~OL"]
    again = walked(store, "BW-7", "hums", "most-telling", [*tokens, *entries])
    assert again.made.end is not None
    assert again.made.end.suspect.name == "winding-open"


def test_a_sound_motor_comes_back_cleared(store, electrician, clock, walker):
    done, tokens, _ = left_to_motor(store, "cable-open")
    walker.job = hand_over(store, electrician, done, HERE, "over-token-0005", clock())
    walker.to()
    back = way_back(store, walker.bench)
    entries = [part.removeprefix("d=").replace("%7E", "~") for part in back.removeprefix(HERE + "&").split("&")]
    assert "job~insulation-motor~620M~620M~620M" in entries
    again = walked(store, "BW-7", "hums", "most-telling", [*tokens, *entries])
    guard = again.made.guard  # hours may lie between: nothing of the job proves the panel dead now
    assert (guard.off, guard.proved, guard.unproved) == (True, frozenset(), ())
    assert list(proofs_needed(guard, again.trials["ohms-overload-out"])) == ["panel"]
    assert list(proofs_needed(guard, again.trials["ohms-motor-lifted"])) == ["panel", "motor-box"]
    heaviest = max(again.made.standings, key=lambda one: one.belief)
    assert heaviest.suspect.element == "cable"
    assert sum(one.belief for one in again.made.standings if one.suspect.name == "winding-open") < 0.01


def test_what_can_not_be_handed_over(store, electrician, clock, walker):
    early = walked(store, "BW-7", "hums", "most-telling", [])
    with pytest.raises(GateClosed, match="more than motor and cable"):
        hand_over(store, electrician, early, HERE, "over-token-0002", clock())
    done, _, _ = left_to_motor(store, "winding-open")
    with pytest.raises(Forbidden):
        hand_over(store, add_person(store, Role.READER, "schwaden"), done, HERE, "over-token-0003", clock())
    walker.start()
    with pytest.raises(GateClosed, match="another kind is open"):
        hand_over(store, electrician, done, HERE, "over-token-0004", clock())


def test_a_job_that_came_from_no_walk_has_no_way_back(store, electrician, clock, walker):
    job = start_job(store, electrician, Start("BW-7", "start-0001", occasion="call-out"), clock())
    assert way_back(store, open_bench(store, job, clock())) == ""


def test_a_walk_begins_with_what_an_open_job_of_its_motor_read(store, electrician, clock, walker):
    walker.changed |= {"winding_resistance.1-2": "OL", "winding_resistance.3-1": "OL"}
    walker.start(school="box-first")
    done = walked(store, "BW-7", "hums", "most-telling", [])
    assert beside(store, done, clock()) is None  # nothing read yet
    walker.to("insulation.1-2-3.on")
    other = beside(store, done, clock())
    assert (other.job_id, other.tokens) == (walker.job, ("job~ohms-motor-lifted~OL~0.2611~OL",))
    taken = walked(store, "BW-7", "hums", "most-telling", other.tokens)
    assert beside(store, taken, clock()) is None
    assert beside(store, walked(store, "", "hums", "most-telling", []), clock()) is None
