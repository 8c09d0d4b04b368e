"""All tests together: nothing makes it raise, every code it uses is in the catalogue."""

from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core import measured as m
from grimcoil.core.amount import Amount
from grimcoil.core.assessment import KINDS, assess
from grimcoil.core.catalogue import CATALOGUE
from grimcoil.core.choices import LeadScheme, Occasion, SupplySystem
from grimcoil.core.criteria import CRITERIA
from grimcoil.core.findings import Verdict
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.measured import InsulationTest, JobRecord, ResistanceTest, WindingToWindingTest
from grimcoil.core.plate import Plate
from grimcoil.core.readings import Reading, Shown
from grimcoil.core.subject import (
    Cable,
    Calling,
    Conditions,
    Fittings,
    Overload,
    Position,
    Subject,
    Winding,
)

figures = st.one_of(st.just(0.0), st.floats(1e-9, 1e13))
amounts = figures.flatmap(
    lambda v: st.sampled_from([Amount.exact(v), Amount.above(v), Amount.below(v), Amount(v / 2, v)])
)
readings = st.builds(Reading, st.just("x"), st.sampled_from(Shown), amounts, st.none() | st.floats(1e-6, 10))
maybe = st.none() | readings
meters = st.none() | st.builds(
    InstrumentRange, st.just("M"), st.sampled_from(["ohm", "insulation"]), st.floats(1e-3, 1e12), st.floats(1e-6, 1)
)
conditions = st.builds(
    Conditions,
    *[st.none() | st.floats(-300, 300)] * 2,
    st.none() | st.floats(1, 100),
    st.none() | st.just(date(2026, 1, 1)),
)
hookups = st.builds(
    m.Hookup,
    st.sampled_from([None, "starter", "motor-box", "cable"]),
    st.sampled_from([None, "low", "high"]),
    st.sampled_from([None, "as-found", "opened"]),
    st.sampled_from([None, "motor", "motor+cable", "cable"]),
)
ENDS = ["1", "2", "3", "4", "7", "9", "12", "13", "U", "V2", "1W", "frame"]
PAIRS = ["1-2", "2-3", "3-1", "2-1", "U-V", "1-4", "7-8", "8-9", "9-7", "11-12", "x", "5-4"]
LINES = ["L1", "L2", "L3"]
PLUS = ["L1-L2", "L2-L3", "L3-L1"]


def by(names, least=0, most=9):
    return st.dictionaries(st.sampled_from(names), readings, min_size=least, max_size=most)


def hold(kind):
    return st.builds(
        kind,
        st.lists(st.builds(m.Timed, st.sampled_from([10, 15, 30, 60, 120, 300, 600]), readings), max_size=7).map(tuple),
        st.none() | st.floats(10, 10000),
        conditions,
        meters,
        hookups,
        st.lists(st.sampled_from(ENDS), max_size=3).map(tuple),
        st.lists(st.sampled_from(ENDS), max_size=3).map(tuple),
        st.sampled_from([None, "winding-positive", "frame-positive"]),
    )


