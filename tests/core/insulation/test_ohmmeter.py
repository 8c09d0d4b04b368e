"""An ordinary ohmmeter condemns near zero and proves nothing else."""

import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.findings import Verdict
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.insulation.ohmmeter import is_ohmmeter, ohmmeter_findings
from grimcoil.core.measured import InsulationTest


@pytest.mark.parametrize(
    ("amount", "codes"),
    [
        (Amount.exact(0.05), ["insulation-near-zero"]),
        (Amount.exact(0.1), ["ohmmeter-suspect", "ohmmeter-unproven"]),
        (Amount.exact(2.0), ["ohmmeter-suspect", "ohmmeter-unproven"]),
        (Amount.exact(2.01), ["ohmmeter-unproven"]),
        (Amount.above(40), ["ohmmeter-unproven"]),
        (Amount.below(0.2), ["ohmmeter-suspect", "ohmmeter-unproven"]),
        (Amount(float("-inf"), float("inf")), ["ohmmeter-unproven"]),
    ],
)
def test_more_than_near_zero_stays_unproven(amount, codes):
    found = ohmmeter_findings(amount, FIELD_GENERAL)
    assert [finding.code for finding in found] == codes
    assert (found[-1].severity is Verdict.ACT) == (codes == ["insulation-near-zero"])


@pytest.mark.parametrize(
    ("function", "volts", "forbidden", "is_one"),
    [("ohm", 500, False, True), ("low-ohm", None, False, True), ("insulation", 500, False, False),
     (None, 9.0, False, True), (None, 50.0, False, False), (None, None, False, False), (None, None, True, True)],
)  # fmt: skip
def test_what_counts_as_one(function, volts, forbidden, is_one):
    meter = InstrumentRange("M", function) if function else None
    assert is_ohmmeter(InsulationTest((), volts, meter=meter), forbidden) == is_one
