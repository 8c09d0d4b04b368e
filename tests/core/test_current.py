"""Line currents: their pattern, what explains it."""

import pytest

from grimcoil.core.current import judge_current
from grimcoil.core.fields import CURRENT
from grimcoil.core.measured import CurrentTest
from grimcoil.core.plate import Plate
from grimcoil.core.readings import parse_reading
from grimcoil.core.subject import Position, Subject

PLATE = Plate((460,), (21,), service_factor=1.15)


def read(field, names, texts):
    return {name: parse_reading(str(text), field) for name, text in zip(names, texts, strict=True)}


def current(*amps, volts=None, brake=None):
    test = CurrentTest(read(CURRENT, ("L1", "L2", "L3"), amps), brake or {})
    return judge_current(test, Subject(PLATE), volts)


def codes(result):
    return [finding.code for finding in result.findings]


@pytest.mark.parametrize(
    ("amps", "pattern", "code"),
    [
        ((17.2, 17.3, 17.1), "even", "current-balanced"),
        ((0.2, 30, 31), "line-lost", "line-lost"),
        ((20, 17, 17), "one-high", "current-unbalance-act"),
        ((19.6, 19.5, 17), "brake-pair", "current-unbalance-watch"),
        ((23, 23, 23), "even", "current-over-plate"),
        ((26, 26, 26), "all-high", "overload-alike"),
        ((26, 26, 30), "one-high", "current-over-service-factor"),
        ((2.0, 30, 31), "line-lost", "line-lost"),
        ((6, 6, 6), "all-low", "current-all-low"),
        ((3, 3, 3), "all-low", "current-all-low"),
        ((17, 18.3, 19.6), "unclassified", "current-unbalance-watch"),
    ],
)
def test_current_patterns(amps, pattern, code):
    result = current(*amps)
    assert result.pattern == pattern
    assert code in codes(result)


def test_volts_explain_current_unbalance_first():
    assert "current-unbalance-from-volts" in codes(current(17.2, 19.6, 17.9, volts=1.26))
    assert "current-unbalance-watch" in codes(current(17.2, 19.6, 17.9, volts=0.3))


def test_a_brakes_current_is_taken_off_first():
    result = current(19.2, 19.2, 17.2, brake={"L1": 2.0, "L2": 2.0})
    assert result.pattern == "even"
    assert "brake-pair" in codes(result)


@pytest.mark.parametrize(
    ("feeds", "amps", "code", "severity"),
    [
        ("L1-L2", (15, 15, 13.5), "brake-pair", "watch"),  # 6.9 % by itself
        ("L2-L3", (15, 15, 13.5), "current-unbalance-watch", "watch"),  # the brake isn't on those two
        ("", (15, 15, 13.5), "current-unbalance-watch", "watch"),
        ("L1-L2", (15, 15, 10), "brake-pair", "unproven"),  # so much more isn't laid to a brake unread
        ("L1-L2", (15, 15, 15), "current-balanced", "sound"),
    ],
)
def test_two_lines_that_carry_a_brake_on_record_are_said_not_called_uneven(feeds, amps, code, severity):
    subject = Subject(PLATE, position=Position(brake_lines=feeds))
    result = judge_current(CurrentTest(read(CURRENT, ("L1", "L2", "L3"), amps)), subject)
    first = result.findings[0]
    assert (first.code, first.severity.value) == (code, severity)
    assert ("the brake is fed from L1 and L2" in first.text) == (code == "brake-pair")
