"""The Job page's context: gate, spine, drawing, reading line."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any
from uuid import uuid4

from grimcoil.core.errors import AlreadyKept, GateClosed, Refusal
from grimcoil.core.fields import FIELDS, Field
from grimcoil.core.findings import Finding, Result, Verdict
from grimcoil.core.instruments import lamp_bands
from grimcoil.core.insulation.judge import rated_v
from grimcoil.core.insulation.voltage import advised
from grimcoil.core.people import Actor, Role
from grimcoil.core.plan.dial import dial_of
from grimcoil.core.plan.entries import NOT_READ, NOT_RECONNECTED, Entry
from grimcoil.core.plan.gates import live_words
from grimcoil.core.plan.live import Said, clocked
from grimcoil.core.plan.parts.dead import WARM
from grimcoil.core.plan.progress import StepState, Stop, asked, may_give_up, may_hold_again, stop_at, stop_of
from grimcoil.core.plan.steps import POWER, Act, Circuit, Input, Slot, Step
from grimcoil.core.stator.schemes import scheme_words
from grimcoil.draw.dial import dial
from grimcoil.service.bench import Bench
from grimcoil.service.bench_keys import CORRECTED
from grimcoil.web.views.drawing import Drawing, draw_bench, draw_stop, line_scales, where_words
from grimcoil.web.views.echo import Echo, kept_nothing, resting_echo
from grimcoil.web.views.gate import doubts, gate_words, local, worst_words
from grimcoil.web.views.putback import effects, other_places, otherwise, was_on


@dataclass(frozen=True, slots=True)
class KeptRow:
    """One slot of the step shown, with what was kept."""

    place: str
    label: str
    text: str
    verdict: str | None
    seq: int | None
    live: bool
    fixable: bool = False


@dataclass(frozen=True, slots=True)
class SpineRow:
    """One step of the spine."""

    key: str
    number: int
    title: str
    state: str
    note: str
    verdict: str
    because: str = ""


@dataclass(frozen=True)
class BenchView:
    """Everything `jobs/_bench.html` prints."""

    bench: Bench
    step: Step
    slot: Slot | None
    place: str
    token: str
    typed: str
    echo: Echo
    spine: Sequence[SpineRow]
    kept: Sequence[KeptRow]
    gate: tuple[str, str, str]
    drawing: Drawing
    scales: Sequence[str]
    changed: tuple[Entry, Said] | None
    answered: tuple[Entry, Said, str] | None
    last: Entry | None
    refusal: Refusal | None = None
    stop_place: str = ""
    flags: dict[str, bool] = field(default_factory=dict)
    before: Sequence[SpineRow] = ()
    all_sound: bool = False
    plate_words: str = ""
    hint: tuple[str, str] = ("", "")
    keep_word: str = "Save"
    overrule_word: str = "Go on"
    last_words: str = ""
    on_epoch: float = 0.0
    due_epoch: float = 0.0
    live: str = ""
    doubts: Sequence[str] = ()
    worst: str = ""
    off_place: str = ""
    stop: Stop | None = None
    give_up: bool = False
    again_key: str = ""
    stamped: str = ""
    others: Sequence[tuple[str, str]] = ()
    replaces: int | None = None
    lay: Sequence[tuple[str, str]] = ()
    bands: tuple[str, ...] = ()
    put_back: Sequence[Finding] = ()
    mind: str = ""
    dial: str = ""
    was_on: str = ""

    @property
    def wanted(self) -> list[tuple[str, str]]:
        """Each key test that is missing or proves nothing, in words, with its place in the plan where it has one."""
        stands = self.bench.whole.stands
        out = [(stands.place(need), stands.words(need)) for need in stands.missing]
        out += [(need.place, f"{need.words}, which proves nothing yet") for need in stands.unproven]
        open_now = asked(self.bench.state)
        return [(place if place in open_now else "", words) for place, words in out]

    @property
    def otherwise(self) -> list[tuple[str, str]]:
        """Place and number of each lead that lies otherwise than found, where that stops the step."""
        return otherwise(self.bench, self.step) if self.stop is not None and self.stop.gate == "put-back" else []

    @property
    def choices(self) -> list[str]:
        """What may be said in a few words, beside what a lead was found on."""
        return other_places(self.slot, self.was_on)

    @property
    def left_why(self) -> str:
        """Why something is left out of this job."""
        return next((one.why for one in self.bench.plan.left_out), "")

    @property
    def overruled(self) -> list[tuple[str, Entry]]:
        """Every reason given, with what it passed."""
        return [
            (f"{'Stop passed' if '!' in place else 'Skipped'}, {self.bench.plan.words(place)}", entry)
            for place, entry in self.bench.state.kept.overruled.items()
        ]

    def signs_words(self, photos: int) -> str:
        """What one puts one's name to."""
        job, rows = self.bench.job, self.bench.rows
        back, over = sum(row.taken_back_at is not None for row in rows), len(self.bench.state.kept.overruled)
        parts = [f"You sign {len(rows)} entries"]
        parts += [f"{back} of them undone"] if back else []
        parts += [f"{photos} photo{'s' * (photos != 1)}"] if photos else []
        parts += [f"{over} step{'s' * (over != 1)} or stop{'s' * (over != 1)} passed with a reason"] if over else []
        why = f": {job.decided_reason}" if job.decided_reason else ""
        why += f". Cause: {', '.join(job.root_causes)}; changed: {job.changed}" if job.root_causes else ""
        limits = f"judged by {self.bench.criteria.title}, version {self.bench.criteria.version}"
        end = "Nothing can be changed once signed; it can be amended."
        return f"Decided by {job.decided_by}{why}. {', '.join([*parts, limits])}. {end}"

    @property
    def field(self) -> Field | None:
        """The reading's field."""
        return FIELDS[self.slot.field] if self.slot and self.slot.field else None


