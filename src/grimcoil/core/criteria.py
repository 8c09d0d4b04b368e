"""Limits as data: named, versioned, each with value, unit, source and standing. The screen prints which one judged."""

from __future__ import annotations

from dataclasses import dataclass, replace

from grimcoil.core.catalogue import Standing


@dataclass(frozen=True, slots=True)
class Limit:
    """One limit and where it comes from."""

    value: float
    unit: str
    source: str
    standing: Standing


# What each choice of a school may be.
BALANCE_MEASURES = ("unbalance", "spread", "difference")
SPREAD_OR_UNBALANCE = ("unbalance", "spread")
INSULATION_MEASURES = ("at-40", "as-read")
TEST_VOLTAGE_SCHOOLS = ("ieee-43", "nearest-rated", "twice-rated", "under-water")
SPOT_MEASURES = ("unproven", "at-least")
LOW_MEASURES = ("act", "watch")


@dataclass(frozen=True, slots=True)
class Criteria:
    """The limits a site works to.

    balance_measure: `unbalance` (% of mean), `spread` (% of smallest) or `difference` (ohm);
    up to balance_sound is sound, above balance_act is act, between them watch (equal limits leave no watch).
    voltage_measure and current_measure likewise (no `difference`). insulation_measure: whether the minimum of a winding
    that isn't form-wound stands `at-40` °C or `as-read`. test_voltage_school: which advice governs. spot_measure: a
    value of 10 s or more is `unproven`, or counts as `at-least` so much at 1 minute. low_measure: from
    insulation_may_run_mohm up to the winding's own minimum is `act`, or `watch`.
    """

    name: str
    title: str
    version: int
    balance_measure: str
    voltage_measure: str
    current_measure: str
    insulation_measure: str
    test_voltage_school: str
    balance_sound: Limit
    balance_act: Limit
    resistance_drift: Limit
    insulation_random_mohm: Limit
    insulation_form_mohm: Limit
    insulation_may_run_mohm: Limit
    insulation_good_mohm: Limit
    near_zero_mohm: Limit
    ohmmeter_suspect_mohm: Limit
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
    contact_burnt_v: Limit
    contact_watts: Limit
    near_zero_ohm: Limit
    accessory_mohm: Limit
    proof_hours: Limit
    absurd_times: Limit
    capacitor_off: Limit
    frame_below_class_k: Limit
    no_load_slip: Limit
    open_above_ohm: Limit
    reference_temperature_c: Limit
    dead_below_v: Limit
    live_above_v: Limit
    # What came later: a signed job that doesn't say so was judged by these.
    proof_same_source_percent: Limit = Limit(
        10, "%", "the second proof of a tester is of the same source", Standing.TRADE
    )
    spot_measure: str = "unproven"
    low_measure: str = "act"


_STD, _TRADE = Standing.STANDARD, Standing.TRADE
_FIELD = "common field practice"

