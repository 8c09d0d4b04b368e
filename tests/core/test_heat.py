"""Frame temperature, and what heat costs in life."""

import pytest

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.fields import TEMPERATURE
from grimcoil.core.heat import judge_frame_temperature, life_share
from grimcoil.core.measured import FrameTemperatureTest
from grimcoil.core.readings import parse_reading


@pytest.mark.parametrize(
    ("text", "name", "code"),
    [
        ("68", "F", "frame-cool"),
        ("120", "F", "frame-hot"),
        ("165", "F", "life-shortened"),
        ("95", "B", "frame-hot"),
        ("68", None, "frame-cool"),
    ],
)
def test_frame_temperature(text, name, code):
    test = FrameTemperatureTest(parse_reading(text, TEMPERATURE))
    result = judge_frame_temperature(test, name, FIELD_GENERAL)
    assert [f.code for f in result.findings] == [code]
    assert result.frame_temperature_c == float(text)
    assert judge_frame_temperature(FrameTemperatureTest(), name, FIELD_GENERAL).findings[0].code == "reading-missing"


def test_life_halves_per_ten_degrees():
    assert life_share(165, "F") == 0.5
    assert life_share(175, "F") == 0.25
    assert life_share(130, "B") == 1
