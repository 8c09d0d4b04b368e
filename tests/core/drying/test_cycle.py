"""Whatever is done in whatever order: no tester on a winding under current, no heat into a charged or shorted one."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.drying.cycle import AFTER_HEAT_S, CYCLE, Act, Done, Stage, shut, stands, wanted

T0 = datetime(2026, 11, 26, 8, tzinfo=UTC)
FRAME, APART = "1-2-3~frame", "1~2"


def at(minutes, act, held_s=0.0, ends=""):
    return Done(act, T0 + timedelta(minutes=minutes), held_s, ends)


def walked(*done):
    kept = []
    for one in done:
        assert shut(stands(kept), one) is None, one
        kept.append(one)
    return stands(kept)


def test_a_whole_cycle():
    assert wanted(stands([])) is Act.READ
    read = walked(at(0, Act.READ, 30, FRAME), at(1, Act.READ, 60, FRAME))
    assert (read.stage, read.held_s) == (Stage.CHARGED, 60)
    shorted = walked(at(0, Act.READ, 60, FRAME), at(1, Act.SHORTED))
    assert shorted.due == T0 + timedelta(minutes=1, seconds=240)
    heated = walked(
        at(0, Act.READ, 60, FRAME), at(1, Act.SHORTED), at(5, Act.FREED), at(6, Act.HEAT_ON), at(7, Act.HEAT)
    )
    assert (heated.stage, heated.cycles, heated.due) == (Stage.HEATED, 1, T0 + timedelta(minutes=6) + CYCLE)
    back = walked(at(6, Act.HEAT_ON), at(30, Act.HEAT_OFF), at(31, Act.SHORTED))
    assert back.due == T0 + timedelta(minutes=31, seconds=AFTER_HEAT_S)
    assert wanted(back) is Act.FREED


@pytest.mark.parametrize(
    ("before", "act", "said"),
    [
        ([at(0, Act.HEAT_ON)], at(1, Act.READ, 60, FRAME), "the heat is on"),
        ([at(0, Act.HEAT_ON), at(1, Act.HEAT_OFF)], at(2, Act.READ, 60, FRAME), "isn't shorted"),
        ([at(0, Act.HEAT_ON), at(1, Act.HEAT_OFF)], at(2, Act.HEAT_ON), "isn't shorted"),
        ([at(0, Act.READ, 60, FRAME)], at(1, Act.HEAT_ON), "charged"),
        ([at(0, Act.READ, 60, FRAME)], at(1, Act.READ, 60, APART), "charged"),
        ([at(0, Act.READ, 60, FRAME), at(1, Act.SHORTED)], at(4.9, Act.FREED), "6 s to go"),
        ([at(0, Act.READ, 60, FRAME), at(1, Act.SHORTED)], at(5, Act.HEAT_ON), "shorted to frame"),
        ([at(0, Act.READ, 60, FRAME), at(1, Act.SHORTED)], at(-60, Act.FREED), "to go"),
        ([], at(0, Act.HEAT), "free"),
        ([at(0, Act.HEAT_ON)], at(1, Act.ROTATED), "the heat is on"),
    ],
)
def test_what_would_be_unsafe_is_shut(before, act, said):
    closed = shut(walked(*before), act)
    assert closed is not None
    assert said in closed.found


def test_a_clock_set_back_does_not_end_a_discharge():
    kept = [at(0, Act.READ, 60, FRAME), at(-120, Act.SHORTED)]
    assert stands(kept).due == T0 + timedelta(seconds=240)


@given(
    st.lists(
        st.tuples(
            st.sampled_from(list(Act)), st.floats(-300, 6000), st.sampled_from([30.0, 60.0, 600.0]), st.booleans()
        ),
        max_size=40,
    )
)
def test_no_order_of_acts_meets_current_and_tester(tried):
    kept: list[Done] = []
    clock = T0
    heat = charged = strap = False
    freed_due = T0
    for act, step, held, apart in tried:
        clock += timedelta(seconds=step)
        one = Done(act, clock, held, APART if apart else FRAME)
        if shut(stands(kept), one) is not None:
            continue
        kept.append(one)
        if act is Act.HEAT_ON:
            assert not charged
            assert not strap
            assert not heat
            heat = True
        elif act is Act.HEAT_OFF:
            heat, charged = False, True  # the run-down leaves it to be shorted
        elif act is Act.READ:
            assert not heat
            assert not strap
            charged = True
        elif act is Act.SHORTED:
            assert not heat
            charged, strap = False, True
            freed_due = max(one.at for one in kept) + timedelta(seconds=AFTER_HEAT_S)
        elif act is Act.FREED:
            assert strap
            assert clock >= freed_due
            strap = False
        elif act is Act.ROTATED:
            assert not heat
            assert not charged
