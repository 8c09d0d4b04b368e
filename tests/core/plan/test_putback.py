"""Put back, proved: what a lead on another place than it was found on does, by the handbook's connections."""

from itertools import permutations

import pytest

from grimcoil.core.errors import GateClosed
from grimcoil.core.findings import Verdict
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.entries import Kept
from grimcoil.core.plan.parts.safe import as_found, reconnect
from grimcoil.core.plan.putback import differences, effect, found_on, left_on, line_number
from grimcoil.core.plan.steps import Act, Plan
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Subject, Winding
from tests.core.plan.grown import Grown
from tests.support import entries, entry

THREE = Subject(Plate((460,)), Winding(lead_scheme="three-lead-wye"), system_voltage_v=460)
FOUND = {"1": "T1", "2": "T2", "3": "T3"}
TURNED = {("T2", "T1", "T3"), ("T1", "T3", "T2"), ("T3", "T2", "T1")}


def codes(found, left, subject):
    return [finding.code for finding in effect(found, left, subject)]


@pytest.mark.parametrize("order", list(permutations(("T1", "T2", "T3"))))
@pytest.mark.parametrize("scheme", ["three-lead", "three-lead-wye", "three-lead-delta"])
def test_two_leads_exchanged_turn_it_the_other_way_and_all_three_moved_on_do_not(order, scheme):
    subject = Subject(Plate((460,)), Winding(lead_scheme=scheme), system_voltage_v=460)
    left = dict(zip("123", order, strict=True))
    found = effect(FOUND, left, subject)
    assert [f.severity for f in found if f.code == "rotation-wrong"] == ([Verdict.ACT] if order in TURNED else [])
    assert bool(found) == (order != ("T1", "T2", "T3"))
    if found and order not in TURNED:
        assert found[0].code == "right"
        assert "the same way" in found[0].text


# Six leads: a star for 690 V, a delta for 400 V; nine leads: series for 460, parallel for 230 (IEC 60034-8 and NEMA
# MG-1 part 2, from memory).
STAR = {"1": "L1", "2": "L2", "3": "L3", "4": "joint a", "5": "joint a", "6": "joint a"}
DELTA = {"1": "L1", "6": "L1", "2": "L2", "4": "L2", "3": "L3", "5": "L3"}
SIX = Subject(Plate((400, 690)), Winding(lead_scheme="six-lead"), system_voltage_v=400)
SERIES = {"1": "L1", "2": "L2", "3": "L3"} | {"4": "a", "7": "a", "5": "b", "8": "b", "6": "c", "9": "c"}
PARALLEL = {"1": "L1", "7": "L1", "2": "L2", "8": "L2", "3": "L3", "9": "L3", "4": "a", "5": "a", "6": "a"}


def nine(volts):
    return Subject(Plate((230, 460)), Winding(lead_scheme="nine-lead-wye"), system_voltage_v=volts)


def test_a_star_put_back_where_a_delta_was_gets_too_few_volts():
    assert "under-voltage" in codes(DELTA, STAR, SIX)
    assert "rotation-wrong" not in codes(DELTA, STAR, SIX)


def test_the_low_voltage_joining_on_the_high_voltage_burns_and_the_other_has_half_its_volts():
    (burns,) = effect(SERIES, PARALLEL, nine(460))
    assert (burns.code, burns.severity) == ("over-voltage", Verdict.ACT)
    (half,) = effect(PARALLEL, SERIES, nine(230))
    assert half.code == "under-voltage"
    assert "50 %" in half.text


def test_a_coil_turned_over_is_seen():
    """In a star with one coil the other way round the star point lies 30 degrees and more off."""
    turned = STAR | {"1": "joint a", "4": "L1"}
    found = effect(STAR, turned, Subject(Plate((400, 690)), Winding(lead_scheme="six-lead"), system_voltage_v=690))
    assert "reversed-coil" in [f.code for f in found]
    assert all(f.severity is Verdict.ACT for f in found if f.code == "reversed-coil")


