"""The checks of a starter: what it has and nothing else, dead ones before live ones."""

import pytest

from grimcoil.core.choices import Starter
from grimcoil.core.plate import Plate
from grimcoil.core.starter.checks import checks
from grimcoil.core.starter.figures import StarterFigures, StarterPlace
from grimcoil.core.subject import Overload

PLATE = Plate((460,), (20,))


def made(starter, **place):
    return {check.key: check for check in checks(StarterPlace(starter, **place))}


@pytest.mark.parametrize("starter", Starter)
def test_isolation_comes_first_and_nothing_dead_after_anything_live(starter):
    figures = StarterFigures(coil_v=110, tap_percent=65, timer_s=8, run_up_s=9, control_va=100)
    found = checks(StarterPlace(starter, figures, plate=PLATE, overload=Overload(20), control_v=110, fused=True))
    assert found[0].key == "isolate"
    dead = [check.dead for check in found]
    assert dead == sorted(dead, reverse=True)
    assert len({check.key for check in found}) == len(found)
    assert all(check.how and check.expect.strip(" .") and check.why for check in found)


@pytest.mark.parametrize(
    ("starter", "has", "lacks"),
    [
        (Starter.DIRECT, {"contacts", "inrush"}, {"interlock", "timer", "tap", "wait", "swap"}),
        (Starter.REVERSING, {"interlock", "swap"}, {"timer", "inrush"}),
        (Starter.STAR_DELTA, {"interlock", "timer", "third"}, {"tap", "swap", "inrush"}),
        (Starter.AUTOTRANSFORMER, {"tap"}, {"timer", "third", "interlock"}),
        (Starter.TWO_SPEED, {"interlock"}, {"swap", "third"}),
        (Starter.SOFT, {"wait", "where"}, {"interlock", "inrush"}),
        (Starter.DRIVE, {"wait", "where"}, {"interlock", "third"}),
        (Starter.NONE, {"isolate"}, {"contacts", "coil", "drop", "release", "interlock"}),
    ],
)
def test_each_kind_has_its_own(starter, has, lacks):
    found = made(starter, figures=StarterFigures(coil_v=110, tap_percent=65), plate=PLATE).keys()
    assert has <= found
    assert not lacks & found


def test_what_to_expect_is_worked_out_for_this_place():
    delta = made(
        Starter.STAR_DELTA, plate=PLATE, overload=Overload(inside_delta=True), figures=StarterFigures(run_up_s=9)
    )
    assert delta["dial"].expect.startswith("11.5 A, 0.58")
    assert delta["timer"].expect == "About 9 s."
    assert made(Starter.DIRECT, plate=PLATE)["inrush"].expect.startswith("100 to 160 A")
    tap = made(Starter.AUTOTRANSFORMER, figures=StarterFigures(tap_percent=80))["tap"].expect
    assert "line amps and torque 64 %" in tap
    assert made(Starter.DIRECT, control_v=110)["coil"].expect == "93.5 to 121 V."


def test_what_starts_by_itself_is_said():
    free = made(Starter.DIRECT, figures=StarterFigures(undervoltage_release=False))
    assert "starts again by itself" in free["release"].expect
    assert "until started" in made(Starter.DIRECT)["release"].expect
