"""Between two windings or phases that nothing should join: near zero is a path, less than the minimum is damp first."""

from __future__ import annotations

from dataclasses import replace

from grimcoil.core.choices import LeadScheme
from grimcoil.core.findings import Verdict, act, sound
from grimcoil.core.insulation.judge import InsulationResult, judge_insulation
from grimcoil.core.measured import WindingToWindingTest
from grimcoil.core.subject import Subject


def judge_between(test: WindingToWindingTest, subject: Subject) -> InsulationResult:
    """An insulation test in MΩ whose near-zero value means a path between two windings (common practice, no source)."""
    result = judge_insulation(test, subject)
    if test.failed_check:
        return result
    near_zero = any(finding.code == "insulation-near-zero" for finding in result.findings)
    if near_zero and subject.winding.lead_scheme == LeadScheme.TWO_WINDINGS:
        text = f"A path {result.what}, between two separate windings: the motor is faulty. Do not run it."
        return replace(result, findings=(act("path-between-windings", text), *result.findings))
    if result.verdict is Verdict.SOUND:
        return replace(result, findings=(sound("windings-apart", f"No path {result.what}."), *result.findings))
    return result
