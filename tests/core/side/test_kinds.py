"""Every side sheet: exact limits, what is missing, out and in, and the way into a decision."""

import json

import pytest

from grimcoil.core.assessment import assess
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.side.kinds import SIDE_KINDS
from grimcoil.exchange.assessments import to_document
from grimcoil.exchange.jobs import read_job
from grimcoil.exchange.side import side_document


def judged(**test):
    document = {"format": "grimcoil-job/1", "motor": {"tag": "SP-1", "rated_voltage_v": 230}, "tests": [test]}
    whole = to_document(assess(read_job(json.dumps(document))))
    return whole[test["kind"]][0], whole["decision"]


CASES = [
    ("capacitor_ohms", {"start": "5", "end": "OL"}, "capacitor-alive", "sound"),
    ("capacitor_ohms", {"start": "0.2", "end": "0.2"}, "capacitor-shorted", "act"),
    ("capacitor_ohms", {"start": "OL", "end": "OL"}, "capacitor-open", "act"),
    ("capacitor_ohms", {"start": "5", "end": "3k"}, "capacitor-unclear", "unproven"),
    ("capacitor_ohms", {"start": "5"}, "reading-missing", "unproven"),
    ("capacitor_ohms", {"start": "2M", "end": "5"}, "capacitor-unclear", "unproven"),
    ("capacitor_ohms", {"start": "2M", "end": "OL"}, "capacitor-unclear", "unproven"),
    ("capacitor_ohms", {"start": "no beep", "end": "no beep"}, "beep-only", "unproven"),
    ("capacitor_ohms", {"start": "beep", "end": "OL"}, "beep-only", "unproven"),
    ("capacitor_ohms", {"start": "5", "end": "100k"}, "capacitor-alive", "sound"),  # on the limit
    ("capacitor_ohms", {"start": "5", "end": "99k"}, "capacitor-unclear", "unproven"),
    ("capacitor_ohms", {"start": "49", "end": "49"}, "capacitor-shorted", "act"),
    ("capacitor_ohms", {"start": "50", "end": "50"}, "capacitor-unclear", "unproven"),
    ("centrifugal_switch", {"reading": "0.1", "opens": True}, "switch-closed", "sound"),
    ("centrifugal_switch", {"reading": "OL", "opens": True}, "switch-open", "act"),
    ("centrifugal_switch", {"reading": "0.1", "opens": False}, "switch-closed", "act"),
    ("centrifugal_switch", {"reading": "0.1"}, "switch-closed", "unproven"),
    ("centrifugal_switch", {"reading": "no beep", "opens": True}, "beep-only", "unproven"),
    ("centrifugal_switch", {"reading": "beep", "opens": True}, "switch-closed", "sound"),
    ("centrifugal_switch", {"reading": "1.0", "opens": True}, "switch-closed", "sound"),
    ("centrifugal_switch", {"reading": "1.1", "opens": True}, "switch-open", "act"),
    ("rotation", {"wanted": "cw", "seen": "cw"}, "rotation-right", "sound"),
    ("rotation", {"wanted": "cw", "seen": "ccw", "coupled": True}, "rotation-wrong", "act"),
    ("rotation", {"wanted": "cw"}, "reading-missing", "unproven"),
    ("rotation", {"wanted": "cw", "seen": "clockwise"}, "rotation-right", "sound"),
    ("rotation", {"wanted": "CW", "seen": "anti-clockwise"}, "rotation-wrong", "act"),
    ("rotation", {"wanted": "forward", "seen": "wrong way"}, "rotation-wrong", "act"),
    ("rotation", {"wanted": "cw", "seen": "?"}, "reading-missing", "unproven"),
    ("rotation", {"wanted": "cw", "seen": ""}, "reading-missing", "unproven"),
    ("rotation", {"wanted": "cw", "seen": "backward"}, "reading-missing", "unproven"),  # another measure
    ("rotation", {"wanted": "?", "seen": "?"}, "reading-missing", "unproven"),
    ("brushes", {"new_mm": 32, "holders": {"1": 16.0, "2": 20}}, "brushes-worn", "act"),  # on half
    ("brushes", {"new_mm": 32, "holders": {"1": 16.1, "2": 20}}, "brushes-near-half", "watch"),
    ("brushes", {"new_mm": 32, "holders": {"1": 30, "2": 31}}, "brushes-long", "sound"),
    ("brushes", {"new_mm": 32, "holders": {"1": 30}, "state": {"1": "chipped"}}, "brushes-worn", "act"),
    ("brushes", {"holders": {"1": 30}}, "reading-missing", "unproven"),
    ("brushes", {}, "reading-missing", "unproven"),
    ("brushes", {"new_mm": 32, "holders": {"1": 19.2}}, "brushes-near-half", "watch"),  # on six tenths
    ("brushes", {"new_mm": 32, "holders": {"1": 19.3}}, "brushes-long", "sound"),
    ("brushes", {"new_mm": 32, "holders": {"1": 30}, "state": {"2": "ok"}}, "reading-missing", "unproven"),
    ("brushes", {"new_mm": 32, "holders": {"1": 15}, "state": {"2": "ok"}}, "brushes-worn", "act"),
    ("brushes", {"new_mm": 20, "holders": {"1": 200}}, "size-absurd", "unproven"),
    ("brushes", {"new_mm": 20, "holders": {"1": 21}}, "brushes-long", "sound"),  # measured a little long
    ("brushes", {"new_mm": 20, "holders": {"1": 21.1}}, "size-absurd", "unproven"),
    ("brushes", {"new_mm": 1500, "holders": {"1": 1400}}, "size-absurd", "unproven"),
    ("grease", {"outside_mm": 85, "width_mm": 19}, "grease-grams", "sound"),
    ("grease", {"outside_mm": 85}, "reading-missing", "unproven"),
    ("grease", {"outside_mm": 85000, "width_mm": 1900}, "size-absurd", "unproven"),
    ("grease", {"outside_mm": 85, "width_mm": 85}, "size-absurd", "unproven"),
    ("brake_disc", {"thickness_mm": 8, "least_mm": 8}, "brake-disc-near", "watch"),  # on the least is inside
    ("brake_disc", {"thickness_mm": 7.99, "least_mm": 8}, "brake-disc-worn", "act"),
    ("brake_disc", {"thickness_mm": 12, "least_mm": 8}, "brake-disc-thick", "sound"),
    ("brake_disc", {"thickness_mm": 12}, "reading-missing", "unproven"),
    *(
        ("brake_disc", {"thickness_mm": t, "least_mm": least}, "brake-disc-thick", "sound")
        for t, least in ((2.2, 2), (3.3, 3), (5.5, 5), (6.6, 6), (7.7, 7), (9.9, 9))
    ),  # on the tenth: one verdict
    *(
        ("brake_disc", {"thickness_mm": t, "least_mm": least}, "brake-disc-near", "watch")
        for t, least in ((2.19, 2), (3.29, 3), (5.49, 5))
    ),
    ("brake_disc", {"thickness_mm": 300, "least_mm": 2}, "size-absurd", "unproven"),
    ("capacitor_replaced", {"old_uf": 35, "new_uf": 35, "old_v": 370, "new_v": 330}, "capacitor-volts-low", "act"),
    ("brake_gap", {"gap_mm": 1.2, "most_mm": 1}, "brake-gap-wide", "act"),
    ("overhaul", {"parts": {"fan": "bad"}}, "overhaul-bad", "act"),
    ("overhaul", {"cleaned_with": "petrol"}, "overhaul-cleaned", "act"),
    (
        "brush_holders",
        {"square": True, "firm": True, "free": False, "bevel": True, "distance_mm": 2},
        "holder-off",
        "watch",
    ),
    ("star_delta", {"timer_s": 9, "run_up_s": 10}, "star-delta-timer", "sound"),  # on the limit
    ("star_delta", {"timer_s": 4, "run_up_s": 10}, "star-delta-early", "act"),
    ("star_delta", {"timer_s": 16, "run_up_s": 10}, "star-delta-late", "watch"),
    ("star_delta", {"line_a_star": 40, "line_a_delta": 121}, "star-delta-third", "sound"),
    ("star_delta", {"line_a_star": 80, "line_a_delta": 121}, "star-delta-share", "watch"),
    ("star_delta", {}, "reading-missing", "unproven"),
    ("star_delta", {"timer_s": 8.9, "run_up_s": 10}, "star-delta-early", "act"),
    ("star_delta", {"timer_s": 15, "run_up_s": 10}, "star-delta-timer", "sound"),
    ("star_delta", {"timer_s": 15.1, "run_up_s": 10}, "star-delta-late", "watch"),
    ("star_delta", {"timer_s": 9}, "reading-missing", "unproven"),
    ("star_delta", {"timer_s": 9, "line_a_star": 40, "line_a_delta": 121}, "star-delta-third", "unproven"),
    ("star_delta", {"timer_s": 9, "run_up_s": 10, "line_a_star": 40}, "star-delta-timer", "unproven"),
    ("star_delta", {"timer_s": 9000, "run_up_s": 10000}, "star-delta-timer", "unproven"),
    ("autotransformer", {"tap": 0.65, "full_voltage_a": 100}, "autotransformer-share", "sound"),
    ("autotransformer", {}, "reading-missing", "unproven"),
    ("autotransformer", {"tap": 6.5}, "tap-unclear", "unproven"),
    ("autotransformer", {"tap": 0.065}, "tap-unclear", "unproven"),
    ("autotransformer", {"tap": 1}, "autotransformer-share", "sound"),
    ("autotransformer", {"tap": 10}, "autotransformer-share", "sound"),
    ("autotransformer", {"tap": 65}, "autotransformer-share", "sound"),
    ("starts", {"per_hour": 6}, "starts-few", "sound"),
    ("starts", {"per_hour": 7}, "starts-some", "watch"),
    ("starts", {"per_hour": 14}, "starts-many", "act"),
    ("starts", {"run_up_s": 10, "trip_class": 10}, "overload-class-short", "watch"),
    ("starts", {"run_up_s": 9, "trip_class": 10}, "starts-class", "sound"),
    ("starts", {"run_up_s": 9}, "reading-missing", "unproven"),
    ("starts", {"per_hour": 10}, "starts-some", "watch"),
    ("starts", {"per_hour": 10.1}, "starts-many", "act"),
    ("starts", {"per_hour": 6, "trip_class": 10}, "starts-few", "unproven"),
    ("surge", {"result": "pass", "peak_v": 2000}, "surge-alike", "sound"),
    ("surge", {"result": "fail", "difference_percent": 18}, "surge-apart", "act"),
    ("surge", {}, "reading-missing", "unproven"),
    ("surge", {"result": "pass", "difference_percent": 10}, "surge-alike", "sound"),
    ("surge", {"result": "pass", "difference_percent": 40}, "surge-unclear", "unproven"),
    ("vibration", {"words": "grinding"}, "vibration-act", "act"),
    ("vibration", {"words": ["smooth"]}, "vibration-sound", "sound"),
    ("observation", {"words": ["dried tape", "nothing"]}, "observation-watch", "watch"),
    ("observation", {}, "reading-missing", "unproven"),
]