def test_what_no_mark_tells_is_said_and_not_guessed():
    (said,) = effect({"1": "left stud", "2": "T2"}, {"1": "right stud", "2": "T2"}, THREE)
    assert said.severity is Verdict.WATCH
    assert "right stud, found on left stud" in said.text
    assert effect({"1": " t1 "}, {"1": "T1"}, THREE) == []
    assert effect({"1": "U"}, {"1": "T1"}, THREE) == []
    assert differences({"1": "T1"}, {"2": "T2"}) == []


@pytest.mark.parametrize(("found", "left"), [("1T1", "2T1"), ("U1", "U2"), ("T1", "L1"), ("1U", "2U")])
def test_another_winding_another_end_or_the_line_side_is_another_place(found, left):
    (said,) = effect({"1": found, "2": "T2", "3": "T3"}, {"1": left, "2": "T2", "3": "T3"}, THREE)
    assert said.severity is not Verdict.SOUND
    assert f"lead 1 on {left}, found on {found}" in said.text


@pytest.mark.parametrize(
    ("mark", "line"),
    [("T1", 1), ("l 2".replace(" ", ""), 2), ("1T3", 3), ("U", 1), ("1V1", 2), ("W2", 3), ("core 1", 1), ("X", None),
     ("joint a", None), ("T4", None), ("", None)],
)  # fmt: skip
def test_a_terminals_mark_tells_its_line(mark, line):
    assert line_number(mark) == line


def test_found_and_left_are_read_of_the_same_place():
    brief = Brief("three-lead")
    lifted, back = as_found(brief)[0], reconnect(brief)[0]
    plan = Plan("routine", 8, (lifted, back))
    assert [slot.ends for slot in back.slots if slot.act is Act.PUT_BACK] == [("1",), ("2",), ("3",)]
    made = entries((("as_found.lead-1", "T1"), ("as_found.lead-2", "not read"), ("reconnect.lead-1", "T2")))
    kept = Kept(tuple(made), {one.place: one for one in made}, {})
    assert found_on(plan, kept, back) == {"1": "T1"}
    assert left_on(kept, back) == {"1": "T2"}


def put_back(job, **leads):
    """On to the reconnection, each lead on what is given."""
    job.changed |= {f"as_found.lead-{n}": f"T{n}" for n in "123"}
    job.changed |= {f"reconnect.lead-{n}": leads.get(f"lead_{n}", f"T{n}") for n in "123"}
    return job.until("reconnect.as-found")


def test_nothing_leaves_the_step_with_a_difference_unsaid():
    job = put_back(Grown(), lead_1="T2", lead_2="T1")
    with pytest.raises(GateClosed) as refused:
        job.keep("reconnect.as-found", "confirmed")
    assert "lead 1 on T2, found on T1; lead 2 on T1, found on T2" in refused.value.sentence()
    assert refused.value.can_overrule
    job.entries.append(entry(len(job.entries) + 1, "reconnect!put-back", "the pump ran backwards", job.now))
    job.keep("reconnect.as-found", "confirmed")
    assert job.until("restore").state.safety.joined


def test_as_found_the_leads_are_ticked_off_one_by_one_and_the_way_is_open():
    job = put_back(Grown())
    assert [s.act for s in job.state.step.slots][:4] == [*[Act.PUT_BACK] * 3, Act.JOIN]
    assert job.until("restore.restored").state.slot.act is Act.RESTORE


def test_no_lead_goes_back_on_a_motor_that_failed():
    low = {f"insulation.1-2-3.{mark}{spot}": "1.2M" for mark in (30, 60) for spot in ("", "@motor-box")}
    job = Grown(changed=low)
    job.until("connection.checked")
    with pytest.raises(GateClosed, match="Do not reconnect"):
        job.keep("connection.checked", "confirmed")
    for place in ("reconnect.lead-1", "reconnect.as-found"):
        with pytest.raises(GateClosed):
            job.keep(place, "T1")