def bench_view(
    bench: Bench, at: str = "", typed: str = "", refusal: Refusal | None = None, echo: Echo | None = None
) -> BenchView:
    """Build the view for the next place, or for the place or step asked for."""
    step, slot = _shown(bench, at)
    if isinstance(refusal, AlreadyKept):
        slot = None  # somebody else's value isn't opened to be typed over
    stop = _stop_at(bench, step, slot)
    if stop is not None:  # the stop stands instead of box and probes
        slot = None
    place = step.place(slot) if slot else step.key
    typed = typed or _opened(bench, at, place) or _suggested(bench, slot)
    scales = line_scales(bench, place, slot, typed)
    rows = spine(bench, step)
    before = [row for row in rows if row.state == "done" and row.number < step.number]
    hold = bench.state.safety.charged
    passed = _stop_place(refusal, place, step, bench)
    if stop is not None and stop.can_overrule:
        shown = _shown(bench, at)[1]
        passed = bench.state.step.key if stop.gate == "order" or shown is None else step.place(shown)
    return BenchView(
        bench=bench,
        step=step,
        slot=slot,
        place=place,
        token=str(uuid4()),
        typed=typed,
        echo=echo or (kept_nothing(refusal) if refusal else resting_echo(bench, slot)),
        spine=rows,
        before=before,
        all_sound=bool(before) and all(row.verdict == "sound" for row in before[:-1]),
        plate_words=_plate_words(bench),
        hint=_hint(bench, step, slot),
        keep_word=_keep_word(slot),
        overrule_word=f"Skip {bench.state.step.title}" if passed == bench.state.step.key else "Go on",
        stop=stop,
        give_up=may_give_up(bench.state),
        again_key=_again_key(bench, step),
        stamped=_stamped(bench, step, slot),
        others=_other_marks(bench, step, slot),
        replaces=_replaces(bench, at, step, slot),
        lay=_as_found(bench, step, slot),
        last_words=_last_words(bench, step),
        on_epoch=hold.on_at.timestamp() if hold else 0.0,
        due_epoch=hold.until.timestamp() if hold and hold.until else 0.0,
        kept=_kept(bench, step, slot),
        gate=gate_words(bench),
        drawing=draw_stop(bench) if stop is not None else draw_bench(bench, step, slot),
        scales=scales,
        changed=_changed(bench, step),
        answered=_answered(bench),
        last=_last(bench, step),
        refusal=refusal,
        stop_place=passed,
        flags=_flags(bench, step, slot),
        live=live_words(bench.state.situation),
        doubts=doubts(bench, slot),
        worst=worst_words(bench),
        off_place=_off_place(bench),
        bands=_bands(bench, slot),
        put_back=effects(bench, step),
        mind=_mind(step, slot),
        dial=_drawn_dial(step, slot),
        was_on=was_on(bench, step, slot),
    )


