"""Every side sheet by its name in the open format, with what it is made of and who judges it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from grimcoil.core.findings import Result
from grimcoil.core.side import parts, single_phase, starting, wear

SIDE_KINDS: dict[str, tuple[type, Callable[[Any], Result]]] = {
    "single_phase": (single_phase.SinglePhaseTest, single_phase.judge_single_phase),
    "capacitor_ohms": (single_phase.CapacitorOhmsTest, single_phase.judge_capacitor_ohms),
    "centrifugal_switch": (single_phase.CentrifugalSwitchTest, single_phase.judge_centrifugal_switch),
    "rotation": (single_phase.RotationTest, single_phase.judge_rotation),
    "brushes": (wear.BrushesTest, wear.judge_brushes),
    "grease": (wear.GreaseTest, wear.judge_grease),
    "brake_disc": (wear.BrakeDiscTest, wear.judge_brake_disc),
    "capacitor_replaced": (parts.CapacitorReplacedTest, parts.judge_capacitor_replaced),
    "brake_gap": (parts.BrakeGapTest, parts.judge_brake_gap),
    "overhaul": (parts.OverhaulTest, parts.judge_overhaul),
    "brush_holders": (parts.BrushHoldersTest, parts.judge_brush_holders),
    "star_delta": (starting.StarDeltaTest, starting.judge_star_delta),
    "autotransformer": (starting.AutotransformerTest, starting.judge_autotransformer),
    "starts": (starting.StartsTest, starting.judge_starts),
    "surge": (wear.SurgeTest, wear.judge_surge),
    "vibration": (wear.VibrationTest, wear.judge_vibration),
    "observation": (wear.ObservationTest, wear.judge_observation),
}
SideTest = (
    single_phase.SinglePhaseTest
    | single_phase.CapacitorOhmsTest
    | single_phase.CentrifugalSwitchTest
    | single_phase.RotationTest
    | wear.BrushesTest
    | wear.GreaseTest
    | wear.BrakeDiscTest
    | parts.CapacitorReplacedTest
    | parts.BrakeGapTest
    | parts.OverhaulTest
    | parts.BrushHoldersTest
    | starting.StarDeltaTest
    | starting.AutotransformerTest
    | starting.StartsTest
    | wear.SurgeTest
    | wear.VibrationTest
    | wear.ObservationTest
)
