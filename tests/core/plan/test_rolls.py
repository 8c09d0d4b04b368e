"""Rolling the leads: further isolations within one job, each with its own lock and proof."""

from datetime import timedelta
from itertools import pairwise

import pytest

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.errors import GateClosed
from grimcoil.core.lead_roll import judge_lead_roll
from grimcoil.core.measured import LeadRollTest
from grimcoil.core.plan.brief import LEAD_ROLL, Brief
from grimcoil.core.plan.parts.live import FIRST, ROLLS
from grimcoil.core.plan.progress import StepState, check_place, check_skip, progress, situation
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.record import made_of
from grimcoil.core.plan.safety import Site
from grimcoil.core.plan.steps import Act, Input
from grimcoil.core.subject import UNKNOWN
from tests.support import NOW, entry

PLAN = build(Brief("three-lead", taking=frozenset([LEAD_ROLL])))
TEXT = {
    "dead_voltage": "0",
    "winding": "0.26",
    "insulation": "600M",
    "low_ohm": "0",
    "temperature": "20",
    "humidity": "50",
}
AMPS = {"": ("17.0", "17.2", "19.0"), "#2": ("17.1", "17.0", "19.1"), "#3": ("17.0", "17.1", "19.0")}  # it stays on L3


def text_for(place, step, slot):
    if slot.input is Input.CHOICE:
        return slot.choices[0]
    if slot.input is not Input.READING:
        return "confirmed"
    if slot.field == "current":
        return AMPS[step.suffix][int(slot.key[1]) - 1]
    return "480" if slot.field == "voltage" else TEXT[slot.field]


def at(made, later_s=0.0):
    now = (made[-1].at if made else NOW) + timedelta(seconds=later_s)
    return progress(situation(PLAN, made, Site(FIELD_GENERAL), now))


def walked(until=None):
    """Entries of what comes next up to a place, or to the decision."""
    made, now = [], NOW
    while not at(made).closing and at(made).place != until:
        state = progress(situation(PLAN, made, Site(FIELD_GENERAL), now))
        place = state.place
        step, slot = check_place(state, place)
        made.append(entry(len(made) + 1, place, text_for(place, step, slot), now, plan=PLAN))
        now += timedelta(seconds=4 * 700 if slot.act is Act.SHORT else 61)
    return made


def opened(state):
    out = set()
    for place, (step, slot) in PLAN.places.items():
        if step.suffix not in ROLLS:
            continue
        try:
            check_place(state, place)
        except GateClosed:
            continue
        out.add((step.name, slot.act))
    return out


def test_the_whole_of_it_is_walked_and_says_where_the_odd_current_stays():
    made = walked()
    tests = [one.test for one in made_of(PLAN, at(made).kept, (), UNKNOWN) if isinstance(one.test, LeadRollTest)]
    assert [roll.map for roll in tests[0].rolls] == [FIRST, *ROLLS.values()]
    found = judge_lead_roll(tests[0])
    assert found.line_certainty > 0.9
    assert max(found.line_effect_a, key=found.line_effect_a.get) == "L3"
    assert set(at(made).standings.values()) <= {StepState.DONE, StepState.NOW, StepState.TO_DO}


def test_each_roll_moves_every_lead_one_on():
    for a, b in pairwise([FIRST, *ROLLS.values()]):
        on = {lead: line for line, lead in a.items()}
        to = {lead: line for line, lead in b.items()}
        assert all((int(to[n][1]) - int(on[n][1])) % 3 == 1 for n in "123")


def test_while_it_runs_nothing_opens_but_the_next_lock():
    made = walked("isolate.lock-main#2")
    assert at(made).safety.energised
    assert opened(at(made)) == {("isolate", Act.LOCK)}


def test_after_the_lock_it_is_proved_before_a_lead_is_moved():
    made = walked("prove_dead_box.before#2")
    state = at(made)
    assert not state.safety.energised
    assert state.safety.proved_at is None
    assert not opened(state) & {("lead_roll", Act.NONE), ("restore", Act.RESTORE)}
    made = walked("lead_roll.shift.shifted#2")
    assert at(made).safety.proved_at == made[-1].at
    assert ("lead_roll", Act.NONE) in opened(at(made))


def test_the_proof_of_a_roll_ages_as_any_other():
    made = walked("lead_roll.shift.shifted#2")
    state = at(made, 2 * 3600 + 61)
    assert state.safety.proved_at is None
    assert state.place == "prove_dead_box.before#2" or state.step.name == "isolate"
    assert ("lead_roll", Act.NONE) not in opened(state)


def test_a_lock_kept_before_power_was_restored_counts_for_nothing():
    early = walked("restore.restored")
    made = [*early, entry(len(early) + 1, "isolate.lock-main#2", "early", early[-1].at, plan=PLAN)]
    made.append(entry(len(made) + 1, "restore.restored", "confirmed", made[-1].at, plan=PLAN))
    assert at(made).safety.energised
    assert at(made).safety.phase == 0


@pytest.mark.parametrize("passed", ["isolate#2", "isolate#3"])
def test_rolls_that_are_not_made_are_passed_with_a_reason(passed):
    made = walked(f"isolate.lock-main{passed[-2:]}")
    assert check_skip(at(made), passed).key == passed
    made.append(entry(len(made) + 1, passed, "the line can't stop again", made[-1].at, plan=PLAN))
    state = at(made)
    assert state.closing
    rest = [step for step in PLAN.steps if step.suffix in ROLLS and step.suffix >= passed[-2:]]
    assert {state.standings[step.key] for step in rest} == {StepState.SKIPPED}


def test_once_locked_again_its_proof_cannot_be_passed():
    made = walked("prove_dead_box.before#2")
    for key in ("isolate#2", "prove_dead_box#2"):
        with pytest.raises(GateClosed):
            check_skip(at(made), key)


def test_what_is_found_live_at_the_box_stops_the_roll():
    made = walked("prove_dead_box.L1-L2#2")
    made.append(entry(len(made) + 1, "prove_dead_box.L1-L2#2", "277", made[-1].at, plan=PLAN))
    assert at(made).safety.live is not None
    assert opened(at(made)) == set()
