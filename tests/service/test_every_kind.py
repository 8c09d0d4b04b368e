"""Jobs of every kind on motors of every scheme, from the start to the signature."""

import json

import pytest

from grimcoil.core.choices import LeadScheme, Occasion
from grimcoil.core.errors import GateClosed, Refusal
from grimcoil.core.plan.entries import NOT_RECONNECTED
from grimcoil.exchange.jobs import read_job, validated
from grimcoil.service.closing import Cause, decide, sign
from grimcoil.service.details import details, keep_details
from grimcoil.service.job_files import export_job
from grimcoil.service.sheets import sheet
from grimcoil.service.verifying import verify
from tests.support import SECRET
from tests.walker import Walker

SCHEMES = [scheme for scheme in LeadScheme if scheme is not LeadScheme.UNKNOWN]
# A sound winding's pairs where they aren't all alike: an inner star reads two coils, half a winding its own.
UNLIKE = {
    LeadScheme.NINE_WYE: {f"winding_resistance.{p}": "0.5222" for p in ("7-8", "8-9", "9-7")},
    LeadScheme.TWO_WINDINGS: {f"winding_resistance.{p}": "0.1120" for p in ("11-12", "12-13", "13-11")},
    LeadScheme.TAPPED_STAR: {f"winding_resistance.{p}": "0.5222" for p in ("1-2", "2-3", "3-1")},
}
UNCOUPLED = {f"uncoupled_run.L{n}{at}": "7.1" for n in (1, 2, 3) for at in ("", "@low", "@high")}


WALKED = {(scheme, occasion) for scheme in SCHEMES for occasion in (Occasion.ROUTINE, Occasion.ACCEPTANCE)}
WALKED |= {(scheme, occasion) for scheme in (LeadScheme.NINE_WYE, LeadScheme.TWO_WINDINGS) for occasion in Occasion}


@pytest.mark.parametrize(("scheme", "occasion"), sorted(WALKED))
def test_a_sound_motor_is_walked_to_its_signature(store, electrician, clock, scheme, occasion):
    walker = Walker(store, electrician, clock, "EV-1", scheme, UNLIKE.get(scheme, {}) | UNCOUPLED).start(occasion)
    bench = walker.to()
    assert bench.state.closing
    assert not bench.whole.stands.missing
    assert not bench.whole.stands.failed
    action = bench.whole.decision.action
    assert action == ("look-elsewhere" if occasion is Occasion.CALL_OUT else "return"), bench.whole.decision.why
    decide(store, walker.job, action, "", electrician, clock())
    sign(store, walker.job, electrician, SECRET, clock())
    out = export_job(store, walker.job, clock())
    validated(out)
    assert sheet(store, walker.job, clock()).steps
    assert verify(store).breaks == ()


def hoist(store, electrician, clock):
    """A two-speed motor with two windings, brake and thermostats, whose maker forbids insulation testing."""
    plate = {"insulation_test_forbidden": "yes"}
    changed = UNLIKE[LeadScheme.TWO_WINDINGS] | UNCOUPLED
    return Walker(store, electrician, clock, "HO-1", "two-speed-two-winding", changed, plate)


def test_a_ban_leaves_insulation_out_and_power_asks_for_a_sentence(store, electrician, clock):
    walker = hoist(store, electrician, clock).start("acceptance")
    bench = walker.to("connection.checked")
    assert not [step for step in bench.plan.steps if step.kind in ("insulation", "winding_to_winding")]
    assert [one.step for one in bench.plan.left_out] == ["winding_to_winding", "insulation"]
    walker.skip("connection.checked")
    assert walker.to().whole.decision.action == "return"


def test_a_wet_motor_that_fails_is_dried_and_read_again(store, electrician, clock):
    low = {"insulation.1-2-3.30": "0.5M", "insulation.1-2-3.60": "0.4M"}
    walker = Walker(store, electrician, clock, "WE-1", "three-lead-wye", low).start("wet")
    bench = walker.to("drying.dried")
    assert [step.name for step in bench.plan.steps if step.because] == ["drying", "insulation", "discharge"]
    done = walker.to()
    assert not [step.key for step in done.plan.steps if "taken back" in step.because]
    assert [result.verdict.value for result in done.whole.insulation] == ["sound"]
    assert done.state.kept.standing["insulation.1-2-3.60"].text == "0.4M"
    assert done.whole.decision.action in ("return", "return-retest")


def test_a_hot_motor_with_an_open_protector_cools_and_is_read_again(store, electrician, clock):
    hot = {"temperature.winding": "80", "winding_resistance.2-3": "OL", "winding_resistance.3-1": "OL"}
    walker = Walker(store, electrician, clock, "HT-1", "three-lead-wye", hot).start(school="box-first")
    bench = walker.to("cool_down.winding")
    assert bench.whole.winding_resistance[0].verdict.value == "act"
    done = walker.to()
    assert done.whole.winding_resistance[0].verdict.value == "sound"
    assert done.whole.decision.action == "return"
    record = read_job(json.dumps(export_job(store, walker.job, clock())))
    assert record.tests[0].conditions.winding_temperature_c == 22


