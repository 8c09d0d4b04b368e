"""Between two groups of leads that nothing should join."""

import pytest

from grimcoil.core.findings import Verdict
from grimcoil.core.insulation.between import judge_between
from grimcoil.core.measured import WindingToWindingTest
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Conditions, Subject, Winding
from tests.support import series


@pytest.mark.parametrize(
    ("scheme", "reading", "code", "verdict"),
    [
        ("two-speed-two-winding", "0.01", "path-between-windings", Verdict.ACT),
        ("six-lead", "0.01", "insulation-near-zero", Verdict.ACT),
        ("two-speed-two-winding", "2", "insulation-low", Verdict.ACT),
        ("two-speed-two-winding", "800", "windings-apart", Verdict.SOUND),
        ("six-lead", ">4", None, Verdict.UNPROVEN),
    ],
)
def test_a_path_condemns_two_windings_and_less_than_the_minimum_is_damp_first(scheme, reading, code, verdict):
    near, far = (("1", "4"), ("2", "5")) if scheme == "six-lead" else (("1U",), ("2U",))
    test = WindingToWindingTest(series((60, reading)), 500, Conditions(40.0), ends=near, to=far)
    result = judge_between(test, Subject(Plate((460,)), Winding(lead_scheme=scheme)))
    codes = [finding.code for finding in result.findings]
    assert result.verdict is verdict
    assert code is None or code in codes
    assert ("path-between-windings" in codes) == (code == "path-between-windings")
