"""The drawing that follows the step, wide and for a phone, and the scale of the reading line."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.choices import SourceKind
from grimcoil.core.errors import Refusal
from grimcoil.core.fields import FIELDS
from grimcoil.core.insulation.hold import DISCHARGE_TIMES
from grimcoil.core.insulation.judge import InsulationResult
from grimcoil.core.insulation.ratios import index_wanted
from grimcoil.core.limits import reaches
from grimcoil.core.plan.entries import Entry
from grimcoil.core.plan.live import minimum_here, pi_target_mohm
from grimcoil.core.plan.parts.dead import WARM
from grimcoil.core.plan.parts.holds import MARKS_S, MINUTE_S
from grimcoil.core.plan.parts.live import FIRST, ROLLS
from grimcoil.core.plan.putback import left_on
from grimcoil.core.plan.record import part_of, timed
from grimcoil.core.plan.steps import PROOF, Act, Circuit, Slot, Step, Where
from grimcoil.core.points import groups_of
from grimcoil.core.readings import Shown, parse_reading
from grimcoil.core.stator.connect import Wiring
from grimcoil.draw.box import PHONE, WIDE, motor_box
from grimcoil.draw.curve import Curve, insulation_curve
from grimcoil.draw.joints import PHASE_COLOURS, placed
from grimcoil.draw.panel import Mark, Marks, Row, one_line_plate, rows_plate, winding_plate
from grimcoil.draw.rolls import Pairs, roll_plate
from grimcoil.draw.scale import reading_scale, time_scale
from grimcoil.draw.svg import figure, text
from grimcoil.service.bench import Bench
from grimcoil.web.views.connection import draw_coils

NUMBERS = {3: "three", 6: "six", 9: "nine", 12: "twelve"}
WHERE = {
    Where.STARTER: "Starter, load side", Where.DISCONNECT: "Disconnect and starter", Where.BOX: "Motor box",
    Where.CABLE: "Cable, both ends", Where.SHAFT: "Shaft and box",
}  # fmt: skip


SPOTS = {
    Where.STARTER: "starter", Where.DISCONNECT: "disconnect", Where.BOX: "motor box", Where.CABLE: "cable",
    Where.SHAFT: "shaft",
}  # fmt: skip


def spot_words(step: Step) -> str:
    """The same in a word, for a list."""
    return next((words for where, words in SPOTS.items() if where == step.where), "")


def where_words(step: Step) -> str:
    """Where it is done; plans of the first versions say it in words themselves."""
    return next((words for where, words in WHERE.items() if where == step.where), step.where)


def _on_lines(step: Step) -> bool:
    """Drawn as the circuit's one line: what is done at the starter."""
    return step.circuit is Circuit.LIVE or step.does(*PROOF)


@dataclass(frozen=True, slots=True)
class Drawing:
    """SVG texts: wide, and for a phone the box and the circuit to switch between (circuit may be empty); circuit_first:
    what the step is about is in the circuit.
    """

    wide: str
    phone_box: str
    phone_circuit: str
    cables: bool = False
    circuit_first: bool = False


def draw_bench(bench: Bench, step: Step, slot: Slot | None) -> Drawing:
    """The drawing of a step; empty where evidence stands instead."""
    if not step.slots:
        return Drawing("", "", "")
    on = bench.state.safety.on_test
    if step.does(Act.APPLY) and step.hold in bench.state.safety.holds:
        return _curve_drawing(bench, step)
    if on is not None and step.hold == on.name:  # the curve goes on until the voltage is off
        return _curve_drawing(bench, next(s for s in bench.plan.steps if s.hold == on.name and s.does(Act.APPLY)))
    labels = ("L1", "L2", "L3") if _on_lines(step) else _leads(bench)
    ends = slot.ends if slot and bench.state.safety.live is None else ()
    clamp = ends[0] if slot is not None and slot.field == "current" and ends else ""
    strap = slot is not None and (slot.act is Act.SHORT or (bench.state.safety.charged is not None and _shorted(bench)))
    probes = () if clamp or (slot is not None and slot.act in (Act.LIFT, Act.PUT_BACK, Act.SHORT)) else ends
    said = _caption(step, slot)
    label = f"Open motor box, {NUMBERS.get(len(labels), str(len(labels)))} leads. {said}"
    plate = _plate(bench, step, slot, 540, 6)
    foot = text(540, 402, said, "caph") + text(540, 430, where_words(step), "foot-note")
    marked = () if _on_lines(step) else _marked(bench, step)
    lit = ends[0] if slot is not None and slot.act in (Act.LIFT, Act.PUT_BACK) and ends else ""
    box = motor_box(WIDE, labels, probes, clamp, strap, marked, lit)
    wide = figure(WIDE.width, WIDE.height, label, box + plate + foot, "only-wide", "xMinYMax meet")
    small = figure(
        PHONE.width,
        PHONE.height,
        label,
        motor_box(PHONE, labels, probes, clamp, strap, marked, lit),
        "only-phone boxes",
        "xMidYMax meet",
    )
    circuit = figure(
        340, 372, f"Circuit. {said}", _plate(bench, step, slot, 6, 6), "only-phone circuit", "xMidYMid meet"
    )
    return Drawing(wide, small, circuit, len(probes) == 2, _is_shift(step) or (_joins(step) and not lit))