def test_an_open_winding_at_the_box_ends_at_its_decision(store, electrician, clock):
    opened = {"winding_resistance.2-5": "OL"}
    walker = Walker(store, electrician, clock, "OP-1", "six-lead", opened).start()
    bench = walker.to()
    stopped = {key for key, state in bench.state.standings.items() if state == "stopped"}
    assert {"winding_to_winding.1-4.2-5", "insulation.2-5", "restore", "supply_voltage", "line_current"} <= stopped
    read = {step.key for step in bench.plan.steps if step.kind == "insulation" and bench.typed.result(step)}
    assert read == {
        "insulation.1-4",
        "insulation.3-6",
        "insulation.2",
        "insulation.5",
    }  # what isn't open is tested by itself, without a reason
    with pytest.raises(GateClosed):
        walker.put("winding_to_winding.1-4.2-5.on", "confirmed")
    with pytest.raises(GateClosed) as live:
        walker.put("line_current.L1", "40")
    assert "not restored" in str(live.value)
    closing = walker.put(NOT_RECONNECTED, "")
    assert closing.state.closing
    assert closing.whole.decision.missing == ()
    assert closing.whole.decision.action == "rewind-or-replace"
    cause = Cause(("age",), "a spare goes in")
    decide(store, walker.job, "rewind-or-replace", "", electrician, clock(), cause)
    assert sign(store, walker.job, electrician, SECRET, clock()).job.root_causes == ["age"]


def test_contact_drop_and_frame_temperature_are_taken_where_wanted(store, electrician, clock):
    read = {f"contact_drop.L{n}": drop for n, drop in ((1, "0.11"), (2, "0.12"), (3, "0.31"))}
    walker = Walker(store, electrician, clock, "EX-1", "three-lead-wye", read | {"frame_temperature.reading": "61"})
    walker.start(also=("contact_drop", "frame_temperature"))
    bench = walker.to()
    assert bench.whole.by_kind["contact_drop"][0].verdict.value == "watch"
    assert bench.record.tests[-2].current_a == pytest.approx(18.0)
    assert bench.record.tests[-1].reading.amount.value == 61
    with pytest.raises(Refusal, match="contact_drop"):
        Walker(store, electrician, clock, "EX-2", "three-lead-wye").start(also=("telepathy",))


ALSO = ("capacitor", "surge", "vibration", "starter", "grease")
STARTED = {"starter.per_hour": "2", "starter.run_up_s": "6", "starter.timer_s": "6", "starter.line_a_star": "40",
           "starter.line_a_delta": "120", "grease.drive-end.outside": "85", "grease.drive-end.width": "19",
           "grease.other-end.outside": "80", "grease.other-end.width": "18"}  # fmt: skip
FAN = {"position.starter": "star-delta",
       "motor.accessories.0.what": "single-phase motor", "motor.accessories.0.leads": "U1, U2, Z1",
       "motor.accessories.1.what": "capacitor", "motor.accessories.1.leads": "C1, C2"}  # fmt: skip
PAIRS = {f"accessories.U1-U2-Z1.{pair}": ohms for pair, ohms in (("U1-U2", "4.0"), ("U1-Z1", "10.1"), ("U2-Z1", "6.1"))}
COLD = {f"accessories.{name}": text for name, text in (("C1-C2.start", "12"), ("C1-C2.end", "OL"))}
WORKING = COLD | {"capacitor.C1-C2.volts": "400", "capacitor.C1-C2.amps": "3.1", "capacitor.C1-C2.hertz": "60",
           "capacitor.C1-C2.marked": "20"}  # fmt: skip


@pytest.mark.parametrize(
    ("changed", "kind", "verdict"),
    [({}, "single_phase", "sound"), ({}, "capacitor", "sound"), ({}, "surge", "sound"), ({}, "vibration", "sound"),
     ({}, "star_delta", "sound"),
     ({"rotation.turns": "wrong way"}, "rotation", "act"), ({"surge.result": "fail"}, "surge", "act"),
     ({"vibration.heard": "grinding"}, "vibration", "act")],
)  # fmt: skip
def test_side_sheets_are_read_in_a_job_and_signed_with_it(store, electrician, clock, changed, kind, verdict):
    entered = UNCOUPLED | PAIRS | WORKING | {"surge.peak": "0", "surge.apart": "1.5"} | STARTED | changed
    walker = Walker(store, electrician, clock, "SI-1", "three-lead-wye", entered)
    on_record = details(store, "SI-1").texts | FAN
    keep_details(store, electrician, "SI-1", on_record, clock())
    bench = walker.start("acceptance", also=ALSO).to()
    (result,) = bench.whole.by_kind[kind]
    assert result.verdict.value == verdict
    assert (bench.whole.decision.action == "return") == (verdict == "sound"), bench.whole.decision.why
    decide(store, walker.job, bench.whole.decision.action, "", electrician, clock(), Cause(("unknown",), "seen"))
    sign(store, walker.job, electrician, SECRET, clock())
    kinds = {test["kind"] for test in validated(export_job(store, walker.job, clock())).model_dump()["tests"]}
    assert {"single_phase", "capacitor", "surge", "vibration", "rotation", "star_delta", "starts", "grease"} <= kinds
    assert verify(store).breaks == ()