def _bands(bench: Bench, slot: Slot | None) -> tuple[str, ...]:
    """What the lamps of the job's tester can show at a mark of the hold."""
    if slot is None or slot.field != "insulation":
        return ()
    return next((lamp_bands(m.lamps) for m in bench.meters if m.function in slot.functions), ())


def _again_key(bench: Bench, step: Step) -> str:
    """The hold that may be made once more from here: that of the step shown, or of the discharge just read."""
    last = bench.last_entry
    before = None if last is None else bench.plan.step_of(last.place)
    holds = [s.hold for s in (step, before) if s is not None and s.hold]
    starts = (s.key for hold in holds for s in bench.plan.steps if s.hold == hold and s.does(Act.APPLY))
    return next((key for key in starts if may_hold_again(bench.state, key)), "")


def _stamped(bench: Bench, step: Step, slot: Slot | None) -> str:
    """The second that was taken for the mark that is asked, in words."""
    taken = None if slot is None else bench.state.kept.stamps.get(step.place(slot))
    return "" if taken is None or taken.held_s is None else clocked(taken.held_s)


def _other_marks(bench: Bench, step: Step, slot: Slot | None) -> list[tuple[str, str]]:
    """Marks that nobody waits for, each with its place: who has their value gives it."""
    if bench.state.safety.on_test is None:
        return []
    marks = ((step.place(each), each) for each in step.slots if each.mark_s is not None and each.optional)
    kept = bench.state.kept.standing
    return [(place, each.label) for place, each in marks if place not in kept and each is not slot]


def _as_found(bench: Bench, step: Step, slot: Slot | None) -> list[tuple[str, str]]:
    """What each lead was on when it was lifted here, beside what puts it back."""
    if slot is None or slot.act is not Act.JOIN:
        return []
    kept = bench.state.kept.standing
    here = [s for s in bench.plan.steps if s.name == "as_found" and s.suffix == step.suffix]
    slots = ((each.label, kept.get(s.place(each))) for s in here for each in s.slots)
    return [(label, entry.text) for label, entry in slots if entry is not None and entry.text != NOT_READ]


def _replaces(bench: Bench, at: str, step: Step, slot: Slot | None) -> int | None:
    """The entry that what is typed now takes the place of, where a kept value was opened."""
    if slot is None or at != step.place(slot):
        return None
    standing = bench.state.kept.standing.get(at)
    return None if standing is None else standing.seq


def _off_place(bench: Bench) -> str:
    """Where the test voltage that is on comes off."""
    on = bench.state.safety.on_test
    ending = bench.plan.doing(Act.REMOVE, Act.REMOVE_AND_SHORT)
    return next((place for place, step, _ in ending if on is not None and step.hold == on.name), "")


def _plate_words(bench: Bench) -> str:
    volts = "/".join(f"{v:g}" for v in bench.subject.plate.rated_voltage_v)
    parts = [bench.on.named.power_text, f"{volts} V" if volts else "", scheme_words(bench.subject.winding.lead_scheme)]
    return ", ".join(part for part in parts if part)


def _hint(bench: Bench, step: Step, slot: Slot | None) -> tuple[str, str]:
    """With which tool, and what to expect or where."""
    expected = bench.expected_ohm(slot) if slot and step.kind == "winding_resistance" else None
    spot = "At the motor" if slot is not None and slot.input is Input.TAG else where_words(step) if step.where else ""
    where = f"Expect about {expected:.4g} Ω." if expected else f"{spot}." if spot else ""
    held = dial_of(step, slot) if slot is not None and slot.input is Input.READING else None
    set_to = f" {held.words}." if held is not None and step.tool else ""
    return f"{step.tool}{':' if set_to else '.'}{set_to}" if step.tool else "", where


def _drawn_dial(step: Step, slot: Slot | None) -> str:
    """The meter as it is set for this, drawn."""
    set_to = dial_of(step, slot) if slot is not None and slot.input is Input.READING and step.tool else None
    return "" if set_to is None else dial(set_to)


def _mind(step: Step, slot: Slot | None) -> str:
    """What the hands mind while this is read."""
    held = dial_of(step, slot) if slot is not None and slot.input is Input.READING else None
    return held.mind if held is not None else ""


def _keep_word(slot: Slot | None) -> str:
    """The large key: what the hand does, where that ends a test voltage."""
    if slot is None or slot.input is not Input.CONFIRM:
        return "Save"
    return slot.label if slot.act is Act.REMOVE else "Done"


