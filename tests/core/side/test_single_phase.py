"""Single-phase motors: common, start and run by the sum."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.assessment import assess
from grimcoil.core.fields import LOW_OHM
from grimcoil.core.readings import parse_reading
from grimcoil.core.side.single_phase import SinglePhaseTest, judge_single_phase
from grimcoil.exchange.assessments import to_document
from grimcoil.exchange.jobs import read_job


def judged(**test):
    document = {"format": "grimcoil-job/1", "motor": {"tag": "SP-1", "rated_voltage_v": 230}, "tests": [test]}
    whole = to_document(assess(read_job(json.dumps(document))))
    return whole[test["kind"]][0], whole["decision"]


@given(st.floats(0.5, 50), st.floats(1.2, 8), st.permutations(["A", "B", "C"]), st.floats(-0.01, 0.01))
def test_common_start_and_run_by_the_sum(run, times, names, off):
    common, start, main = names
    ohms = {f"{common}-{main}": run, f"{common}-{start}": run * times, f"{start}-{main}": run * (1 + times) * (1 + off)}
    told = judge_single_phase(SinglePhaseTest({k: parse_reading(f"{v:.4f}", LOW_OHM) for k, v in ohms.items()}))
    assert (told.common, told.start, told.run) == (common, start, main)


@pytest.mark.parametrize(
    ("readings", "code", "verdict"),
    [
        ({"A-B": "6.0", "B-C": "2.0", "C-A": "8.0"}, "single-phase-leads", "sound"),
        ({"A-B": "5.0", "B-C": "5.1", "C-A": "10.1"}, "single-phase-reversible", "sound"),
        ({"A-B": "6.0", "B-C": "2.0", "C-A": "12.0"}, "single-phase-no-sum", "unproven"),
        ({"A-B": "0.0", "B-C": "0.0", "C-A": "0.0"}, "single-phase-no-sum", "unproven"),
        ({"A-B": "6.0", "B-C": "OL", "C-A": "OL"}, "single-phase-open", "act"),
        ({"A-B": "6.0", "B-C": "2.0"}, "reading-missing", "unproven"),
        ({}, "reading-missing", "unproven"),
        ({"A-B": ">2.00", "B-C": "5.00", "C-A": "7.00"}, "single-phase-unclear", "unproven"),
        ({"A-B": "2M", "B-C": "5M", "C-A": "7M"}, "single-phase-unclear", "unproven"),
        ({"A-B": "6.0", "B-A": "2.0", "B-C": "2.0", "C-A": "8.0"}, "reading-twice", "unproven"),
        ({"A-B": "6.0", "B-A": "6.0", "B-C": "2.0", "C-A": "8.0"}, "single-phase-leads", "sound"),
        ({"A-B": "6", "B-C": "2", "C-A": "8"}, "single-phase-no-sum", "unproven"),  # digits too coarse for the sum
        ({"A-B": "0.6", "B-C": "0.5", "C-A": "1.1"}, "single-phase-no-sum", "unproven"),
        ({"A-B": "5.0", "B-C": "5.3", "C-A": "10.3"}, "single-phase-unclear", "unproven"),
        ({"A-B": "5.00", "B-C": "5.30", "C-A": "10.30"}, "single-phase-leads", "sound"),
    ],
)
def test_single_phase(readings, code, verdict):
    told, _ = judged(kind="single_phase", readings=readings)
    assert ([f["code"] for f in told["findings"]], told["verdict"]) == ([code], verdict)
