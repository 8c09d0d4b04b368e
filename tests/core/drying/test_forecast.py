"""How long still: bands that hold on simulated dryings, and silence where the readings carry none."""

import json
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from grimcoil.core.drying import forecast, judge
from grimcoil.exchange.drying import dried
from tests.core.drying.simulated import START, Wet, document

NOW = datetime(2026, 11, 24, 12, 0, tzinfo=UTC)
# 5 and 95 % points: nine in ten hold; so few dryings may miss a little more by chance (binomial, computed).
HOLDS_IN_PART = 0.78


def answer(wet, entries):
    return dried(json.dumps(document(wet, entries)), NOW)


def end_of(wet, entries, monkeypatch):
    """Number of the entry with which it is done, and the hour; the forecast isn't asked."""
    with monkeypatch.context() as patch:
        patch.setattr(judge, "_left", lambda *_: None)
        for n in (i for i, one in enumerate(entries) if one.get("t_s") == 60):
            if n > 8 and answer(wet, entries[: n + 1])["done"]:
                return n
    return None


def hour(entry):
    return (datetime.fromisoformat(entry["at"]) - START) / timedelta(hours=1)


def test_nine_in_ten_bands_hold_on_simulated_dryings(monkeypatch):
    asked, given = 0, []
    for seed in range(26):
        wet = Wet(seed)
        entries = wet.entries(42)
        end = end_of(wet, entries, monkeypatch)
        if end is None or hour(entries[end]) < 4:
            continue
        for share in (0.45, 0.7):
            cut = max(
                i
                for i, one in enumerate(entries[:end])
                if one.get("t_s") == 60 and hour(one) <= share * hour(entries[end])
            )
            asked += 1
            left = answer(wet, entries[: cut + 1])["hours_left"]
            if left is not None:
                true = hour(entries[end]) - hour(entries[cut])
                given.append(left["low"] - 0.02 <= true <= left["high"] + 0.02)
    assert asked > 25
    assert len(given) > asked / 3
    assert sum(given) / len(given) > HOLDS_IN_PART


def rising(count, slope, noise=0.0, bend_h=None):
    hours = np.arange(count) * 0.5
    y = slope * hours if bend_h is None else slope * bend_h * (1 - np.exp(-hours / bend_h))
    y = y + noise * np.sin(7.0 * np.arange(count))
    return forecast.Rising(hours, y - 0.3, np.full(count, 70.0))


WANTED = forecast.Done(np.log10(5.0), 2.0, np.log10(1.1), 3)


def test_a_line_through_the_minimum_is_no_end():
    """It stands above the minimum within the hour, and isn't steady for hours after."""
    left = forecast.hours_left(rising(16, 0.25, bend_h=8.0), WANTED)
    assert left is not None
    assert left[0] > 4.0
    true = next(
        h
        for h in np.arange(0, 60, 0.5)
        if 2.0 * np.exp(-(7.5 + h - 2.0) / 8.0) - 2.0 * np.exp(-(7.5 + h) / 8.0) <= np.log10(1.1)
    )
    assert left[0] <= true <= left[1]


@pytest.mark.parametrize("count", [5, 7])
def test_a_straight_rise_that_hasnt_bent_says_nothing_yet(count):
    assert forecast.hours_left(rising(count, 0.3), WANTED) is None


def test_without_a_ratio_or_with_few_readings_nothing_is_said(monkeypatch):
    wet = Wet(3)
    entries = wet.entries(42)
    end = end_of(wet, entries, monkeypatch)
    minutes_only = [one for one in entries[:end] if one.get("t_s") != 30]
    assert answer(wet, minutes_only)["hours_left"] is None
    few = [i for i, one in enumerate(entries) if one.get("t_s") == 60][3]
    assert answer(wet, entries[: few + 1])["hours_left"] is None


def test_the_same_readings_give_the_same_band():
    made = rising(20, 0.25, 0.003, 3.0)
    assert forecast.hours_left(made, WANTED) == forecast.hours_left(made, WANTED)
