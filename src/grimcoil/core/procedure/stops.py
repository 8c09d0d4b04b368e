"""Stop rules that a typed reason may overrule; the record then says why it was gone on."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.errors import GateClosed
from grimcoil.core.procedure.entries import Kept


@dataclass(frozen=True, slots=True)
class Stop:
    """Entering one of `places` while one of `codes` was found needs a reason, kept under `key`."""

    key: str
    title: str
    places: frozenset[str]
    codes: frozenset[str]
    accepted: str


STOPS: tuple[Stop, ...] = (
    Stop(
        "insulation!open-winding",
        "Insulation to frame",
        frozenset({"insulation.on"}),
        frozenset(
            {
                "open-phase",
                "lead-open-delta",
                "all-open",
                "open-coil-delta",
                "kilohm-open",
            }
        ),
        "no insulation test of the whole on an open winding: skip it and decide, or give a reason to go on",
    ),
    Stop(
        "insulation!near-zero",
        "Insulation to frame",
        frozenset({"insulation.600"}),
        frozenset({"insulation-near-zero", "insulation-failed"}),
        "insulation near zero needs no 10 minutes: end the hold, or give a reason to go on",
    ),
    Stop(
        "supply_voltage!failed",
        "Power restored",
        frozenset({"supply_voltage.restored"}),
        frozenset(
            {
                "insulation-near-zero",
                "insulation-failed",
                "insulation-low",
                "open-phase",
                "lead-open-delta",
                "all-open",
            }
        ),
        "this motor must not run: skip the live steps and decide, or give a reason to run it",
    ),
)


def check_stops(place: str, kept: Kept, codes: set[str]) -> None:
    """Raise GateClosed (overrulable) where a stop rule holds for this place and no reason stands."""
    for stop in STOPS:
        if place in stop.places and stop.codes & codes and stop.key not in kept.overruled:
            found = ", ".join(sorted(stop.codes & codes)).replace("-", " ")
            raise GateClosed(stop.title, found, stop.accepted, can_overrule=True)


def stop_key(place: str, codes: set[str]) -> str | None:
    """The key a reason for this place is kept under."""
    return next((s.key for s in STOPS if place in s.places and s.codes & codes), None)
