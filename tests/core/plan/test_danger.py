"""The one line that every page says of a job at work, the worst first."""

import pytest

from grimcoil.core.plan.danger import Stage, danger_of
from tests.core.plan.given import HELD, discharged, fold, state
from tests.support import MADE_SAFE, PROVED_DEAD, TO_HOLD, entries

OFF = ("discharge.1-2-3.off", "confirmed")


@pytest.mark.parametrize(
    ("script", "stage", "words"),
    [
        (MADE_SAFE[:1], None, ""),
        (MADE_SAFE, Stage.LOCKED, "locked by A. Tester"),
        ((*MADE_SAFE, *PROVED_DEAD[:2], ("prove_dead.L2-L3", "277")), Stage.LIVE, "277 V found: not dead"),
        ((*MADE_SAFE[:2], ("isolate.tried", "it moved")), Stage.LIVE, "it moved when the start was tried"),
        (TO_HOLD, Stage.ON_TEST, "500 V on the winding"),
        ((*HELD, OFF), Stage.CHARGED, "charged, no strap yet"),
        ((*HELD, OFF, ("discharge.1-2-3.short", "confirmed")), Stage.SHORTED, "shorted to frame"),
    ],
)
def test_the_worst_is_told(script, stage, words):
    at = state(script)
    found = danger_of(at.plan, at.kept, at.safety)
    assert (None if found is None else found.stage) == stage
    assert found is None or found.words == words


def test_let_go_it_is_locked_and_with_power_on_nothing_is_told():
    at = discharged(60, 300, "0")
    assert danger_of(at.plan, at.kept, at.safety).stage is Stage.LOCKED
    on = fold(entries((*MADE_SAFE, ("restore.restored", "confirmed"))))
    assert danger_of(on.plan, on.kept, on.safety) is None
