"""Findings of a resistance test in words, with their figures."""

import pytest

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.measured import ResistanceTest
from grimcoil.core.resistance.judge import judge_resistance
from grimcoil.core.subject import Conditions, Winding
from tests.support import ohms

WYE = Winding(lead_scheme="three-lead-wye")


def judged(*texts, criteria=FIELD_GENERAL, winding=WYE, **more):
    return judge_resistance(ResistanceTest(ohms(*texts), **more), winding, criteria)


def test_working_has_the_figures():
    assert "12.313" in judged("12.31", "12.28", "12.35").working


@pytest.mark.parametrize(
    ("times", "code", "words"),
    [
        (1.04, None, ""),
        (1.08, "resistance-drift", "Check the connection"),
        (4.0, "connection-misfit", "series"),
        (0.25, "connection-misfit", "parallel"),
        (1 / 3, "connection-misfit", "delta where it was star"),
    ],
)
def test_against_its_own_history_at_the_same_temperature(times, code, words):
    baseline = {"1-2": 4.8 / times, "2-3": 4.8 / times, "3-1": 4.8 / times}
    winding = Winding(lead_scheme="three-lead-wye", baseline_ohm=baseline)
    test = ResistanceTest(ohms("4.800", "4.800", "4.800"), Conditions(winding_temperature_c=25))
    result = judge_resistance(test, winding, FIELD_GENERAL)
    found = [f for f in result.findings if f.code in ("resistance-drift", "connection-misfit")]
    assert [f.code for f in found] == ([code] if code else [])
    assert all(words in f.text for f in found)
