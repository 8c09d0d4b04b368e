"""The figures of a trend, read off the assessment a signed job keeps."""

import math

import pytest

from grimcoil.core.amount import Amount
from grimcoil.exchange.plotted import Plotted, plotted

WHOLE = {
    "winding_resistance": [{"at_reference_ohm": {"1-2": 0.35, "2-3": None}}],
    "insulation": [{"pi": {"value": 1.8, "bound": "above"}, "dar": {"value": 1.4, "bound": "exact"}}],
    "supply_voltage": [{"mean_v": 474.0, "unbalance_percent": 0.4}],
    "line_current": [{"mean_a": 182.0, "unbalance_percent": 2.7, "load_percent": 83.0}],
    "frame_temperature": [{"frame_temperature_c": 61.0}],
    "contact_drop": [{"drops_v": {"L1": 0.12, "L2": 0.3}}],
    "starts": [{"run_up_s": 4.2}],
}


def test_each_kind_of_test_gives_its_figures_and_a_bound_stays_one():
    assert plotted(WHOLE) == Plotted(
        Amount(1.8, math.inf),
        Amount.exact(1.4),
        {"1-2": 0.35},
        474.0,
        0.4,
        182.0,
        2.7,
        83.0,
        61.0,
        {"L1": 0.12, "L2": 0.3},
        4.2,
    )


@pytest.mark.parametrize("kind", WHOLE)
def test_what_was_not_made_has_none(kind):
    assert plotted(None) == plotted({}) == Plotted()
    assert plotted({kind: []}) == Plotted()
    assert plotted(WHOLE | {kind: []}) != plotted(WHOLE)


def test_two_open_ends():
    both = {
        "insulation": [{"pi": {"value": 1.2, "bound": "above", "upper": 1.9}, "dar": {"value": 1.1, "bound": "below"}}]
    }
    assert (plotted(both).pi, plotted(both).dar) == (Amount(1.2, 1.9), Amount(0.0, 1.1))
