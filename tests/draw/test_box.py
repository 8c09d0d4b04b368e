"""The motor box as met."""

import pytest

from grimcoil.draw.box import PHONE, WIDE, motor_box
from tests.drawn import count, numbers, words

TWELVE = tuple(str(i) for i in range(1, 13))


@pytest.mark.parametrize("at", [WIDE, PHONE], ids=["wide", "phone"])
@pytest.mark.parametrize("labels", [("1", "2", "3"), ("1U", "1V", "1W", "2U", "2V", "2W"), TWELVE])
def test_every_lead_hangs_there_and_the_probes_touch_what_is_asked(at, labels):
    drawn = motor_box(at, labels, (labels[0], "frame"))
    assert set(labels) <= set(words(drawn))
    assert count(drawn, "lug") == len(labels)
    assert count(drawn, "probe") == 2
    assert count(drawn, "earth") == 1
    assert all(-at.width <= figure <= 2 * at.width for figure in numbers(drawn))


def test_joined_leads_are_bridged_and_one_probe_lies_on_them():
    drawn = motor_box(WIDE, ("1", "2", "3"), ("1+2+3", "frame"))
    assert count(drawn, "bridge") == 2  # its outline and itself
    assert count(drawn, "probe") == 2


def test_the_strap_lies_from_every_lead_to_the_frame_before_anyone_reads():
    drawn = motor_box(WIDE, ("1", "2", "3"), (), strap=True)
    assert count(drawn, "bridge") == 2
    assert count(drawn, "probe") == 0
    assert "earth on" in drawn


def test_a_clamp_goes_round_its_lead_only():
    drawn = motor_box(WIDE, ("L1", "L2", "L3"), (), clamp="L2")
    assert count(drawn, "jaw") == 2
    assert count(motor_box(WIDE, ("L1", "L2", "L3"), ()), "jaw") == 0


@pytest.mark.parametrize("at", [WIDE, PHONE], ids=["wide", "phone"])
@pytest.mark.parametrize("labels", [("1", "2", "3"), TWELVE])
def test_a_lead_shows_its_own_name_and_the_colour_of_its_core(at, labels):
    marked = tuple((lead, f"U{lead}", "#7a4a24" if lead == "1" else "") for lead in labels)
    drawn = motor_box(at, labels, (), marked=marked)
    assert {f"U{lead}" for lead in labels} <= set(words(drawn))
    assert count(drawn, "core-colour") == 1
    assert 'fill="#7a4a24"' in drawn
    assert motor_box(at, labels, (), marked=tuple((lead, "", "") for lead in labels)) == motor_box(at, labels, ())
