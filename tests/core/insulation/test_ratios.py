"""Index and ratio of a hold, and whether they may be used."""

import pytest

from grimcoil.core.plate import Plate
from tests.core.insulation.given import codes, judged


def test_an_index_exactly_on_its_minimum_is_inside_it():
    plate = Plate((460,), insulation_class="A")
    assert "pi-sound" in codes(judged((60, "0.7G"), (600, "1.05G"), plate=plate))


@pytest.mark.parametrize(
    ("points", "code"),
    [
        (((60, "100M"), (600, "90M")), "pi-below-one"),
        (((60, "100M"), (600, "150M")), "pi-low"),
        (((60, "200M"), (600, ">550M")), "pi-sound"),
        (((60, ">550M"), (600, ">550M")), "pi-unproven"),
        (((60, ">550M"), (600, "600M")), "pi-low"),
        (((60, "9000M"), (600, "9500M")), "pi-not-meaningful"),
        (((30, "100M"), (60, "95M")), "dar-bad"),
        (((30, "100M"), (60, "110M")), "dar-doubtful"),
        (((30, "400M"), (60, ">550M")), "dar-sound"),
        (((30, "100M"), (60, "200M"), (600, "150M")), "curve-unsteady"),
        (((30, "200M"), (60, "180M"), (600, "150M")), "curve-falling"),
        (((30, "20M"), (60, "20M"), (600, "20.5M")), "curve-flat"),
        (((60, "100M"), (30, "90M")), "series-out-of-order"),
    ],
)
def test_ratios_and_curve(points, code):
    assert code in codes(judged(*points))


def test_class_a_needs_less_index():
    plate = Plate((460,), insulation_class="A")
    assert "pi-sound" in codes(judged((60, "100M"), (600, "160M"), plate=plate))


def test_brittle_only_on_an_old_winding():
    old = Plate((460,), insulation_class="F", built_year=1985)
    assert "pi-brittle" in codes(judged((60, "100M"), (600, "900M"), plate=old))
    assert "pi-sound" in codes(judged((60, "100M"), (600, "900M")))