def _marked(bench: Bench, step: Step) -> tuple[tuple[str, str, str], ...]:
    """The leads as they are marked in this box: name, and the fill of a colour that can be drawn. While they are put
    back, what each is on by now stands there instead.
    """
    winding = bench.subject.winding
    names = left_on(bench.state.kept, step) if step.does(Act.PUT_BACK) else winding.lead_names
    return tuple(
        (lead, names.get(lead, ""), PHASE_COLOURS.get(winding.lead_colours.get(lead, "").casefold(), ""))
        for lead in _leads(bench)
    )


def _shorted(bench: Bench) -> bool:
    hold = bench.state.safety.charged
    return hold is not None and hold.short_at is not None


def _caption(step: Step, slot: Slot | None) -> str:
    if slot is None:
        return step.title
    if step.kind == "winding_resistance":
        return f"{slot.label}: through the winding"
    return slot.label


def _plate(bench: Bench, step: Step, slot: Slot | None, x: float, y: float) -> str:
    if _is_shift(step):
        return roll_plate(x, y, *_rolled(step.suffix), bench.about.phase_colours)
    joins = _joins(step)
    if joins and (drawn := _joined(bench)):
        return placed(drawn, x, y, 328, 360)
    if _on_lines(step) or joins:
        return one_line_plate(x, y, _stage(bench), _marks(bench, step, slot))
    ohms = step.kind == "winding_resistance"
    if step.kind in HOLDS or step.does(Act.RESIDUAL):
        return rows_plate(x, y, _kept_apart(bench, step, slot))
    if len(_leads(bench)) > 3:
        return rows_plate(x, y, _coils(bench, step if ohms else None, slot))
    connection = bench.subject.winding.internal_connection
    marks = _marks(bench, step, slot) if ohms else _kept_ohms(bench)
    live = slot.ends if slot and ohms else ()
    return winding_plate(x, y, connection, marks, live)


def _stage(bench: Bench) -> str:
    at = bench.state.safety
    return "closed" if at.energised or at.live is not None or not at.locked else "open"


def draw_stop(bench: Bench) -> Drawing:
    """The circuit as it stands, with nothing to do at it: for a step that may not begin yet."""
    drawn = one_line_plate(6, 6, _stage(bench), ())
    said = f"Circuit, disconnect {_stage(bench)}"
    wide, small = (figure(340, 372, said, drawn, css, "xMidYMid meet") for css in ("only-wide", "only-phone boxes"))
    return Drawing(wide, small, "")


def _is_shift(step: Step) -> bool:
    return step.name == "lead_roll" and step.circuit is Circuit.DEAD


def _joins(step: Step) -> bool:
    return step.does(Act.JOIN, Act.CHECK_JOINING) or step.name == "connection"


def _rolled(suffix: str) -> tuple[Pairs, Pairs]:
    """Lead by line after a roll, and before it."""
    order = [FIRST, *ROLLS.values()]
    at = list(ROLLS).index(suffix)
    return tuple(order[at + 1].items()), tuple(order[at].items())


HOLDS = ("insulation", "winding_to_winding")
SOURCES = frozenset(kind.value for kind in SourceKind)


def _leads(bench: Bench) -> tuple[str, ...]:
    """The leads in the box; three where nobody knows them yet."""
    leads = {lead for group in groups_of(bench.subject.winding.lead_scheme) for lead in group}
    return tuple(sorted(leads or {"1", "2", "3"}, key=lambda lead: (len(lead), lead)))


def _coils(bench: Bench, step: Step | None, slot: Slot | None) -> tuple[Row, ...]:
    """Each pair whose ohms are asked, with what it read: of this step, else of the last one that has any."""
    asked = [s for s in bench.plan.steps if s.kind == "winding_resistance"]
    shown = step or next((s for s in reversed(asked) if _begun(bench, s)), asked[0] if asked else None)
    if shown is None:
        return ()
    marks = dict(_marks(bench, shown, slot if step is not None else None))
    return tuple(Row(one.ends[0], one.ends[1], marks.get(one.key)) for one in shown.slots)


def _begun(bench: Bench, step: Step) -> bool:
    return any(step.place(slot) in bench.state.kept.standing for slot in step.slots)


