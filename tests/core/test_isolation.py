"""Every source by itself: what follows from the record, its lock, its point of the proof."""

import json
from datetime import timedelta

import pytest

from grimcoil.core.choices import Occasion, SourceKind
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.isolation import WORDS, sources_of
from grimcoil.core.plan.brief import brief_of
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.steps import Act
from grimcoil.exchange.jobs import read_job
from tests.core.plan.given import fold
from tests.support import NOW, entry


def subject(position=(), **motor):
    plate = {"tag": "X-1", "rated_voltage_v": [460], "lead_scheme": "three-lead"} | motor
    document = {"format": "grimcoil-job/1", "motor": plate, "position": dict(position)}
    return read_job(json.dumps(document)).subject


def folded(plan, script):
    made = [
        entry(n, place, text, NOW + timedelta(seconds=5 * n), plan=plan) for n, (place, text) in enumerate(script, 1)
    ]
    return fold(made, plan=plan).safety


def kinds(made):
    return [source.kind.value for source in sources_of(made)]


@pytest.mark.parametrize(
    ("made", "expected"),
    [
        (subject(), ["main"]),
        (subject({"control_supply": "separate"}), ["main", "control"]),
        (subject({"control_supply": "L1-L2"}), ["main"]),
        (subject({"starter": "drive"}), ["main", "drive-link"]),
        (subject({"starter": "two-speed"}), ["main", "second-feed"]),
        (subject(lead_scheme="two-speed-two-winding"), ["main", "second-feed"]),
        (subject(brake={"feed": "separate"}), ["main", "brake", "stored-load"]),
        (subject(brake={"feed": "two-lines"}), ["main", "stored-load"]),
        (subject(accessories=[{"what": "heater", "leads": []}]), ["main", "heater"]),
        (subject({"sources": [{"source": "stored-load", "lock_at": "hook"}]}), ["main", "stored-load"]),
        (subject({"sources": [{"source": "other", "name": "UPS"}, {"source": "other"}]}), ["main", "other", "other"]),
    ],
)
def test_sources_follow_from_the_record(made, expected):
    assert kinds(made) == expected


def test_each_has_its_lock_and_each_electric_one_its_point():
    card = [{"source": "control", "from": "MCC 4", "lock_at": "Q7", "found_v": 230, "found_at": "2025-05-03"},
            {"source": "stored-load"}]  # fmt: skip
    made = subject({"sources": card, "starter": "drive"}, lead_scheme="two-speed-two-winding")
    plan = build(brief_of(made, Occasion.ROUTINE))
    locks = [place for place, _, _ in plan.doing(Act.LOCK)]
    assert locks == [f"isolate.lock-{kind}" for kind in ("main", "second-feed", "control", "drive-link", "stored-load")]
    ask = plan.at("isolate.lock-control")[1].ask
    assert "Q7" in ask
    assert "Found live here on 3 May 2025: 230 V" in ask
    points = {place for place, _, _ in plan.doing(Act.POINT_DEAD)}
    assert {"prove_dead.second-feed", "prove_dead.control", "prove_dead.drive-link"} <= points
    assert "prove_dead.stored-load" not in points
    assert plan.at("prove_dead.drive-link")[1].functions == ("volt-dc",)


def test_nothing_counts_before_every_lock_is_on():
    plan = build(brief_of(subject({"control_supply": "separate"}), Occasion.ROUTINE))
    points = [slot.key for _, _, slot in plan.doing(Act.POINT_DEAD)]
    proof = [("prove_dead.before", "480"), *((f"prove_dead.{p}", "0") for p in points), ("prove_dead.after", "480")]
    begun = [("isolate.tag", "X-1"), ("isolate.lock-main", "12")]
    tried = [("isolate.tried", "nothing moved")]
    lacking = folded(plan, [*begun, *tried, *proof])
    assert lacking.proved_at is None
    assert not lacking.locked
    whole = folded(plan, [*begun, ("isolate.lock-control", "13"), *tried, *proof])
    assert whole.locked
    assert whole.proved_at is not None


def test_words_for_every_kind_and_a_strange_one_is_refused():
    assert set(WORDS) == set(SourceKind)
    with pytest.raises(RecordRefusal) as refused:
        subject({"sources": [{"source": "sun"}]})
    assert refused.value.where.startswith("position.sources.0.source")