@pytest.mark.parametrize(("kind", "figures", "code", "verdict"), CASES)
def test_each_kind_and_its_limits(kind, figures, code, verdict):
    told, _ = judged(kind=kind, **figures)
    assert told["findings"][0]["code"] == code
    assert told["verdict"] == verdict


def test_every_kind_is_asked():
    assert {case[0] for case in CASES} | {"single_phase"} == set(SIDE_KINDS)


ACTS = {
    "surge": ({"result": "fail"}, "rewind-or-replace"),
    "rotation": ({"wanted": "cw", "seen": "ccw"}, "correct-connection"),
    "brushes": ({"new_mm": 32, "holders": {"1": 10}}, "repair-on-site"),
    "vibration": ({"words": ["grinding"]}, "remove-now"),
    "starts": ({"per_hour": 20}, "look-elsewhere"),
}


@pytest.mark.parametrize("kind", ACTS)
def test_a_side_sheet_that_asks_for_action_is_not_passed_over(kind):
    figures, _ = ACTS[kind]
    decision = judged(kind=kind, **figures)[1]
    assert decision["verdict"] == "act"
    assert decision["action"] not in ("return", "return-retest")


@pytest.mark.parametrize(
    ("figures", "where"),
    [
        ({"kind": "brushes", "holders": {"1": -3}}, "tests.0.holders.1"),
        ({"kind": "single_phase", "readings": {"A": "3"}}, "tests.0.readings.A"),
        ({"kind": "single_phase", "readings": {"A-A": "3"}}, "tests.0.readings.A-A"),
        ({"kind": "grease", "outside_mm": 0}, "tests.0.outside_mm"),
        ({"kind": "vibration", "words": ["singing"]}, "tests.0.words.0"),
        ({"kind": "autotransformer", "tap": 120}, "tests.0.tap"),
        ({"kind": "surge", "result": "maybe"}, "tests.0.result"),
        ({"kind": "starts", "per_day": 3}, "tests.0.per_day"),
    ],
)
def test_what_cannot_be_used_says_where(figures, where):
    with pytest.raises(RecordRefusal) as refused:
        judged(**figures)
    assert refused.value.where == where


def test_they_go_out_as_they_came_in():
    tests = [{"kind": kind, **figures} for kind, figures, _, _ in CASES]
    tests.append({"kind": "single_phase", "readings": {"A-B": "6.0", "B-C": "2.0", "C-A": "8.0"}})
    document = {"format": "grimcoil-job/1", "motor": {"tag": "SP-1", "rated_voltage_v": 230}, "tests": tests}
    record = read_job(json.dumps(document))
    out = [{"kind": kind} | figures for kind, figures in map(side_document, record.tests)]
    assert read_job(json.dumps(document | {"tests": out})).tests == record.tests
