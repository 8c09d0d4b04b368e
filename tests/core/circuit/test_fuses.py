"""Fuses: out, under load, without load."""

import pytest

from grimcoil.core.circuit.fuses import judge_fuse
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.fields import DEAD_VOLTAGE, LOW_OHM
from grimcoil.core.measured import (
    FuseTest,
)
from grimcoil.core.readings import parse_reading


def codes(result):
    return [finding.code for finding in result.findings]


@pytest.mark.parametrize(
    ("state", "text", "code", "blown"),
    [
        ("out", "0.1", "fuse-sound", False),
        ("out", "OL", "fuse-blown", True),
        ("out", "2 MΩ", "fuse-blown", True),
        ("out", "35", "fuse-unproven", None),
        ("out", "beep", "fuse-unproven", None),
        ("live-loaded", "0.02", "fuse-sound", False),
        ("live-unloaded", "0.02", "fuse-unproven", None),
        ("live-unloaded", "476", "fuse-blown", True),
        ("live-loaded", None, "reading-missing", None),
    ],
)
def test_fuses(state, text, code, blown):
    field = LOW_OHM if state == "out" else DEAD_VOLTAGE
    result = judge_fuse(FuseTest("F2", state, text and parse_reading(text, field)), FIELD_GENERAL)
    assert (codes(result), result.blown) == ([code], blown)
