"""The drawing that follows the step, wide and for a phone, and the scale of the reading line."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.errors import Refusal
from grimcoil.core.fields import FIELDS
from grimcoil.core.insulation.hold import DISCHARGE_TIMES
from grimcoil.core.insulation.judge import InsulationResult
from grimcoil.core.procedure.gates import applied_s
from grimcoil.core.procedure.judging import pi_target_mohm
from grimcoil.core.procedure.steps import Slot, Step
from grimcoil.core.readings import parse_reading
from grimcoil.core.stator.connect import Wiring
from grimcoil.draw.box import PHONE, WIDE, motor_box
from grimcoil.draw.curve import Curve, insulation_curve
from grimcoil.draw.joints import placed
from grimcoil.draw.panel import Mark, Marks, one_line_plate, winding_plate
from grimcoil.draw.scale import reading_scale, time_scale
from grimcoil.draw.svg import figure, text
from grimcoil.service.bench import Bench
from grimcoil.web.views.connection import draw_coils

WINDING_STEPS = ("winding_resistance", "instrument_check", "temperature")
LINE_STEPS = ("isolate", "prove_dead", "supply_voltage", "line_current")


@dataclass(frozen=True, slots=True)
class Drawing:
    """SVG texts: wide, and for a phone the box and the circuit to switch between (circuit may be empty)."""

    wide: str
    phone_box: str
    phone_circuit: str
    cables: bool = False


def draw_bench(bench: Bench, step: Step, slot: Slot | None) -> Drawing:
    """The drawing of a step; empty where evidence stands instead."""
    if step.key in ("decision", "sign"):
        return Drawing("", "", "")
    if step.key == "insulation" and ("insulation.on" in bench.state.kept.standing):
        return _curve_drawing(bench)
    labels = ("L1", "L2", "L3") if step.key in LINE_STEPS else ("1", "2", "3")
    ends = slot.ends if slot else ()
    clamp = ends[0] if step.key == "line_current" and ends else ""
    probes = () if clamp or step.key == "as_found" else ends
    said = _caption(step, slot)
    label = f"Open motor box, three leads. {said}"
    plate = _plate(bench, step, slot, 540, 6)
    foot = text(540, 402, said, "caph") + text(540, 430, step.where, "foot-note")
    box = motor_box(WIDE, labels, probes, clamp)
    wide = figure(WIDE.width, WIDE.height, label, box + plate + foot, "only-wide", "xMinYMax meet")
    small = figure(
        PHONE.width, PHONE.height, label, motor_box(PHONE, labels, probes, clamp), "only-phone boxes", "xMidYMax meet"
    )
    circuit = figure(
        340, 372, f"Circuit. {said}", _plate(bench, step, slot, 6, 6), "only-phone circuit", "xMidYMid meet"
    )
    return Drawing(wide, small, circuit, cables=len(probes) == 2)


def _caption(step: Step, slot: Slot | None) -> str:
    if slot is None:
        return step.title
    if step.key == "winding_resistance":
        return f"{slot.label}: through the winding"
    return slot.label


def _plate(bench: Bench, step: Step, slot: Slot | None, x: float, y: float) -> str:
    if step.key == "reconnect" and (drawn := _joined(bench)):
        return placed(drawn, x, y, 328, 360)
    if step.key in LINE_STEPS or step.key == "reconnect":
        stage = "closed" if bench.state.gates.energised else "open"
        return one_line_plate(x, y, stage, _marks(bench, step, slot))
    connection = bench.subject.winding.internal_connection
    marks = _marks(bench, step, slot) if step.key == "winding_resistance" else _kept_ohms(bench)
    live = slot.ends if slot and step.key == "winding_resistance" else ()
    return winding_plate(x, y, connection, marks, live)


def _joined(bench: Bench) -> str:
    """The coils as the supply will drive them, where the scheme is on record."""
    at = bench.reconnection
    if at is None or at.supply is None or at.scheme is None or at.connection is None:
        return ""
    wiring = Wiring(at.connection.lines, at.connection.joined)
    return draw_coils(at.scheme, wiring, at.supply, at.result, ())


def _marks(bench: Bench, step: Step, slot: Slot | None) -> Marks:
    out = {}
    for each in step.slots:
        entry = bench.state.kept.standing.get(f"{step.key}.{each.key}")
        if entry is not None and entry.reading is not None and each.ends and each.key not in ("before", "after"):
            out[each.key] = Mark(entry.text)
        elif slot is not None and each.key == slot.key and len(each.ends) and each.key not in ("before", "after"):
            out[each.key] = Mark("now", live=True)
    return tuple(out.items())


def _kept_ohms(bench: Bench) -> Marks:
    kept = bench.state.kept.standing
    return tuple(
        (place.partition(".")[2], Mark(entry.text))
        for place, entry in kept.items()
        if place.startswith("winding_resistance.")
    )


def _curve_drawing(bench: Bench) -> Drawing:
    curve = curve_of(bench)
    label = "Insulation resistance against time"
    wide = figure(872, 480, label, insulation_curve(curve, 872, 480), "only-wide", "xMinYMin meet")
    small = figure(374, 216, label, insulation_curve(curve, 374, 216, small=True), "only-phone", "xMidYMid meet")
    return Drawing(wide, small, "")


def curve_of(bench: Bench) -> Curve:
    """The live curve from what was kept."""
    whole = bench.whole
    result: InsulationResult | None = whole.insulation[0] if whole.insulation else None
    scale = bench.slot_scale("insulation.60", None)
    here = scale.bands[-1].low if scale else 5.0
    warm = bench.state.kept.figure("temperature.winding")
    words = f"Minimum at 40 °C is {here:.3g} MΩ here" + (f" at {warm:g} °C" if warm is not None else "")
    return Curve(
        points=_curve_points(bench),
        minimum_here_mohm=here,
        minimum_words=words,
        pi_target_mohm=pi_target_mohm(result, bench.criteria),
        pi_least=bench.criteria.pi_minimum.value,
        hold_s=bench.state.hold_s,
    )


def _curve_points(bench: Bench) -> list[tuple[float, Amount]]:
    points: list[tuple[float, Amount]] = []
    top = next((m.top for m in bench.meters if m.function == "insulation"), None)
    for key in ("30", "60", "600"):
        reading = bench.state.kept.reading(f"insulation.{key}")
        if reading is not None:
            points.append((float(key), reading.with_top(top).amount.scaled(1e-6)))
    return points


def line_scales(bench: Bench, place: str, slot: Slot | None, typed: str) -> list[str]:
    """The scale for both widths; hold and discharge have a scale of time."""
    state = bench.state
    if state.gates.voltage_is_on and place != "insulation.volts" and not typed:
        return _time_scales(state.hold_s, None, 60.0 if "insulation.60" not in state.kept.standing else 600.0)
    if state.discharge_left_s is not None and place == "discharge.volts" and state.discharge_left_s > 0:
        return _discharge_scales(bench)
    if slot is None or not slot.field:
        return []
    field = FIELDS[slot.field]
    value = _typed_value(typed, slot)
    scale = bench.slot_scale(place, value)
    if scale is None:
        return []
    shown = None if value is None else value / (field.home_factor if field.home else 1)
    return [reading_scale(scale, 1280, shown, "only-wide"), reading_scale(scale, 390, shown, "only-phone")]


def _typed_value(typed: str, slot: Slot) -> float | None:
    if not typed:
        return None
    try:
        amount = parse_reading(typed, FIELDS[slot.field]).amount
    except Refusal:
        return None
    return None if amount.bound is Bound.NOTHING else amount.value


def _time_scales(hold_s: float | None, discharge: float | None, hold_total: float) -> list[str]:
    total = DISCHARGE_TIMES * hold_total
    return [
        time_scale(hold_s, discharge, total, hold_total, width, css)
        for width, css in ((1280.0, "only-wide"), (390.0, "only-phone"))
    ]


def _discharge_scales(bench: Bench) -> list[str]:
    at, left = bench.state.gates, bench.state.discharge_left_s or 0.0
    if at.short_from is None or at.voltage_on_at is None:
        return []
    on = next(e for e in bench.state.kept.entries if e.place == "insulation.on")
    held = applied_s(bench.state.kept, on, bench.state.kept.standing["discharge.off"])
    return _time_scales(None, DISCHARGE_TIMES * held - left, held)
