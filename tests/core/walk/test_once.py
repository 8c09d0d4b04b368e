"""A walk that finds nothing ends as a one-time event, where it was seen to run."""

import pytest

from grimcoil.core.errors import RecordRefusal
from tests.core.walk.given import LOOK, bare

EVEN = {"test": "amps-run", "readings": {"L1": "16", "L2": "16.2", "L3": "15.9"}}
LOOKED = [LOOK, {"test": "look-closed", "answer": "nothing"}, {"test": "changed-lately", "answer": "nothing"}]
ONCE = {"end": "one-time-event", "watch_until": "2026-12-15", "on": "2026-12-01"}
BEFORE = {
    "kind": "walk",
    "on": "2026-11-20",
    "text": "nothing found",
    "suspect": "one-time-event",
    "watch_until": "2026-12-01",
}


def test_it_ends_as_a_one_time_event_only_when_it_was_seen_to_run_evenly():
    made = bare("trips-later", [*LOOKED, EVEN], **ONCE)
    assert made["verdict"]["suspect"] == "one-time-event"
    assert made["verdict"]["watch_until"] == "2026-12-15"
    assert made["next"] is None


@pytest.mark.parametrize(
    "amps",
    [
        {},
        {"L1": "16", "L2": "16.2"},
        {"L1": "16", "L2": "20", "L3": "15.9"},
        {"L1": "30", "L2": "30", "L3": "30"},  # over the plate's
        {"L1": "0", "L2": "0", "L3": "0"},
        {"L1": "<20", "L2": "<20", "L3": "<20"},
    ],
)
def test_a_motor_that_was_not_seen_running_evenly_is_no_one_time_event(amps):
    read = [{"test": "amps-run", "readings": amps}] if amps else []
    with pytest.raises(RecordRefusal) as refused:
        bare("trips-later", [*LOOKED, *read], **ONCE)
    assert refused.value.where == "end"


def test_no_one_time_event_before_a_load_side_that_tripped_is_clear_or_within_the_watch_of_the_last():
    with pytest.raises(RecordRefusal, match="isn't shown clear"):
        bare("trips-later", [EVEN, {"test": "start-try", "answer": "trips-at-once"}], **ONCE)
    with pytest.raises(RecordRefusal, match="came back"):
        bare("trips-later", [*LOOKED, EVEN], earlier=[BEFORE], **ONCE)
    over = {**BEFORE, "watch_until": "2026-11-30"}
    assert bare("trips-later", [*LOOKED, EVEN], earlier=[over], **ONCE)["verdict"]
    assert bare("trips-later", LOOKED, earlier=[BEFORE], on="2026-12-01")["findings"][0]["code"] == "walk-came-back"


@pytest.mark.parametrize("until", [None, "2026-12-01", "2027-12-03"])
def test_a_watch_ends_after_today_within_a_year(until):
    with pytest.raises(RecordRefusal) as refused:
        bare("trips-later", [*LOOKED, EVEN], **(ONCE | {"watch_until": until} if until else {"end": "one-time-event"}))
    assert refused.value.where == "watch_until"
