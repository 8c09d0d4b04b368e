"""Which rows of a history compare, where it starts anew, and what is left out."""

from datetime import date, timedelta

import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.findings import Verdict
from grimcoil.core.trend.history import HistoryRow, judge_history

START = date(2015, 1, 1)


def rows(values, every=200, **more):
    out = []
    for i, value in enumerate(values):
        mohm = value if isinstance(value, Amount) else Amount.exact(value)
        own = {"t_s": 60, "winding_temperature_c": 40.0, **more}
        out.append(HistoryRow(START + timedelta(days=i * every), mohm, **own))
    return out


def changed(row, **more):
    return HistoryRow(**{name: getattr(row, name) for name in row.__slots__} | more)


def codes(history):
    return [finding.code for finding in history.findings]


FALLING = [900, 620, 400, 270, 190, 130]


def test_a_plain_history_is_its_trend():
    history = judge_history(rows(FALLING), 5)
    assert history.trend.n == 6
    assert history.trend.fit.slope_decades_per_year < -0.2
    assert history.left_out == 0


def test_values_are_corrected_to_40_degrees_before_they_are_joined():
    warm = judge_history(rows([400] * 5), 5)
    cold = judge_history(rows([400 / 0.7622] * 5, winding_temperature_c=20.0), 5)
    pairs = zip(cold.points, warm.points, strict=True)
    assert all(a.r40_mohm.value == pytest.approx(b.r40_mohm.value, rel=1e-3) for a, b in pairs)


def test_short_holds_are_left_out_unless_all_are_the_same():
    mixed = rows(FALLING)
    mixed[2] = changed(mixed[2], t_s=10)
    history = judge_history(mixed, 5)
    assert history.left_out == 1
    assert "short-holds-left-out" in codes(history)
    assert judge_history(rows(FALLING, t_s=10), 5).trend.n == 6


def test_without_a_temperature_nothing_is_corrected_or_joined():
    some = rows(FALLING)
    some[0] = changed(some[0], winding_temperature_c=None)
    history = judge_history(some, 5)
    assert (history.trend.n, history.left_out) == (5, 1)
    assert "temperature-missing" in codes(history)


@pytest.mark.parametrize("event", ["rewind", "cable-changed", "drying"])
def test_some_events_start_a_new_series(event):
    long = rows([*FALLING, 2000, 1990, 1980])
    long[6] = changed(long[6], event=event)
    history = judge_history(long, 5)
    assert history.trend.n == 3
    assert history.since == long[6].on
    assert "series-restarted" in codes(history)
    text = next(f.text for f in history.findings if f.code == "series-restarted")
    assert "year" in text
    assert event in text


def test_a_row_that_only_marks_an_event_restarts_too():
    long = rows([*FALLING, 2000, 1990, 1980])
    long.append(HistoryRow(long[6].on - timedelta(days=3), None, event="rewind"))
    assert judge_history(long, 5).trend.n == 3


def test_another_test_point_is_a_series_of_its_own_and_no_restart():
    """Starter and box by turns: two lines, each with all its values."""
    high = rows([2000, 1900, 2100, 2050, 1950, 2020, 2080, 1990])
    by_turns = [
        changed(row, at="starter", mohm=Amount.exact(value)) if i % 2 else changed(row, at="motor-box")
        for i, (row, value) in enumerate(zip(high, (0, 900, 0, 600, 0, 400, 0, 270), strict=True))
    ]
    history = judge_history(by_turns, 5)
    assert (history.trend.n, history.left_out) == (4, 4)
    assert history.trend.fit.slope_decades_per_year < -0.15
    (other,) = history.others
    assert (other.at, other.trend.n, other.since) == ("motor-box", 4, START)
    assert abs(other.trend.fit.slope_decades_per_year) < 0.05
    assert "series-restarted" not in codes(history)
    assert "At motor-box, 4 tests" in next(f.text for f in history.findings if f.code == "series-beside")


def test_what_another_test_point_shows_governs_too():
    """The cable's series falls to nothing; the motor's own is sound: the history isn't."""
    some = [changed(row, at="motor-box") for row in rows([900, 910, 905, 900, 890, 895])]
    cable = [changed(row, at="starter", on=row.on - timedelta(days=5)) for row in rows([900, 600, 300, 90, 30, 2])]
    history = judge_history([*some, *cable], 5)
    assert history.trend.verdict is Verdict.SOUND
    assert history.verdict is Verdict.ACT
    assert Verdict.ACT in [finding.severity for finding in history.governing]


def test_values_without_a_test_point_belong_to_the_only_one():
    some = [changed(row, at="motor-box" if i > 3 else None) for i, row in enumerate(rows(FALLING))]
    assert judge_history(some, 5).trend.n == 6


@pytest.mark.parametrize("event", ["drying", "cleaning"])
def test_a_recovery_keeps_the_fall_in_view(event):
    long = rows([*FALLING, 2000, 1990, 1980, 2010])
    long[6] = changed(long[6], event=event)
    history = judge_history(long, 5)
    assert history.trend.verdict is Verdict.SOUND
    assert history.verdict is Verdict.WATCH


def test_ten_tests_without_a_temperature_are_ten_tests():
    some = rows([900, 800, 700, 640, 560, 500, 450, 400, 350, 310], winding_temperature_c=None)
    history = judge_history(some, 5)
    assert (history.trend.n, history.left_out) == (10, 0)
    assert history.trend.fit.slope_decades_per_year < -0.05
    assert "trend-as-read" in codes(history)
    assert "trend-falling" in codes(history)


def test_another_voltage_or_instrument_is_joined_but_said():
    half = [changed(r, test_voltage_v=500.0 if i < 3 else 1000.0) for i, r in enumerate(rows(FALLING))]
    history = judge_history(half, 5)
    assert history.trend.n == 6
    assert "test voltage" in next(f.text for f in history.findings if f.code == "series-changed")


def test_order_of_rows_makes_no_difference():
    first, other = judge_history(rows(FALLING), 5), judge_history(rows(FALLING)[::-1], 5)
    assert first.trend.fit.slope_decades_per_year == other.trend.fit.slope_decades_per_year


def test_every_step_is_dated():
    history = judge_history(rows([1000, 950, 1050, 1000, 120, 980]), 5)
    assert [step.on for step in history.steps] == [START + timedelta(days=800)]
    assert history.steps[0].step.ratio == pytest.approx(0.12, abs=0.01)


def test_nothing_at_all():
    history = judge_history([], 5)
    assert (history.trend.n, history.since, history.steps) == (0, None, ())
    assert codes(history) == ["trend-too-few"]


@pytest.mark.parametrize(("since", "severity"), [(5, Verdict.WATCH), (6, Verdict.SOUND)])
def test_a_fall_before_a_drying_is_past_after_six_tests(since, severity):
    long = rows([*FALLING, *[2000] * since])
    long = [changed(row, event="drying") if i == len(FALLING) else row for i, row in enumerate(long)]
    found = next(f for f in judge_history(long, 5).findings if f.code == "series-restarted")
    assert found.severity is severity
    assert "until 6 tests" in found.text
