"""Rewind or replace: energy, present cost by another road, what turns the answer, the schools at their edges."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.decision.money import (
    FLIPS,
    KW_PER_HP,
    TABLE_12_12,
    Case,
    energy_kwh,
    filled,
    judge_money,
    says,
    table_efficiency_percent,
)

CASE = Case(50 * KW_PER_HP, 2400, 5200, 0.12, 8000, 75, 93.0, fit_price=600, built_year=2009, year=2026)
FIGURES = st.builds(
    Case,
    power_kw=st.floats(0.5, 150),
    rewind_price=st.floats(100, 20000),
    new_price=st.floats(100, 30000),
    energy_price_per_kwh=st.floats(0.01, 1),
    hours_per_year=st.floats(0, 8760),
    load_percent=st.floats(10, 125),
    efficiency_now_percent=st.none() | st.floats(70, 99),
    efficiency_rewound_percent=st.none() | st.floats(70, 99),
    efficiency_new_percent=st.none() | st.floats(70, 99),
    fit_price=st.floats(0, 5000),
    downtime_cost_per_hour=st.floats(0, 100),
    lead_time_rewind_h=st.floats(0, 500),
    lead_time_new_h=st.floats(0, 2000),
    spare=st.booleans(),
    years=st.integers(1, 40),
    discount_rate_percent=st.floats(0, 30),
)


def annuity(rate_percent, years):
    """Present worth of one a year at each year's end: the textbook factor, (1 - (1 + r)^-n) / r."""
    rate = rate_percent / 100
    return years if rate < 1e-9 else (1 - (1 + rate) ** -years) / rate


def test_energy_of_the_worked_examples():
    """Handbook of the trade: 50 hp saves 3820 kWh a year, 200 hp saves 10 284. (computed there)"""
    assert energy_kwh(37.3, 75, 8000, 93) - energy_kwh(37.3, 75, 8000, 94.5) == pytest.approx(3820, abs=1)
    assert energy_kwh(149.2, 80, 6000, 94.5) - energy_kwh(149.2, 80, 6000, 95.8) == pytest.approx(10284, abs=1)


@pytest.mark.parametrize(
    ("kw", "percent"), [(0.2, 85.5), (0.7457, 85.5), (0.75, 86.5), (37.285, 94.5), (37.3, 95.0), (400, 96.2)]
)
def test_the_next_listed_horsepower_up(kw, percent):
    assert table_efficiency_percent(kw) == percent
    assert list(TABLE_12_12) == sorted(TABLE_12_12)


@given(FIGURES)
def test_present_cost_is_the_annuity_of_the_energy(case):
    made, whole = judge_money(case), filled(case)
    down = 0 if case.spare else case.downtime_cost_per_hour
    for way, efficiency, at_once in (
        (made.rewind, whole.efficiency_rewound_percent, case.rewind_price + down * case.lead_time_rewind_h),
        (made.replace, whole.efficiency_new_percent, case.new_price + case.fit_price + down * case.lead_time_new_h),
    ):
        kwh = case.power_kw * case.load_percent * case.hours_per_year / efficiency
        factor = annuity(case.discount_rate_percent, case.years)
        assert way.kwh_per_year == pytest.approx(kwh)
        assert way.present_cost == pytest.approx(at_once + kwh * case.energy_price_per_kwh * factor)
        assert len(way.by_year) == case.years + 1
        assert way.by_year[0] == pytest.approx(at_once)
    cheaper = "replace" if made.replace.present_cost < made.rewind.present_cost else "rewind"
    assert made.says == cheaper


@given(FIGURES)
def test_at_a_flip_the_answer_turns_and_not_before_it(case):
    made = judge_money(case)
    assert {flip.name for flip in made.flips} == set(FLIPS)
    for flip in made.flips:
        if flip.at is None or flip.name == "years" or abs(flip.at - flip.now) < 1e-6:
            continue  # a tie as it stands turns by the last digit
        turned = says(replace(case, **{flip.name: flip.at}))
        near = flip.at + (flip.now - flip.at) * 1e-5
        assert turned != made.says, flip
        assert says(replace(case, **{flip.name: near})) == made.says, flip


@given(FIGURES)
def test_at_the_break_even_price_both_cost_the_same(case):
    made = judge_money(case)
    if made.break_even_rewind_price is None:
        assert case.rewind_price + made.replace.present_cost < made.rewind.present_cost
        return
    even = judge_money(replace(case, rewind_price=made.break_even_rewind_price))
    assert even.rewind.present_cost == pytest.approx(even.replace.present_cost)


def test_payback_is_null_where_nothing_is_saved_and_zero_where_nothing_more_is_paid():
    made = judge_money(CASE)
    saved = (made.rewind.kwh_per_year - made.replace.kwh_per_year) * 0.12
    assert made.payback_years == pytest.approx((5200 + 600 - 2400) / saved)
    assert judge_money(replace(CASE, efficiency_new_percent=93.0)).payback_years is None
    assert judge_money(replace(CASE, rewind_price=9000)).payback_years == 0


def test_a_spare_takes_the_downtime_out():
    slow = replace(CASE, downtime_cost_per_hour=100, lead_time_new_h=100)
    assert judge_money(slow).replace.at_once == 5800 + 10000
    assert judge_money(replace(slow, spare=True)).replace.at_once == 5800
    assert "money-spare" in {f.code for f in judge_money(replace(slow, spare=True)).findings}


def said(case, school):
    return next(one.says for one in judge_money(case).schools if one.name == school)


@pytest.mark.parametrize(
    ("change", "school", "wanted"),
    [
        ({"rewind_price": 4000, "new_price": 8000}, "price-share", "none"),
        ({"rewind_price": 3999, "new_price": 8000}, "price-share", "rewind"),
        ({"rewind_price": 5200, "new_price": 8000}, "price-share", "none"),
        ({"rewind_price": 5201, "new_price": 8000}, "price-share", "replace"),
        ({"power_kw": 39 * KW_PER_HP, "built_year": 2010}, "small-and-old", "replace"),
        ({"power_kw": 39 * KW_PER_HP, "built_year": 2011}, "small-and-old", "none"),
        ({"power_kw": 40 * KW_PER_HP}, "small-and-old", "none"),
        ({"power_kw": 39 * KW_PER_HP, "built_year": None}, "small-and-old", "none"),
        ({"lead_time_new_h": 1008}, "special-or-late", "none"),
        ({"lead_time_new_h": 1009}, "special-or-late", "rewind"),
        ({"special": True}, "special-or-late", "rewind"),
        ({"rewinds_before": 1}, "third-rewind", "none"),
        ({"rewinds_before": 2}, "third-rewind", "replace"),
    ],
)
def test_schools_at_their_edges(change, school, wanted):
    assert said(replace(CASE, **change), school) == wanted
