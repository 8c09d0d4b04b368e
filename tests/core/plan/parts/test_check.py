"""The check of a job's own instruments, at its limits."""

import pytest

from grimcoil.core.fields import LOW_OHM
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.parts.check import passes_check
from grimcoil.core.plan.parts.dead import instrument_check
from grimcoil.core.readings import parse_reading

SLOTS = {slot.key: slot for slot in instrument_check(Brief("three-lead"))[0].slots}


@pytest.mark.parametrize(
    ("key", "text", "passes"),
    [
        ("leads-shorted", "0.02", True), ("leads-shorted", "1.0", True), ("leads-shorted", "1.1", False),
        ("leads-shorted", "OL", False), ("leads-apart", "OL", True), ("leads-apart", "1M", True),
        ("leads-apart", "0.9M", False), ("leads-apart", "0.1", False), ("insulation-shorted", "0", True),
        ("insulation-shorted", "10k", True), ("insulation-shorted", "11k", False), ("insulation-shorted", "OL", False),
    ],
)  # fmt: skip
def test_about_zero_shorted_and_over_range_apart(key, text, passes):
    assert passes_check(SLOTS[key], parse_reading(text, LOW_OHM)) == passes
