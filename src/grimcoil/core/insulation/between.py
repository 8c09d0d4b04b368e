"""Between two windings that nothing should join: any path condemns the motor."""

from __future__ import annotations

from dataclasses import replace

from grimcoil.core.findings import Verdict, act, sound
from grimcoil.core.insulation.judge import InsulationResult, judge_insulation
from grimcoil.core.measured import WindingToWindingTest
from grimcoil.core.subject import Subject


def judge_between(test: WindingToWindingTest, subject: Subject) -> InsulationResult:
    """An insulation test whose failure means a path between two windings."""
    result = judge_insulation(test, subject)
    if result.verdict is Verdict.ACT:
        text = f"A path {result.what} between separate windings: the motor is condemned."
        return replace(result, findings=(act("path-between-windings", text), *result.findings))
    if result.verdict is Verdict.SOUND:
        return replace(result, findings=(sound("windings-apart", f"No path {result.what}."), *result.findings))
    return result
