"""No order of entries, take-backs, repeats and clock jumps opens a winding step without a standing proof."""

from dataclasses import replace
from datetime import timedelta

from hypothesis import given, settings
from hypothesis import strategies as st

from grimcoil.core.choices import LeadScheme, Occasion, School
from grimcoil.core.decision.standing import Standing
from grimcoil.core.errors import GateClosed
from grimcoil.core.plan.brief import LEAD_ROLL, Brief
from grimcoil.core.plan.entries import BEGIN_AGAIN, NOT_RECONNECTED, EntryKind
from grimcoil.core.plan.gates import leads_power
from grimcoil.core.plan.parts import alone, dead, holds, live, safe
from grimcoil.core.plan.progress import (
    StepState,
    asked,
    check_begin_again,
    check_not_reconnected,
    check_place,
    progress,
    situation,
    stop_of,
)
from grimcoil.core.plan.recipes import build, numbered
from grimcoil.core.plan.steps import MOVED, Act, Circuit, Input, Plan
from tests.core.plan.given import BAD, WORKS
from tests.support import NOW, TO_HOLD, entries, entry

ENDING = {Act.REMOVE, Act.SHORT, Act.RESIDUAL}
PROOF = {Act.LOCK, Act.TRY_START, Act.PROVE_TESTER, Act.POINT_DEAD}


@st.composite
def plans(draw):
    """Today's plans, and plans of random parts round an act of proof."""
    brief = Brief(draw(st.sampled_from([*LeadScheme])), Occasion.ROUTINE)
    if draw(st.booleans()):
        occasion = draw(st.sampled_from([one for one in Occasion if one is not Occasion.CALL_OUT]))
        school = draw(st.sampled_from([None, *School]))
        forbidden = draw(st.booleans())
        return build(replace(brief, occasion=occasion, school=school, insulation_test_forbidden=forbidden))
    if draw(st.integers(0, 3)) == 0:  # short enough for a random walk to come to its rolls
        rolled = Brief("three-lead", taking=frozenset([LEAD_ROLL]))
        parts = (safe.isolate, safe.box_proof, dead.temperature, safe.restore, live.running, live.lead_roll, live.close)
        return Plan("routine", 3, numbered([step for part in parts for step in part(rolled)]))
    middle = [
        safe.as_found, safe.separate, dead.instrument_check, dead.temperature, dead.continuity, dead.resistance,
        holds.between, holds.insulation, dead.by_hand, alone.cable_alone,
    ]  # fmt: skip
    chosen = draw(st.lists(st.sampled_from(middle), unique=True, min_size=1))
    before = draw(
        st.sampled_from(
            [
                (safe.isolate, safe.prove_dead),
                (safe.isolate, safe.prove_dead, safe.box_proof),
                (safe.isolate, safe.box_proof),
                (safe.prove_dead_floor,),
            ]
        )
    )
    tail = draw(st.sampled_from([(), (safe.connection, safe.reconnect, safe.restore, live.running)]))
    made = [step for part in (*before, *chosen, *tail, live.close) for step in part(brief)]
    return Plan("routine", 3, numbered(holds.with_volts(made)))


def text_for(slot, draw):
    if slot.input is Input.CHOICE:
        return draw(st.sampled_from([*slot.choices, slot.choices[0], slot.choices[0]]))
    if slot.input is not Input.READING:
        return "confirmed"
    if slot.act is Act.PROVE_TESTER:
        return draw(st.sampled_from(["480", "480", "480", "0.2"]))
    if slot.act is Act.POINT_DEAD:
        return draw(st.sampled_from(["0.1"] * 12 + ["277", "12"]))
    return {"insulation": "500M", "winding": "1.2", "low_ohm": "0", "dead_voltage": "0"}.get(slot.field, "20")


def winding_work(plan, step, slot, at):
    """What needs a proof; a hold whose voltage is on is read and ended whatever fell meanwhile."""
    runs = at.safety.on_test is not None and step.hold == at.safety.on_test.name
    proof = step.circuit is Circuit.LIVE or slot.act in PROOF | ENDING or step in plan.proofs
    return not proof and not (slot.act is Act.MARK and runs)


def proved(plan, made, now, worked):
    """An oracle of its own: after the last sign of voltage a lock, then every point between two good testers; all of
    them, or those of the place where is worked where it has points of its own.
    """
    own = {step.where for _, step, _ in plan.doing(Act.POINT_DEAD)}

    def act(e):
        return plan.places[e.place][1].act if e.place in plan.places else Act.NONE

    def volts(e):
        return e.reading.amount.high if e.reading else 0.0

    signs = [e.seq for e in made if act(e) is Act.POINT_DEAD and volts(e) > 5]
    signs += [e.seq for e in made if e.text == MOVED or act(e) in (Act.RESTORE, Act.LIVE_READING)]
    standing = [e for e in made if not e.taken_back and e.seq > max(signs, default=-1)]
    lock = next((e.seq for e in standing if act(e) is Act.LOCK), None)
    if lock is None:
        return False
    testers = [e.seq for e in standing if act(e) is Act.PROVE_TESTER and volts(e) >= 50 and e.seq > lock]
    times = {e.seq: plan.places[e.place][0].suffix for e in standing if act(e) is Act.LOCK}
    for place, step, _ in plan.doing(Act.POINT_DEAD):
        if step.suffix != times[max(times)] and {step.suffix, times[max(times)]} & set(live.ROLLS):
            continue  # of another isolation
        if worked.where in own and step.where != worked.where:
            continue
        read = [e.seq for e in standing if e.place == place and e.seq > lock]
        if not any(t < p for t in testers for p in read) or not any(p < t for t in testers for p in read):
            return False
    after = max(testers)
    last = max(e.at for e in made)
    at = next(e for e in made if e.seq == after)
    same_day = at.at.astimezone(WORKS.zone).date() == max(now, last).astimezone(WORKS.zone).date()
    return same_day and max(now, last) - last <= timedelta(hours=2)