def _kept_apart(bench: Bench, step: Step, slot: Slot | None) -> tuple[Row, ...]:
    """Every hold at this place, with its value at one minute where it was kept."""
    kept, out = bench.state.kept.standing, []
    for each in bench.plan.steps:
        if each.kind not in HOLDS or each.suffix != step.suffix:
            continue
        mark = next(one for one in each.slots if one.act is Act.MARK and one.mark_s == 60)
        entry = kept.get(each.place(mark))
        value = Mark(entry.text) if entry is not None else None
        if each.hold == step.hold and value is None and slot is not None:
            value = Mark("now", live=True)
        near, far = (end.replace("+", "-") for end in mark.ends)
        out.append(Row(near, far, value, hatched=True))
    return tuple(out)


def _joined(bench: Bench) -> str:
    """The coils as the supply will drive them, where the scheme is on record."""
    at = bench.reconnection
    if at is None or at.supply is None or at.scheme is None or at.connection is None:
        return ""
    wiring = Wiring(at.connection.lines, at.connection.joined)
    return draw_coils(at.scheme, wiring, at.supply, at.result, bench.about.phase_colours)


def _marks(bench: Bench, step: Step, slot: Slot | None) -> Marks:
    out = {}
    for each in step.slots:
        entry = bench.state.kept.standing.get(step.place(each))
        if not each.ends or each.act in (Act.PROVE_TESTER, Act.LIFT, Act.PUT_BACK, Act.LOCK):
            continue
        name = each.key.replace("-", " ") if each.ends[0] in SOURCES else each.key
        if entry is not None and entry.reading is not None:
            out[name] = _as_read(bench, each, entry)
        elif slot is not None and each.key == slot.key:
            out[name] = Mark("now", live=True)
    return tuple(out.items())


def _as_read(bench: Bench, slot: Slot, entry: Entry) -> Mark:
    """A kept value; an open winding as such."""
    limit = bench.criteria.open_above_ohm.value
    reading = entry.reading if slot.field == "winding" else None
    opened = reading is not None and (reading.shown is Shown.OVER_RANGE or reaches(reading.amount.low, limit))
    return Mark(entry.text, open=opened)


def _kept_ohms(bench: Bench) -> Marks:
    kept = bench.state.kept.standing
    return tuple(
        (slot.part, _as_read(bench, slot, kept[place]))
        for place, (step, slot) in bench.plan.places.items()
        if step.kind == "winding_resistance" and place in kept
    )


def _curve_drawing(bench: Bench, step: Step) -> Drawing:
    curve = curve_of(bench, step)
    label = "Insulation resistance against time"
    wide = figure(872, 480, label, insulation_curve(curve, 872, 480), "only-wide", "xMinYMin meet")
    small = figure(374, 216, label, insulation_curve(curve, 374, 216, small=True), "only-phone", "xMidYMid meet")
    return Drawing(wide, small, "")


def curve_of(bench: Bench, step: Step) -> Curve:
    """The live curve from what was kept."""
    result: InsulationResult | None = bench.typed.result(step)
    here = minimum_here(bench.typed)
    warm = part_of(bench.plan, bench.state.kept, WARM)
    words = f"Minimum at 40 °C is {here:.3g} MΩ here" + (f" at {warm:g} °C" if warm is not None else "")
    return Curve(
        points=_curve_points(bench, step),
        minimum_here_mohm=here,
        minimum_words=words,
        pi_target_mohm=pi_target_mohm(result, bench.subject),
        pi_least=index_wanted(bench.subject.plate.insulation_class, bench.criteria),
        hold_s=bench.state.hold_s,
    )


def _curve_points(bench: Bench, step: Step) -> list[tuple[float, Amount]]:
    top = next((m.top for m in bench.meters if m.function == "insulation"), None)
    series = timed(bench.plan, bench.state.kept, step)
    return [(point.t_s, point.reading.with_top(top).amount.scaled(1e-6)) for point in series]


def line_scales(bench: Bench, place: str, slot: Slot | None, typed: str) -> list[str]:
    """The scale for both widths; hold and discharge have a scale of time."""
    state = bench.state
    if state.safety.live is not None:
        return []
    if state.safety.on_test is not None and not typed:
        minute = any(m.mark_s == MINUTE_S and _ahead(bench, p, s) for p, s, m in bench.plan.doing(Act.MARK))
        return _time_scales(state.hold_s, None, MINUTE_S if minute else MARKS_S[-1])
    if slot is not None and slot.act is Act.RESIDUAL and state.discharge_left_s:
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


def _ahead(bench: Bench, place: str, step: Step) -> bool:
    """A mark of the running hold that has no value yet."""
    on = bench.state.safety.on_test
    return on is not None and step.hold == on.name and place not in bench.state.kept.standing


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
    hold, left = bench.state.safety.charged, bench.state.discharge_left_s or 0.0
    if hold is None or hold.short_at is None:
        return []
    return _time_scales(None, DISCHARGE_TIMES * hold.applied_s - left, hold.applied_s)
