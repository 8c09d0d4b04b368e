"""The shape of a hold's curve."""

import pytest

from grimcoil.core.insulation.curve import curve_findings, curve_of
from tests.core.insulation.given import TIMES, mohm
from tests.support import series


@pytest.mark.parametrize(
    ("points", "shape", "code"),
    [
        (((30, "400M"), (60, "520M"), (600, "1450M")), "rising", None),
        (((30, "20M"), (60, "20M"), (600, "20M")), "flat", "curve-flat"),
        (((30, "2000M"), (60, "2000M"), (600, "2010M")), "flat", None),
        (((30, "200M"), (60, "150M"), (600, "100M")), "falling", "curve-falling"),
        (((30, "200M"), (60, "300M"), (90, "120M"), (120, "310M")), "unsteady", "curve-unsteady"),
        (((60, "500M"), (30, "400M")), None, "series-out-of-order"),
        (((5, "500M"), (10, "200M")), None, None),
        (((30, ">550M"), (60, ">550M")), None, None),
    ],
)
def test_shapes(points, shape, code):
    curve = curve_of(series(*points))
    assert curve.shape == shape
    assert [f.code for f in curve_findings(curve, 500, 100)] == ([code] if code else [])


def test_a_fit_is_told_in_microamps_at_the_test_voltage():
    curve = curve_of(series(*((t, f"{r:.2f}") for t, r in zip(TIMES, mohm(TIMES, 1000, 0.02, 0.7), strict=True))))
    (finding,) = curve_findings(curve, 500, 100)
    assert finding.code == "absorption-fit"
    assert "0.5 µA at 500 V" in finding.text