@settings(max_examples=2 * settings.default.max_examples)
@given(plans(), st.data())
def test_no_winding_step_opens_without_a_standing_proof(plan, data):
    made, now, places = [], NOW, list(plan.places)
    for _ in range(data.draw(st.integers(5, 45))):
        now += timedelta(seconds=data.draw(st.sampled_from([5, 5, 5, 5, 40, 700, 3500, -3600, 7300, 86400])))
        at = progress(situation(plan, made, WORKS, now))
        for place, (step, slot) in plan.places.items():
            if not winding_work(plan, step, slot, at):
                continue
            try:
                check_place(at, place)
            except GateClosed:
                continue
            assert proved(plan, made, now, step), place
            charged = at.safety.charged
            same = charged is not None and step.hold == charged.name
            assert charged is None or (same and slot.act in (Act.MARK, Act.APPLY)), place
        move = data.draw(st.sampled_from(["next"] * 8 + ["any", "back", BEGIN_AGAIN, NOT_RECONNECTED]))
        if move == "back":
            for i in data.draw(st.lists(st.integers(0, len(made) - 1), max_size=1)) if made else ():
                made[i] = replace(made[i], taken_back=True)
            continue
        place = at.place if move == "next" else data.draw(st.sampled_from(places)) if move == "any" else move
        if place is None:
            continue
        who = data.draw(st.sampled_from(["A. Tester"] * 9 + ["B. Other"]))
        try:
            if place in (BEGIN_AGAIN, NOT_RECONNECTED):
                (check_begin_again if place == BEGIN_AGAIN else check_not_reconnected)(at)
                text = "confirmed"
            else:
                _, slot = check_place(at, place)
                text = text_for(slot, data.draw)
        except GateClosed:
            continue
        made.append(entry(len(made) + 1, place, text, now, who=who, plan=plan))
        assert made[-1].kind is not EntryKind.OVERRULE


def kept_without_being_asked(at):
    """Places where asking and keeping differ, but for those whose clock runs."""
    open_now, out = asked(at), []
    for place, (step, slot) in at.plan.places.items():
        if place in at.kept.standing:
            continue
        try:
            check_place(at, place)
        except GateClosed:
            by_clock = stop_of(at, place) is None and slot.act in (Act.MARK, Act.RESIDUAL)
            out += [place] if place in open_now and not by_clock else []
        else:
            out += [] if place in open_now else [place]
        live = slot.act is Act.LIVE_READING and list(at.plan.doing(Act.RESTORE)) and not at.safety.energised
        out += [place] if live and place in open_now else []
        failed = at.situation.stands.failed_words and leads_power(step)
        out += [place] if failed and at.standings[step.key] is StepState.TO_DO else []
    return out


SHOWN = ("live-found", "dead-tests", "left-out", "capacitor", "proof-order")


@given(plans(), st.data())
def test_what_is_asked_is_what_may_be_kept(plan, data):
    """For all schemes, kinds, schools and bans, orders, takings back, two people and clock jumps: nothing is asked
    whose gate is shut, nothing is kept that couldn't be asked, and after a failed dead test nothing live is either.
    """
    made, now, places = [], NOW, list(plan.places)
    stands = data.draw(st.sampled_from([Standing(), *BAD]))
    for _ in range(data.draw(st.integers(3, 30))):
        now += timedelta(seconds=data.draw(st.sampled_from([5, 5, 5, 40, 700, -3600, 7300])))
        at = progress(situation(plan, made, WORKS, now), stands=stands)
        assert kept_without_being_asked(at) == []
        stop = None if at.place is None else stop_of(at, at.place)
        assert stop is None or stop.gate in SHOWN
        if made and data.draw(st.integers(0, 9)) == 0:
            number = data.draw(st.integers(0, len(made) - 1))
            made[number] = replace(made[number], taken_back=True)
            continue
        place = at.place if data.draw(st.integers(0, 9)) else data.draw(st.sampled_from(places))
        if place is None or place not in asked(at):
            continue
        text = text_for(plan.at(place)[1], data.draw)
        who = data.draw(st.sampled_from(["A. Tester"] * 9 + ["B. Other"]))
        made.append(entry(len(made) + 1, place, text, now, who=who, plan=plan))


@given(st.lists(st.integers(-4000, 4000), min_size=3, max_size=3))
def test_no_clock_jump_leaves_less_than_four_times_the_latest_mark(jumps):
    plan = build(Brief("three-lead"))
    made = entries(TO_HOLD)
    at = made[-1].at
    for (place, text), jump in zip(
        (("insulation.1-2-3.60", "520M"), ("discharge.1-2-3.off", "confirmed"), ("discharge.1-2-3.short", "confirmed")),
        jumps,
        strict=True,
    ):
        at += timedelta(seconds=jump)
        made.append(entry(len(made) + 1, place, text, at))
    latest = max(e.at for e in made)
    hold = situation(plan, made, WORKS, made[-1].at).safety.charged
    assert hold.until - latest >= timedelta(seconds=240)
