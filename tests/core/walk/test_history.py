"""What was found here before weighs, and a walk that finds nothing ends as a one-time event that is watched."""

from datetime import date

import pytest

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.walk.history import AGAIN, HANDS_ON, Earlier, Past, told
from tests.core.walk.given import bare

BEFORE = {"kind": "walk", "on": "2026-03-01", "text": "overload set wrong", "suspect": "overload-misset"}


def share(made, name):
    return sum(one["belief"] for one in made["suspects"] if one["suspect"] == name)


def odds(made, name):
    return share(made, name) / share(made, "overload-faulty")


def test_what_a_walk_found_here_before_is_told_and_weighs_as_the_trade_has_it():
    plain = bare("trips-later", [])
    again = bare("trips-later", [], earlier=[BEFORE], on="2026-12-01")
    assert odds(again, "overload-misset") / odds(plain, "overload-misset") == pytest.approx(AGAIN)
    assert again["findings"][0]["code"] == "walk-earlier"
    assert "1 Mar 2026: overload set wrong" in again["findings"][0]["text"]


@pytest.mark.parametrize(
    ("earlier", "name", "factor"),
    [
        ({**BEFORE, "on": "2024-11-30"}, "overload-misset", 1.0),  # older than two years
        ({**BEFORE, "on": "2026-12-02"}, "overload-misset", 1.0),  # from a clock that runs ahead
        ({"kind": "repair", "on": "2026-09-02"}, "joint-loose", HANDS_ON),
        ({"kind": "repair", "on": "2026-09-01"}, "joint-loose", 1.0),  # 91 days
        ({"kind": "repair", "on": "2026-09-02"}, "overload-misset", None),
    ],
)
def test_the_past_weighs_within_its_time_alone(earlier, name, factor):
    plain = bare("trips-later", [])
    made = bare("trips-later", [], earlier=[{"text": "x", **earlier}], on="2026-12-01")
    if factor is None:
        assert odds(made, name) <= odds(plain, name)
    else:
        assert odds(made, name) / odds(plain, name) == pytest.approx(factor)


def test_a_job_that_ended_with_the_winding_weighs_on_motor_and_cable():
    job = {"kind": "job", "on": "2026-11-01", "text": "rewound"}
    plain, made = bare("trips-later", []), bare("trips-later", [], earlier=[job], on="2026-12-01")
    assert share(made, "winding-turn-short") > 1.2 * share(plain, "winding-turn-short")


def test_a_suspect_of_the_past_that_there_is_not_is_refused_with_its_path():
    with pytest.raises(RecordRefusal) as refused:
        bare("hums", [], earlier=[BEFORE, {**BEFORE, "suspect": "gremlins"}])
    assert refused.value.where == "earlier.1.suspect"


def test_the_newest_of_the_past_are_told_first():
    lines = tuple(Earlier("job", date(2026, 1, day), f"day {day}") for day in (3, 1, 4, 2))
    assert [f.text[-6:] for f in told(Past(lines))] == ["day 4.", "day 3.", "day 2."]
