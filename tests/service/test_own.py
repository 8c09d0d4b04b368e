"""A motor's own names, colours and limit, and how a job on it is done: from the record into every step and verdict."""

import json

import pytest

from grimcoil.core.errors import FormRefused
from grimcoil.core.plan.live import Absurd
from grimcoil.core.wishes import AtHand, FirstTest, InsulationBy, TestVolts, Wishes
from grimcoil.exchange.subjects import read_subject, subject_text
from grimcoil.service.details import details, keep_details
from grimcoil.service.instruments import add_range, instruments
from grimcoil.service.jobs import How, keep
from grimcoil.service.lives import happened
from grimcoil.service.plates import change_plate, plate_view
from grimcoil.store.tables import WindingRow
from tests.walker import Walker

OWN = {
    "motor.lead_names.1": "U1", "motor.lead_names.2": "V1", "motor.lead_names.3": "W1", "motor.lead_colours.1": "brown",
    "motor.neutral_lead": "N", "motor.insulation_minimum_mohm": "20",
    "motor.insulation_minimum_source": "maker's sheet",
}  # fmt: skip


@pytest.fixture
def walker(store, electrician, clock):
    return Walker(store, electrician, clock, "OW-1", "three-lead-wye")


def asks(bench):
    return {place: slot.ask for place, (_, slot) in bench.plan.places.items()}


def test_the_names_on_the_leads_stand_in_every_step_of_a_job(store, electrician, clock, walker):
    assert keep_details(store, electrician, "OW-1", OWN, clock())
    assert not keep_details(store, electrician, "OW-1", OWN, clock())
    assert {name: details(store, "OW-1").texts[name] for name in OWN} == OWN
    said = asks(walker.start().bench)
    assert said["winding_resistance.1-2"] == "Ohms from lead 1 (U1, brown) to lead 2 (V1)"
    assert walker.bench.plan.at("winding_resistance.1-2")[1].label == "1–2 (U1–V1)"
    assert "is 1 (U1, brown) on" in said["as_found.lead-1"]
    assert "Join leads 1 (U1, brown), 2 (V1), 3 (W1)" in said["insulation.1-2-3.on"]
    assert "from leads 1 (U1, brown), 2 (V1), 3 (W1) to the frame" in said["discharge.1-2-3.short"]


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"motor.lead_names.9": "U9"}, "motor.lead_names.9"),
        ({"motor.lead_names.2": "u1"}, "motor.lead_names.2"),
        ({"motor.insulation_minimum_mohm": "-3"}, "motor.insulation_minimum_mohm"),
    ],
)
def test_a_name_that_can_not_be_is_refused_at_its_field(store, electrician, clock, walker, change, field):
    with pytest.raises(FormRefused) as refused:
        keep_details(store, electrician, "OW-1", OWN | change, clock())
    assert set(refused.value.fields) == {field}


def test_other_leads_lose_their_names_and_keep_the_makers_limit(store, electrician, clock, walker):
    keep_details(store, electrician, "OW-1", OWN, clock())
    happened(store, electrician, "OW-1", {"kind": "rewound", "on": clock().date().isoformat()}, "rewound-1", clock())
    assert details(store, "OW-1").texts["motor.lead_names.1"] == "U1"
    view = plate_view(store, "OW-1")
    texts = dict(view.texts) | {"lead_scheme": "six-lead"}
    assert change_plate(store, electrician, "OW-1", texts, "six leads in the box", view.seen, clock())
    left = {name for name in details(store, "OW-1").texts if name.startswith("motor.")}
    assert {"motor.neutral_lead", "motor.insulation_minimum_mohm", "motor.insulation_minimum_source"} <= left
    assert not {name for name in left if "lead_names" in name or "lead_colours" in name}


def test_the_makers_own_limit_judges_and_is_named(store, electrician, clock, walker):
    keep_details(store, electrician, "OW-1", OWN, clock())
    walker.changed["insulation.1-2-3.60"] = "15M"
    bench = walker.start(occasion="dead-only").to()
    (result,) = bench.whole.insulation
    assert (result.minimum_mohm, result.verdict.value) == (20, "act")
    assert "maker's sheet" in result.minimum_rule


def test_lead_by_lead_each_of_three_is_held_and_discharged(walker):
    bench = walker.start(occasion="dead-only", wishes=Wishes(insulation_by=InsulationBy.LEAD)).to()
    assert bench.whole.decision.action == "return"
    holds = [step.key for step in bench.plan.steps if step.name in ("insulation", "discharge")]
    assert holds == [f"{what}.{lead}" for lead in "123" for what in ("insulation", "discharge")]
    assert [result.what for result in bench.whole.insulation] == [f"from {lead} to frame" for lead in "123"]