def _last(bench: Bench, step: Step) -> Entry | None:
    """The last entry of the step shown that isn't taken back; of the job where this step has none yet."""
    standing = [e for e in bench.state.kept.entries if not e.taken_back]
    here = [e for e in standing if bench.plan.step_of(e.place) is step]
    found = here or standing
    return found[-1] if found else None


def _answered(bench: Bench) -> tuple[Entry, Said, str] | None:
    """What the entry kept last did to the verdict, with its place in words: whatever step comes next."""
    last = bench.last_entry
    said = None if last is None else bench.said_of(last)
    return None if last is None or said is None else (last, said, bench.plan.words(last.place))


def _last_words(bench: Bench, step: Step) -> str:
    """The value that a tap on Take back takes."""
    last = _last(bench, step)
    if last is None:
        return ""
    words = "done" if last.text == "confirmed" else last.text
    return words if len(words) <= LONGEST_ON_KEY else words[: LONGEST_ON_KEY - 1] + "…"


def _shown(bench: Bench, at: str) -> tuple[Step, Slot | None]:
    places, steps = bench.plan.places, bench.plan.by_key
    if bench.state.safety.live is not None:
        return bench.plan.at(bench.state.safety.live.place)[0], None
    if at in places:
        step, slot = places[at]
        shut = slot.act not in CORRECTED or bench.state.signed or stop_of(bench.state, at) is not None
        fixed = at in bench.state.kept.standing and shut
        return step, None if fixed else slot
    if at in steps and at != bench.state.step.key:
        return steps[at], _open_slot(bench, steps[at])
    return bench.state.step, bench.state.slot


def _stop_at(bench: Bench, step: Step, slot: Slot | None) -> Stop | None:
    """What stands at a step instead of its entry; doubts about giving a motor back have a panel of their own."""
    if slot is None or bench.state.signed or bench.state.safety.live is not None:
        return None
    found = stop_of(bench.state, step.place(slot))
    return None if found is None or found.gate in ("dead-tests", "left-out") else found


def _open_slot(bench: Bench, step: Step) -> Slot | None:
    """The first slot of a step without an entry; none once the hold is over."""
    hold = bench.state.safety.holds.get(step.hold)
    if step.does(Act.APPLY) and hold is not None and hold.off_at is not None:
        return None
    kept = bench.state.kept.standing
    return next((s for s in step.slots if step.place(s) not in kept), None)


LONGEST_ON_KEY = 14


def _opened(bench: Bench, at: str, place: str) -> str:
    """The text of a kept value that was opened."""
    standing = bench.state.kept.standing.get(place) if at == place else None
    return "" if standing is None or standing.text == "confirmed" else standing.text


def _suggested(bench: Bench, slot: Slot | None) -> str:
    if slot is not None and slot.part == "volts":
        meter = next((m for m in bench.meters if m.function == "insulation"), None)
        own = advised(rated_v(bench.subject) or 0.0, bench.criteria.test_voltage_school)
        return f"{meter.test_voltage_v:g}" if meter and meter.test_voltage_v else f"{own.low_v:g}"
    return slot.suggest if slot else ""


def _flags(bench: Bench, step: Step, slot: Slot | None) -> dict[str, bool]:
    over = bool(slot and slot.field and FIELDS[slot.field].over_range and slot.part != "lead_resistance")
    on_test = bench.state.safety.on_test is not None
    return {
        "over_range": over and not _bands(bench, slot) and not (slot is not None and slot.key.endswith("shorted")),
        "optional": bool(slot and slot.optional and slot.mark_s is None),
        "confirm": bool(slot and slot.input is Input.CONFIRM),
        "lock": bool(slot and slot.act is Act.LOCK and slot.input is Input.CONFIRM),
        "choice": bool(slot and slot.input is Input.CHOICE),
        "wordy": bool(slot and slot.input in (Input.WORDS, Input.TAG)),
        "hold": on_test,
        "shorted": bench.state.discharge_left_s is not None,
        "counting": bool(slot and slot.act is Act.RESIDUAL and bench.state.discharge_left_s),
        "joins": bool(slot and slot.act is Act.JOIN),
        "can_skip": bool(step.slots) and _may_skip(bench, step) and not on_test,
        "here": step.key == bench.state.step.key,
        "live_work": step.circuit is Circuit.LIVE and step.does(*POWER),
    }


def _may_skip(bench: Bench, step: Step) -> bool:
    return not step.hard and not step.does(Act.LOCK) and bench.state.safety.live is None


