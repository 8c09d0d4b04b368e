"""Protectors, heaters, thermometers: their own value, and to frame."""

import pytest

from grimcoil.core.accessories import judge_accessory
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.fields import LOW_OHM
from grimcoil.core.measured import AccessoryTest
from grimcoil.core.readings import parse_reading


def codes(result):
    return [finding.code for finding in result.findings]


@pytest.mark.parametrize(
    ("what", "text", "to_frame", "code"),
    [
        ("thermostat", "0.1", "OL", "accessory-sound"),
        ("thermostat", "OL", None, "accessory-off"),
        ("rtd", "107.8", None, "rtd-sound"),
        ("rtd", "OL", None, "rtd-off"),
        ("brake", "120", "4.7k", "accessory-to-frame"),
        ("encoder", None, None, "accessory-off"),
    ],
)
def test_accessories(what, text, to_frame, code):
    test = AccessoryTest(what, text and parse_reading(text, LOW_OHM), to_frame and parse_reading(to_frame, LOW_OHM))
    assert code in codes(judge_accessory(test, FIELD_GENERAL))
