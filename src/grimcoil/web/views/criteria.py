"""Criteria for reading: what each limit is about, its figure, and where it comes from."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.catalogue import Standing
from grimcoil.core.criteria import Criteria, Limit
from grimcoil.exchange.criteria import LIMIT_NAMES

WORDS = {
    "balance_sound": "Winding balance, sound to",
    "balance_act": "Winding balance, act above",
    "resistance_drift": "Resistance drift from the baseline",
    "insulation_random_mohm": "Insulation minimum at 40 °C, random-wound",
    "insulation_form_mohm": "Insulation minimum at 40 °C, form-wound",
    "insulation_may_run_mohm": "Insulation: may run, find out why",
    "insulation_good_mohm": "Insulation: good from",
    "near_zero_mohm": "Insulation: near zero",
    "ohmmeter_suspect_mohm": "By an ohmmeter only: suspect below",
    "pi_minimum_class_a": "Polarization index wanted, class A",
    "pi_minimum": "Polarization index wanted, classes B, F, H",
    "pi_meaningless_above_mohm": "Polarization index says nothing above",
    "pi_brittle": "Polarization index, dried out from",
    "dar_bad": "60 s over 30 s, bad below",
    "dar_doubtful": "60 s over 30 s, doubtful below",
    "voltage_unbalance_sound": "Voltage unbalance, sound to",
    "voltage_unbalance_act": "Voltage unbalance, act above",
    "voltage_level_sound": "Volts against the plate, sound to",
    "voltage_level_act": "Volts against the plate, act above",
    "current_unbalance_sound": "Current unbalance, sound to",
    "current_unbalance_act": "Current unbalance, act above",
    "contact_drop_high": "Contact drop above the lowest pole",
    "contact_burnt_v": "Contact burnt from",
    "contact_watts": "Heat in one closed pole",
    "near_zero_ohm": "A good fuse or pole reads up to",
    "accessory_mohm": "Accessories to frame, minimum",
    "proof_hours": "Proof of death ages after",
    "absurd_times": "Slip of the decimal point from",
    "capacitor_off": "Capacitance against the marking",
    "frame_below_class_k": "A frame below its winding by",
    "no_load_slip": "Slip with nothing coupled, up to",
    "open_above_ohm": "A winding is open above",
    "reference_temperature_c": "Reference temperature of ohms",
    "dead_below_v": "Dead: volts below",
    "live_above_v": "A live source shows at least",
    "proof_same_source_percent": "Second proof of the tester, within",
}
SHORT = {
    Standing.STANDARD: "a standard, from memory",
    Standing.TRADE: "common practice, no source at hand",
    Standing.COMPUTED: "computed",
    Standing.SITE: "set by the plant",
}


@dataclass(frozen=True, slots=True)
class LimitRow:
    """One limit: its key, words, figure with unit, and source."""

    key: str
    words: str
    figure: str
    source: str
    standing: str


def limit_rows(criteria: Criteria) -> list[LimitRow]:
    """Every limit in its order."""
    out = []
    for name in LIMIT_NAMES:
        limit: Limit = getattr(criteria, name)
        out.append(LimitRow(name, WORDS[name], figure_of(limit), limit.source, SHORT[limit.standing]))
    return out


def figure_of(limit: Limit) -> str:
    """`5 MΩ`, `1.5`."""
    return f"{limit.value:g}" + ("" if limit.unit == "1" else f" {limit.unit}")
