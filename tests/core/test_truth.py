"""The truth table in small: simulated motors against what is true of them. `bin/bench truth` prints it at length."""

import json

import pytest

from grimcoil.core.assessment import assess
from grimcoil.exchange.jobs import read_job
from tests.truth_motors import FAULTS, case

CONDEMNED = {"rewind-or-replace", "rewind", "replace"}
RUNS_ON = {"return", "return-retest", "look-elsewhere"}


@pytest.mark.parametrize("fault", FAULTS)
def test_no_false_sound_no_false_condemnation_and_the_healthy_pass(fault):
    for seed in range(25):
        told = case(1000 + seed, fault)
        decision = assess(read_job(json.dumps(told.document))).decision
        where = (told, decision.action)
        if told.motor_is_bad or not told.provable:
            assert decision.verdict != "sound", where
        if told.left_out:
            assert decision.action not in RUNS_ON, where
        if not told.motor_is_bad:
            assert decision.action not in CONDEMNED, where
        if told.provable and told.fault == "none":
            assert (decision.action, decision.verdict) == ("return", "sound"), where
