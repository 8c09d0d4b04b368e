"""The figures of a signed job that a trend plots, from the `grimcoil-assessment/1` it keeps."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from grimcoil.core.amount import Amount
from grimcoil.exchange.told import amount_of, first_of

KINDS = (
    "insulation", "winding_resistance", "supply_voltage", "line_current", "frame_temperature", "contact_drop", "starts",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Plotted:
    """What a job's tests came to. Every figure is None where its test wasn't made or proved none.

    pi, dar: polarization index and absorption ratio, bounds kept; ohms: Ω at the reference temperature by pair of
    leads; volts_unbalance, amps_unbalance, load: percent; volts: V, amps: A, means of the lines; frame_c: °C; drops:
    V across each closed pole under load; run_up_s: s from a start to full speed.
    """

    pi: Amount | None = None
    dar: Amount | None = None
    ohms: Mapping[str, float] = field(default_factory=dict)
    volts: float | None = None
    volts_unbalance: float | None = None
    amps: float | None = None
    amps_unbalance: float | None = None
    load: float | None = None
    frame_c: float | None = None
    drops: Mapping[str, float] = field(default_factory=dict)
    run_up_s: float | None = None


def plotted(document: Mapping[str, Any] | None) -> Plotted:
    """Read off the first test of each kind; a document without one has no such figure."""
    of = document or {}
    hold, coil, supply, line, frame, poles, starts = (first_of(of, kind) for kind in KINDS)
    ohms = coil.get("at_reference_ohm") or {}
    return Plotted(
        pi=amount_of(hold.get("pi")),
        dar=amount_of(hold.get("dar")),
        ohms={pair: float(ohm) for pair, ohm in ohms.items() if ohm is not None},
        volts=supply.get("mean_v"),
        volts_unbalance=supply.get("unbalance_percent"),
        amps=line.get("mean_a"),
        amps_unbalance=line.get("unbalance_percent"),
        load=line.get("load_percent"),
        frame_c=frame.get("frame_temperature_c"),
        drops={line: float(volts) for line, volts in (poles.get("drops_v") or {}).items()},
        run_up_s=starts.get("run_up_s"),
    )