FIELD_GENERAL = Criteria(
    name="field-general",
    title="Field, general",
    version=4,
    balance_measure="unbalance",
    voltage_measure="unbalance",
    current_measure="unbalance",
    insulation_measure="at-40",
    test_voltage_school="ieee-43",
    balance_sound=Limit(2, "%", _FIELD, _TRADE),
    balance_act=Limit(5, "%", _FIELD, _TRADE),
    resistance_drift=Limit(5, "%", "drift from the first accepted set", _TRADE),
    insulation_random_mohm=Limit(5, "MΩ", "IEEE 43-2013 Table 3, random-wound and form-wound below 1 kV", _STD),
    insulation_form_mohm=Limit(100, "MΩ", "IEEE 43-2013 Table 3, form-wound after about 1970", _STD),
    insulation_may_run_mohm=Limit(1, "MΩ", "may run, but find out why it is so low", _TRADE),
    insulation_good_mohm=Limit(100, "MΩ", "100 MΩ and up is good", _TRADE),
    near_zero_mohm=Limit(0.1, "MΩ", "near zero on any instrument", _TRADE),
    ohmmeter_suspect_mohm=Limit(2, "MΩ", "1 to 2 MΩ on an ordinary ohmmeter is a strong suspicion", _TRADE),
    pi_minimum_class_a=Limit(1.5, "1", "IEEE 43-2013, class A", _STD),
    pi_minimum=Limit(2.0, "1", "IEEE 43-2013, classes B, F, H", _STD),
    pi_meaningless_above_mohm=Limit(5000, "MΩ", "IEEE 43-2013", _STD),
    pi_brittle=Limit(8, "1", "dried-out, brittle insulation", _TRADE),
    dar_bad=Limit(1.0, "1", "60 s over 30 s", _TRADE),
    dar_doubtful=Limit(1.25, "1", "60 s over 30 s", _TRADE),
    voltage_unbalance_sound=Limit(1, "%", "NEMA MG-1, the aim", _STD),
    voltage_unbalance_act=Limit(3, "%", _FIELD, _TRADE),
    voltage_level_sound=Limit(5, "%", "IEC 60034-1 zone A", _STD),
    voltage_level_act=Limit(10, "%", "NEMA MG-1 12.44", _STD),
    current_unbalance_sound=Limit(5, "%", _FIELD, _TRADE),
    current_unbalance_act=Limit(10, "%", _FIELD, _TRADE),
    contact_drop_high=Limit(50, "%", "NETA practice, above the lowest pole", _STD),
    contact_burnt_v=Limit(1, "V", "1 V and more across a closed pole under load", _TRADE),
    contact_watts=Limit(30, "W", "heat in one closed pole under load", _TRADE),
    near_zero_ohm=Limit(1, "Ω", "a good fuse or closed pole reads near zero", _TRADE),
    accessory_mohm=Limit(1, "MΩ", "a protector, brake or heater to frame", _TRADE),
    proof_hours=Limit(2, "h", "a proof of death ages without an entry on the job", _TRADE),
    absurd_times=Limit(10, "1", "so many times the expected reading is a slip of the decimal point", _TRADE),
    capacitor_off=Limit(10, "%", "capacitance against the marking", _TRADE),
    frame_below_class_k=Limit(40, "K", "a frame runs some tens of kelvin below its winding", _TRADE),
    no_load_slip=Limit(5, "%", "uncoupled a motor runs close to its synchronous speed", _TRADE),
    open_above_ohm=Limit(1000, "Ω", "a kilo-ohm across a power winding is as good as open", _TRADE),
    reference_temperature_c=Limit(25, "°C", "IEEE 118 reference", _STD),
    dead_below_v=Limit(5, "V", "about 0 V when proving dead", _TRADE),
    live_above_v=Limit(50, "V", "a live source that proves the tester", _TRADE),
)

_SHOP = Limit(2, "%", "ANSI/EASA AR100, random-wound", _STD)
_SPREAD_10 = Limit(10, "%", f"{_FIELD}, spread", _TRADE)
_SPREAD_5 = Limit(5, "%", f"{_FIELD}, spread and each line against the plate", _TRADE)

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
            balance_sound=_SPREAD_10,
            balance_act=_SPREAD_10,
            voltage_measure="spread",
            voltage_unbalance_sound=_SPREAD_5,
            voltage_unbalance_act=_SPREAD_5,
            current_measure="spread",
            current_unbalance_sound=_SPREAD_10,
            current_unbalance_act=_SPREAD_10,
            test_voltage_school="nearest-rated",
        ),
        replace(
            FIELD_GENERAL,
            name="low-ohm",
            title="Low-ohm, by difference",
            balance_measure="difference",
            balance_sound=Limit(0.2, "Ω", f"{_FIELD}, difference", _TRADE),
            balance_act=Limit(0.5, "Ω", f"{_FIELD}, difference", _TRADE),
        ),
        replace(
            FIELD_GENERAL,
            name="under-water",
            title="Motors under water",
            insulation_measure="as-read",
            insulation_random_mohm=Limit(10, "MΩ", "as read, lowest for a motor going under water", _TRADE),
            test_voltage_school="under-water",
        ),
        replace(FIELD_GENERAL, name="ten-second", title="Field, ten seconds count", spot_measure="at-least"),
        replace(FIELD_GENERAL, name="one-megohm", title="Field, 1 MΩ may run", low_measure="watch"),
        replace(
            FIELD_GENERAL,
            name="hundred-megohm",
            title="Field, 100 MΩ wanted",
            insulation_random_mohm=Limit(100, "MΩ", "100 MΩ and up is good: taken as the least", _TRADE),
        ),
    )
}


def for_winding(criteria: Criteria, winding: str) -> Criteria:
    """The service-shop limit is 1 % for form-wound machines (ANSI/EASA AR100, standard, from memory)."""
    if criteria.name == "service-shop" and winding == "form":
        limit = Limit(1, "%", "ANSI/EASA AR100, form-wound", _STD)
        return replace(criteria, balance_sound=limit, balance_act=limit)
    return criteria