def test_without_a_tester_the_job_ends_with_a_verdict_that_says_what_it_rests_on(walker):
    walker.changed["insulation.1-2-3@ohmmeter"] = "OL"
    wishes = Wishes(at_hand=(AtHand.OHMMETER, AtHand.LAMPS, AtHand.CLAMP))
    walker.start(occasion="dead-only", wishes=wishes)
    bench = walker.to()
    decision = bench.whole.decision
    assert (decision.action, decision.verdict.value) == ("return-retest", "unproven")
    assert decision.why.startswith("no insulation tester at hand")
    assert not [place for place in bench.plan.places if place.endswith(".on")]


def test_insulation_first_is_the_plans_order_after_continuity(walker):
    wishes = Wishes(first_test=FirstTest.INSULATION, test_volts=TestVolts.TWICE)
    bench = walker.start(occasion="dead-only", wishes=wishes).bench
    order = [step.name for step in bench.plan.steps]
    assert order.index("continuity") < order.index("insulation") < order.index("winding_resistance")
    assert bench.plan.wishes == wishes
    assert bench.criteria.test_voltage_school == "twice-rated"


def test_a_tester_that_shows_microamps_is_typed_in_microamps(store, electrician, clock, walker):
    texts = {"name": "T9", "function": "insulation", "test_voltage_v": "500", "shows": "microamps"}
    add_range(store, electrician, texts, clock())
    number = instruments(store)[0].ranges[0].id
    walker.changed |= {"insulation.1-2-3.60": "2.5", "instrument_check.insulation-shorted": "0.000"}
    bench = walker.start(occasion="dead-only", insulation_range_id=number).to("discharge.1-2-3.off")
    entry = bench.state.kept.standing["insulation.1-2-3.60"]
    assert entry.text == "2.5 µA at 500 V"
    assert bench.whole.insulation[0].r_1min_mohm.value == pytest.approx(200)


def test_ten_seconds_carry_a_job_by_their_own_school(walker, clock):
    walker.start(occasion="dead-only", criteria="ten-second").to("insulation.1-2-3.60")
    clock.pass_(10)
    walker.put("insulation.1-2-3.10", "250M")
    bench = walker.put("discharge.1-2-3.off", "confirmed")
    clock.pass_(300)
    assert "spot-counted" in {f.code for r in bench.whole.insulation for f in r.findings}
    bench = walker.to()
    assert (bench.whole.decision.action, bench.whole.decision.missing) == ("return", ())


def test_a_job_signed_before_these_choices_is_read_as_it_was_judged(walker):
    bench = walker.start().bench
    stored = json.loads(subject_text(bench.about.on))
    for name in ("spot_measure", "low_measure", "proof_same_source_percent"):
        del stored["subject"]["criteria"][name]
    for name in ("lead_names", "lead_colours", "neutral_lead", "insulation_minimum_mohm", "insulation_minimum_source"):
        del stored["subject"]["winding"][name]
    assert read_subject(json.dumps(stored)) == bench.about.on


@pytest.mark.parametrize(
    ("typed", "asked"),
    [
        ("0.49", None),
        ("0.5", "The body itself"),
        ("5M", "The body itself"),
        ("5.1M", None),
        ("1", "over range"),
        ("OL", None),
    ],
)
def test_what_a_finger_or_a_display_of_one_looks_like_is_asked_once(walker, typed, asked):
    wishes = Wishes(at_hand=(AtHand.OHMMETER,))
    walker.start(occasion="dead-only", wishes=wishes).to("insulation.1-2-3@ohmmeter")
    if asked is None:
        assert walker.put("insulation.1-2-3@ohmmeter", typed)
        return
    with pytest.raises(Absurd, match=asked):
        walker.put("insulation.1-2-3@ohmmeter", typed)
    how = How(anyway=True)
    bench = keep(
        walker.store, walker.job, "insulation.1-2-3@ohmmeter", typed, walker.actor, "anyway-1", walker.clock(), how
    )
    assert bench.state.kept.standing["insulation.1-2-3@ohmmeter"].text == typed


def test_names_of_leads_that_a_list_or_a_marking_took_away_break_no_page(store, electrician, clock, walker):
    keep_details(store, electrician, "OW-1", OWN, clock())
    with store.begin() as session:
        session.query(WindingRow).one().own = {"lead_names": {"1": "U1", "9": "W5"}}
    kept = details(store, "OW-1").texts
    assert kept["motor.lead_names.1"] == "U1"
    assert "motor.lead_names.9" not in kept
    assert walker.start().bench.subject.winding.lead_names == {"1": "U1"}
