"""The overload relay's setting against the plate (NEC 430.32, standard, from memory; the rest common practice)."""

from __future__ import annotations

import math

from grimcoil.core.findings import Finding, act, sound, watch
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Overload

# A dial marked in motor amps trips between these multiples of it; common practice.
TRIPS_FROM, TRIPS_TO = 1.05, 1.25
INSIDE_DELTA = 1 / math.sqrt(3)
CLOSE = 0.05


def right_dial_a(full_load_a: float, inside_delta: bool) -> float:
    """Where the dial belongs, A: at full-load amps, in the delta at 0.58 of them. (computed)

    >>> round(right_dial_a(20.0, inside_delta=True), 2)
    11.55
    """
    return full_load_a * (INSIDE_DELTA if inside_delta else 1.0)


def trip_limit_percent(plate: Plate, marked_rise_k: float | None = None) -> float:
    """Largest trip rating in percent of plate amps: 125 with service factor 1.15 or more or a marked rise up to
    40 K, else 115 (NEC 430.32, standard, from memory).

    >>> trip_limit_percent(Plate((460,), service_factor=1.15)), trip_limit_percent(Plate((460,)))
    (125.0, 115.0)
    """
    easy = plate.service_factor >= 1.15 or (marked_rise_k is not None and marked_rise_k <= 40)
    return 125.0 if easy else 115.0


def overload_findings(overload: Overload, plate: Plate) -> list[Finding]:
    """What the setting means for this plate; nothing where dial or plate amps aren't on record."""
    out = [] if overload.dial_a is None else _dial(overload, plate)
    if overload.trip_class is not None and overload.run_up_s is not None and overload.run_up_s >= overload.trip_class:
        text = f"Run-up takes {overload.run_up_s:g} s, class {overload.trip_class} trips about then: it trips at start."
        out.append(watch("overload-class-short", text))
    if overload.automatic_reset:
        text = "The overload resets by itself: wrong on a machine an operator can reach."
        out.append(watch("overload-automatic-reset", text))
    return out


def _dial(overload: Overload, plate: Plate) -> list[Finding]:
    amps, dial = plate.full_load_in_use_a, overload.dial_a
    if amps is None or dial is None:
        return []
    right = right_dial_a(amps, overload.inside_delta)
    where = f"{amps:g} A × 0.58 inside the delta = {right:.3g} A" if overload.inside_delta else f"plate {amps:g} A"
    limit = trip_limit_percent(plate)
    if TRIPS_FROM * dial > right * limit / 100:
        text = f"Dial {dial:g} A trips at {TRIPS_FROM * dial:.3g} A or more; {limit:g} % of {where} is the limit."
        return [act("overload-trips-high", text)]
    if dial > right * (1 + CLOSE):
        text = f"Dial {dial:g} A, {where}: it trips up to {TRIPS_TO * dial:.3g} A. Set the dial to the plate's amps."
        return [watch("overload-dial-high", text)]
    if dial < right * (1 - CLOSE):
        return [watch("overload-dial-low", f"Dial {dial:g} A, {where}: it trips below full load.")]
    return [sound("overload-dial-fits", f"Dial {dial:g} A, {where}.")]