booleans = st.sampled_from([None, True, False])
rolls = st.builds(
    m.Roll, st.dictionaries(st.sampled_from(LINES), st.sampled_from(["1", "2", "3"])), by(LINES, 0, 3), by(PLUS)
)
tests = st.one_of(
    st.builds(ResistanceTest, by(PAIRS), conditions, meters, st.floats(0, 2), hookups, st.booleans()),
    hold(InsulationTest),
    hold(WindingToWindingTest),
    st.builds(m.SupplyTest, by(PLUS, 0, 3), by(LINES, 0, 3), booleans, st.none() | st.floats(10, 400)),
    st.builds(m.CurrentTest, by(LINES), st.dictionaries(st.sampled_from(LINES), st.floats(0, 5)), booleans),
    st.builds(m.ContactTest, by(LINES), st.none() | st.floats(0, 100)),
    st.builds(m.AccessoryTest, st.sampled_from(["thermostat", "rtd", "x"]), maybe, maybe, st.none() | st.floats(0, 90)),
    st.builds(m.CableTest, by(["U-V", "V-W", "W-U", "a"]), by(["U", "V"]), st.sampled_from(["open", "joined"])),
    st.builds(m.FuseTest, st.just("F1"), st.sampled_from(["out", "live-loaded", "live-unloaded"]), maybe),
    st.builds(m.OverloadPoleTest, by(LINES)),
    st.builds(m.ContactorCoilTest, maybe, maybe, st.none() | st.floats(1, 500), booleans),
    st.builds(m.CapacitorTest, maybe, maybe, st.none() | st.floats(1, 400), st.none() | st.floats(0.1, 1000)),
    st.builds(m.LeadRollTest, st.lists(rolls, max_size=3).map(tuple), st.sampled_from([None, "starter"])),
    st.builds(m.BrakeTest, maybe, maybe, booleans),
    st.builds(m.FrameTemperatureTest, maybe),
    st.builds(m.ShaftTest, st.sampled_from([None, "free", "stiff", "jammed"]), booleans),
    st.builds(m.DeadProofTest, maybe, by([*PLUS, "L1-E", "L2-E", "L3-E"]), maybe),
)
plates = st.builds(
    Plate,
    st.lists(st.floats(10, 15000), max_size=3).map(tuple),
    st.lists(st.floats(0.1, 5000), max_size=3).map(tuple),
    st.none() | st.floats(10, 15000),
    st.none() | st.sampled_from([50.0, 60.0]),
    st.none() | st.floats(1, 1e7),
    st.none() | st.floats(1, 30000),
    st.floats(1, 2),
    st.sampled_from([None, "A", "F"]),
    st.none() | st.integers(1900, 2030),
)
windings = st.builds(
    Winding,
    st.sampled_from(["random", "form"]),
    st.sampled_from(["thermosetting", "thermoplastic"]),
    st.sampled_from(["copper", "aluminium"]),
    st.sampled_from(LeadScheme),
    st.booleans(),
    st.dictionaries(st.sampled_from(["1-2", "2-3", "3-1", "1-4"]), st.floats(0, 100)),
)
positions = st.builds(
    Position,
    st.builds(Cable, st.none() | st.floats(0.1, 100), st.none() | st.floats(0, 500)),
    st.builds(Overload, st.none() | st.floats(0.1, 500), st.sampled_from([None, 10]), st.booleans(), st.booleans()),
    st.builds(Calling, st.none() | st.floats(1, 1e6), st.none() | st.floats(1, 4000), st.none() | st.floats(10, 9000)),
)
subjects = st.builds(
    Subject,
    plates,
    windings,
    st.sampled_from(list(CRITERIA.values())),
    st.sampled_from([None, *SupplySystem]),
    st.none() | st.floats(100, 15000),
    positions,
    st.builds(Fittings, st.just("foot"), st.none(), st.just(()), st.booleans(), st.none() | st.floats(0.1, 900)),
    st.none() | plates,
    st.dictionaries(st.sampled_from(["low", "high"]), plates),
)
records = st.builds(
    JobRecord,
    subjects,
    conditions,
    st.lists(tests, max_size=5).map(tuple),
    st.just(()),
    st.sampled_from(Occasion),
)


@given(records)
def test_no_record_makes_it_raise_and_every_code_is_known(record):
    whole = assess(record)
    findings = [*whole.findings, *whole.plate, *whole.position, *whole.instruments]
    assert {f.code for f in findings} <= set(CATALOGUE)
    assert all(f.text and f.source for f in findings)
    assert len(whole.results) == len(record.tests)
    kinds = {type(t) for t in record.tests}
    if not {ResistanceTest, InsulationTest} <= kinds:
        assert whole.decision.verdict is not Verdict.SOUND


def test_each_kind_of_test_has_a_name_of_its_own():
    assert len({kind.name for kind in KINDS}) == len({kind.made for kind in KINDS}) == len(KINDS)


def test_an_empty_record_is_unproven_and_says_what_is_missing():
    whole = assess(JobRecord(Subject(Plate(()))))
    assert whole.decision.action == "test-more"
    assert whole.decision.missing == (
        "winding_resistance.1-2", "winding_resistance.2-3", "winding_resistance.3-1", "insulation.1-2-3.60",
        "supply_voltage.L1-L2", "supply_voltage.L2-L3", "supply_voltage.L3-L1",
        "line_current.L1", "line_current.L2", "line_current.L3",
    )  # fmt: skip
    assert len(whole.decision.missing_words) == len(whole.decision.missing)


def test_overdue_calibration_is_a_finding_not_a_block():
    meter = InstrumentRange("M9", "ohm", calibration_due=date(2026, 1, 1))
    record = JobRecord(Subject(Plate((460,))), Conditions(on=date(2026, 3, 1)), (), (meter,))
    assert [f.code for f in assess(record).instruments] == ["calibration-overdue"]


def test_a_coarse_reading_gives_way_to_a_finer_one_of_the_same_thing():
    def ohms(*values, count):
        pairs = zip(("1-2", "2-3", "3-1"), values, strict=True)
        return {pair: Reading(str(v), Shown.VALUE, Amount.exact(v), count) for pair, v in pairs}

    coarse, fine = ResistanceTest(ohms(0.6, 0.6, 0.6, count=0.1)), ResistanceTest(ohms(0.6, 0.601, 0.6, count=0.001))
    alone = assess(JobRecord(Subject(Plate((460,))), tests=(coarse,))).decision
    both = assess(JobRecord(Subject(Plate((460,))), tests=(coarse, fine))).decision
    assert len(alone.unproven) == 3
    assert both.unproven == ()
