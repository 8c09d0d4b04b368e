"""Insulation by an ordinary ohmmeter only: near zero condemns, more proves nothing at so low a voltage."""

from __future__ import annotations

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, act, unproven, watch
from grimcoil.core.measured import InsulationTest
from grimcoil.core.readings import three_digits

LEAST_TEST_V = 50.0


def is_ohmmeter(test: InsulationTest, forbidden: bool) -> bool:
    """An ohms range, less than 50 V, or no test voltage on a winding whose maker forbids high voltage."""
    if test.meter is not None and test.meter.function in ("ohm", "low-ohm"):
        return True
    if test.test_voltage_v is not None:
        return test.test_voltage_v < LEAST_TEST_V
    return forbidden


def ohmmeter_findings(mohm: Amount, criteria: Criteria) -> list[Finding]:
    """Near zero: bad. Up to 2 MΩ: strong suspicion. More, or over-range: unproven.

    MΩ (common practice without source, each finding names it).
    """
    zero, suspect = criteria.near_zero_mohm.value, criteria.ohmmeter_suspect_mohm.value
    if mohm.surely_below(zero):
        return [act("insulation-near-zero", f"Near zero to frame on an ohmmeter: below {zero:g} MΩ is bad.")]
    rest = unproven(
        "ohmmeter-unproven", "An ohmmeter's few volts stress nothing: insulation stays unproven by this reading."
    )
    if mohm.bound is not Bound.NOTHING and mohm.high <= suspect:
        text = f"{three_digits(mohm.value)} MΩ on an ohmmeter: up to {suspect:g} MΩ is a strong suspicion."
        return [watch("ohmmeter-suspect", text), rest]
    return [rest]
