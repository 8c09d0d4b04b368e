"""A winding on the direct-current set, each line as thick as its current."""

import re

import pytest

from grimcoil.core.drying.hookup import DELTA_PHASES, WYE_PHASES, Hookup
from grimcoil.draw.drying import THICK, THIN, hookup_figure
from tests.drawn import named, words


@pytest.mark.parametrize(
    ("hookup", "shares"),
    [(Hookup("one-and-two", WYE_PHASES, "2"), (1.0, 0.5)), (Hookup("delta-two", DELTA_PHASES, "2-3"), (2 / 3, 1 / 3)),
     (Hookup("series", WYE_PHASES, None), (1.0,))],
    ids=["wye", "delta", "series"],
)  # fmt: skip
def test_thickness_is_the_share_of_the_current(hookup, shares):
    drawn = hookup_figure(hookup, 12.0, {}, True)
    thick = {float(width) for width in re.findall(r'stroke-width="([\d.]+)"', drawn)}
    for share in shares:
        assert any(width == pytest.approx(THIN + THICK * share, abs=0.006) for width in thick)
    assert "12 A" in words(drawn)
    assert all(phase in named(drawn)[0] for phase in hookup.phases)


@pytest.mark.parametrize(("amps", "on"), [(None, True), (12.0, False), (None, False)])
def test_the_heat_is_off_unless_it_is_on(amps, on):
    drawn = hookup_figure(Hookup("one-and-two", WYE_PHASES, "1"), amps, {"1": "68 °C"}, on)
    assert "off" in words(drawn)
    assert "68 °C" in words(drawn)
    assert ("the heat is off" in named(drawn)[0]) == (not on)
