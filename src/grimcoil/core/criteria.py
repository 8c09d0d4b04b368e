"""Limits as data: named, versioned, each with value, unit, source and standing. The screen prints which one judged."""

from __future__ import annotations

from dataclasses import dataclass, replace

from grimcoil.core.findings import Standing


@dataclass(frozen=True, slots=True)
class Limit:
    """One limit and where it comes from."""

    value: float
    unit: str
    source: str
    standing: Standing


@dataclass(frozen=True, slots=True)
class Criteria:
    """The limits a site works to.

    balance_measure: `unbalance` (% of mean), `spread` (% of smallest) or `difference` (ohm);
    up to balance_sound is sound, above balance_act is act, between them watch (equal limits leave no watch).
    """

    name: str
    title: str
    version: int
    balance_measure: str
    balance_sound: Limit
    balance_act: Limit
    insulation_random_mohm: Limit
    insulation_form_mohm: Limit
    near_zero_mohm: Limit
    pi_minimum_class_a: Limit
    pi_minimum: Limit
    pi_meaningless_above_mohm: Limit
    pi_brittle: Limit
    dar_bad: Limit
    dar_doubtful: Limit
    voltage_unbalance_sound: Limit
    voltage_unbalance_act: Limit
    voltage_level_sound: Limit
    voltage_level_act: Limit
    current_unbalance_sound: Limit
    current_unbalance_act: Limit
    contact_drop_high: Limit
    open_above_ohm: Limit
    reference_temperature_c: Limit
    dead_below_v: Limit
    live_above_v: Limit


_STD, _TRADE = Standing.STANDARD, Standing.TRADE

FIELD_GENERAL = Criteria(
    name="field-general",
    title="Field, general",
    version=1,
    balance_measure="unbalance",
    balance_sound=Limit(2, "%", "common field practice", _TRADE),
    balance_act=Limit(5, "%", "common field practice", _TRADE),
    insulation_random_mohm=Limit(5, "MΩ", "IEEE 43-2013 Table 3, random-wound and form-wound below 1 kV", _STD),
    insulation_form_mohm=Limit(100, "MΩ", "IEEE 43-2013 Table 3, form-wound after about 1970", _STD),
    near_zero_mohm=Limit(0.1, "MΩ", "near zero on any instrument", _TRADE),
    pi_minimum_class_a=Limit(1.5, "1", "IEEE 43-2013, class A", _STD),
    pi_minimum=Limit(2.0, "1", "IEEE 43-2013, classes B, F, H", _STD),
    pi_meaningless_above_mohm=Limit(5000, "MΩ", "IEEE 43-2013", _STD),
    pi_brittle=Limit(8, "1", "dried-out, brittle insulation", _TRADE),
    dar_bad=Limit(1.0, "1", "60 s over 30 s", _TRADE),
    dar_doubtful=Limit(1.25, "1", "60 s over 30 s", _TRADE),
    voltage_unbalance_sound=Limit(1, "%", "NEMA MG-1, the aim", _STD),
    voltage_unbalance_act=Limit(3, "%", "common field practice", _TRADE),
    voltage_level_sound=Limit(5, "%", "IEC 60034-1 zone A", _STD),
    voltage_level_act=Limit(10, "%", "NEMA MG-1 12.44", _STD),
    current_unbalance_sound=Limit(5, "%", "common field practice", _TRADE),
    current_unbalance_act=Limit(10, "%", "common field practice", _TRADE),
    contact_drop_high=Limit(50, "%", "NETA practice, above the lowest pole", _STD),
    open_above_ohm=Limit(1000, "Ω", "a kilo-ohm across a power winding is as good as open", _TRADE),
    reference_temperature_c=Limit(25, "°C", "IEEE 118 reference", _STD),
    dead_below_v=Limit(5, "V", "about 0 V when proving dead", _TRADE),
    live_above_v=Limit(50, "V", "a live source that proves the tester", _TRADE),
)

_SHOP = Limit(2, "%", "ANSI/EASA AR100, random-wound", _STD)

CRITERIA: dict[str, Criteria] = {
    criteria.name: criteria
    for criteria in (
        FIELD_GENERAL,
        replace(
            FIELD_GENERAL,
            name="service-shop",
            title="Service shop",
            balance_sound=_SHOP,
            balance_act=_SHOP,
        ),
        replace(
            FIELD_GENERAL,
            name="field-coarse",
            title="Field, coarse",
            balance_measure="spread",
            balance_sound=Limit(10, "%", "common field practice, spread", _TRADE),
            balance_act=Limit(10, "%", "common field practice, spread", _TRADE),
        ),
        replace(
            FIELD_GENERAL,
            name="low-ohm",
            title="Low-ohm, by difference",
            balance_measure="difference",
            balance_sound=Limit(0.2, "Ω", "common field practice, difference", _TRADE),
            balance_act=Limit(0.5, "Ω", "common field practice, difference", _TRADE),
        ),
        replace(
            FIELD_GENERAL,
            name="under-water",
            title="Motors under water",
            insulation_random_mohm=Limit(10, "MΩ", "lowest for a motor going under water", _TRADE),
        ),
    )
}


def for_winding(criteria: Criteria, winding: str) -> Criteria:
    """The service-shop limit is 1 % for form-wound machines (ANSI/EASA AR100, standard, from memory)."""
    if criteria.name == "service-shop" and winding == "form":
        limit = Limit(1, "%", "ANSI/EASA AR100, form-wound", _STD)
        return replace(criteria, balance_sound=limit, balance_act=limit)
    return criteria
