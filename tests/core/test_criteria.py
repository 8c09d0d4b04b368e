"""Limits as data: each with unit, source and standing, and none that contradicts its neighbour."""

from dataclasses import fields

import pytest

from grimcoil.core.criteria import (
    BALANCE_MEASURES,
    CRITERIA,
    SPREAD_OR_UNBALANCE,
    TEST_VOLTAGE_SCHOOLS,
    Limit,
    for_winding,
)


@pytest.mark.parametrize("criteria", CRITERIA.values(), ids=list(CRITERIA))
def test_every_limit_says_unit_source_and_standing(criteria):
    limits = [getattr(criteria, f.name) for f in fields(criteria) if isinstance(getattr(criteria, f.name), Limit)]
    assert len(limits) > 25
    assert all(limit.unit and limit.source and limit.standing and limit.value > 0 for limit in limits)
    assert criteria.version >= 1
    assert criteria.title


@pytest.mark.parametrize("criteria", CRITERIA.values(), ids=list(CRITERIA))
def test_sound_ends_where_act_begins_or_before(criteria):
    assert criteria.balance_sound.value <= criteria.balance_act.value
    assert (
        criteria.balance_sound.unit
        == criteria.balance_act.unit
        == {"difference": "Ω"}.get(criteria.balance_measure, "%")
    )
    assert criteria.voltage_unbalance_sound.value <= criteria.voltage_unbalance_act.value
    assert criteria.current_unbalance_sound.value <= criteria.current_unbalance_act.value
    assert (
        criteria.near_zero_mohm.value < criteria.insulation_may_run_mohm.value < criteria.insulation_random_mohm.value
    )
    assert criteria.dead_below_v.value < criteria.live_above_v.value
    assert criteria.balance_measure in BALANCE_MEASURES
    assert {criteria.voltage_measure, criteria.current_measure} <= set(SPREAD_OR_UNBALANCE)
    assert criteria.test_voltage_school in TEST_VOLTAGE_SCHOOLS


def test_form_wound_in_the_shop_is_held_to_one_percent():
    """ANSI/EASA AR100, standard, from memory."""
    shop = CRITERIA["service-shop"]
    assert for_winding(shop, "form").balance_act.value == 1
    assert for_winding(shop, "random") is shop
    assert for_winding(CRITERIA["field-general"], "form") is CRITERIA["field-general"]
