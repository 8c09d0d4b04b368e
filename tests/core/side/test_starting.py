"""Figures of starting, worked by the trade."""

import json

import pytest

from grimcoil.core.assessment import assess
from grimcoil.exchange.assessments import to_document
from grimcoil.exchange.jobs import read_job


def judged(**test):
    document = {"format": "grimcoil-job/1", "motor": {"tag": "SP-1", "rated_voltage_v": 230}, "tests": [test]}
    whole = to_document(assess(read_job(json.dumps(document))))
    return whole[test["kind"]][0], whole["decision"]


def test_worked_figures_of_the_trade():
    """85 x 19 mm: 8.1 g (bearing makers' rule, standard, from memory); taps 0.5, 0.65, 0.8 (computed)."""
    grease, _ = judged(kind="grease", outside_mm=85, width_mm=19)
    assert grease["grams"] == pytest.approx(8.075)
    shares = [judged(kind="autotransformer", tap=tap)[0]["torque_share"] for tap in (50, 0.65, 80)]
    assert shares == pytest.approx([0.25, 0.4225, 0.64])
    at_tap, _ = judged(kind="autotransformer", tap=0.65, full_voltage_a=100)
    assert (at_tap["motor_a"], at_tap["line_a"]) == pytest.approx((65.0, 42.25))