def stands_by(actor: Actor, step: Step) -> str:
    """Who stands by an apprentice at live work."""
    live = step.circuit is Circuit.LIVE and step.does(*POWER)
    return actor.under if live and actor.role is Role.APPRENTICE else ""


def _stop_place(refusal: Refusal | None, place: str, step: Step, bench: Bench) -> str:
    """What a typed reason would pass: the stop at this place, or the step that isn't finished."""
    if not isinstance(refusal, GateClosed) or not refusal.can_overrule:
        return ""
    if place in bench.plan.places and stop_at(bench.state, place):
        return place
    return place if step.key == bench.state.step.key else bench.state.step.key


def spine(bench: Bench, shown: Step) -> list[SpineRow]:
    """All steps with their state."""
    rows = []
    for step in bench.plan.steps:
        state = bench.state.standings[step.key]
        over = (StepState.DONE, StepState.SKIPPED)
        css = "now" if step.key == shown.key else "done" if state in over else "todo"
        rows.append(
            SpineRow(
                step.key,
                step.number,
                step.title,
                css,
                _note(bench, step, state),
                _mark(bench, step, state),
                bench.state.situation.stops.get(step.key, "") if state is StepState.STOPPED else step.because,
            )
        )
    left = [one.stays_unproven for one in bench.plan.left_out]
    return rows + [SpineRow("", 0, words.capitalize(), "out", "left out", "unproven") for words in left]


def _mark(bench: Bench, step: Step, state: StepState) -> str:
    """A ring stands only for what was judged."""
    if state is StepState.SKIPPED:
        return "unproven" if step.key in bench.state.kept.overruled else ""
    if step.does(Act.POINT_DEAD) and bench.state.safety.proved_at is not None:
        return Verdict.SOUND.value
    result: Result | None = bench.typed.result(step)
    if result is None:
        return ""
    failed = result.verdict is Verdict.ACT
    return result.verdict.value if state is StepState.DONE or failed else ""


def _note(bench: Bench, step: Step, state: StepState) -> str:
    """A word at the right of the spine."""
    if state is StepState.SKIPPED:
        if step.key in bench.state.kept.overruled:
            return "skipped"
        return "not reconnected" if NOT_RECONNECTED in bench.state.kept.standing else "not needed"
    if state is StepState.STOPPED:
        return "stopped"
    warm = next((step.place(slot) for slot in step.slots if slot.part == WARM), "")
    if warm in bench.state.kept.standing:
        text = bench.state.kept.standing[warm].text
        return f"{text} °C" if "°" not in text and "F" not in text else text
    if step.does(Act.POINT_DEAD) and bench.state.safety.proved_at:
        return local(bench, bench.state.safety.proved_at).strftime("%H:%M")
    if step.does(Act.APPLY) and state is StepState.TO_DO:
        return "1 min"
    read = sum(bool(slot.part) for slot in step.slots)
    return f"{read} readings" if step.kind and state is StepState.TO_DO and read > 1 else ""


def _kept(bench: Bench, step: Step, slot: Slot | None) -> list[KeptRow]:
    rows = []
    for each in step.slots:
        place = step.place(each)
        entry = bench.state.kept.standing.get(place)
        said = bench.said_of(entry) if entry else None
        live = slot is not None and each.key == slot.key
        if each.mark_s is not None and each.optional and entry is None and not live:
            continue  # a mark that nobody waits for
        text = "done" if entry and each.input is Input.CONFIRM else entry.text if entry else ""
        verdict = said.verdict.value if said else None
        seq = entry.seq if entry else None
        fixable = each.act in CORRECTED and each.input is not Input.CONFIRM
        rows.append(KeptRow(place, each.label, text, verdict, seq, live, fixable))
    return rows


def _changed(bench: Bench, step: Step) -> tuple[Entry, Said] | None:
    """The last entry of the step shown that did something to a verdict: no line is left from the step before."""
    for entry in reversed(bench.state.kept.entries):
        here = bench.plan.step_of(entry.place) is step and bench.state.kept.standing.get(entry.place) is entry
        if here and (said := bench.said_of(entry)) is not None:
            return entry, said
    return None


def base_context(bench: Bench) -> dict[str, Any]:
    """What the page round the bench needs."""
    return {"place": "job", "own": bench.job.id, "follow": [f for f in bench.follow if f[0] != bench.job.id]}
