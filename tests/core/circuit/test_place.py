"""The circuit of a position: what is there, and only that."""

import pytest

from grimcoil.core.circuit.place import Place, State


@pytest.mark.parametrize(
    ("place", "there", "not_there"),
    [
        (Place(), "disconnect-L1", "local-L1"),
        (Place(disconnect="local"), "local-T3", "disconnect-L1"),
        (Place(control_fuse=False), "coil-A1", "control-F"),
        (Place(protector="brought-out"), "P1", "bypass-T1"),
        (Place(starter="star-delta"), "delta-T2", "P1"),
        (Place(starter="soft"), "bypass-T1", "star-T1"),
        (Place(chain=("stop",)), "chain-1", "chain-2"),
    ],
)
def test_a_probe_finds_only_what_the_position_has(place, there, not_there):
    assert there in place.points()
    assert not_there not in place.points()


def test_what_stays_live_behind_the_lock():
    assert "protection-L1" in Place().live_when_off()
    assert "protection-L1" not in Place(disconnect="local").live_when_off()
    assert all(point.startswith(("supply-", "protection-")) for point in Place().live_when_off())


def test_control_supply_and_electronics():
    assert Place(control="L2-L3").control_lines == (2, 3)
    assert Place(control="separate").control_lines is None
    assert Place(starter="drive").electronics
    assert not Place(starter="star-delta").electronics


def test_closing_is_what_may_feed_a_fault():
    assert State(at="start").closing
    assert State(contactor="in").closing
    assert not State().closing
    assert not State(supply="off", at="start").closing
