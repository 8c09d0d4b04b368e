"""All tests together: nothing makes it raise, every code it uses is in the catalogue."""

from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.amount import Amount
from grimcoil.core.assessment import assess
from grimcoil.core.criteria import CRITERIA
from grimcoil.core.findings import CATALOGUE, Verdict
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.plate import Plate
from grimcoil.core.readings import Reading, Shown
from grimcoil.core.subject import (
    AccessoryTest,
    Conditions,
    ContactTest,
    CurrentTest,
    InsulationTest,
    JobRecord,
    ResistanceTest,
    Subject,
    SupplyTest,
    Timed,
    Winding,
)

figures = st.one_of(st.just(0.0), st.floats(1e-9, 1e13))
amounts = figures.flatmap(
    lambda v: st.sampled_from([Amount.exact(v), Amount.above(v), Amount.below(v), Amount(v / 2, v)])
)
readings = st.builds(Reading, st.just("x"), st.sampled_from(Shown), amounts, st.none() | st.floats(1e-6, 10))
meters = st.none() | st.builds(InstrumentRange, st.just("M"), st.just("ohm"), st.floats(1e-3, 1e12), st.floats(1e-6, 1))
conditions = st.builds(
    Conditions,
    *[st.none() | st.floats(-40, 200)] * 2,
    st.none() | st.floats(1, 100),
    st.none() | st.just(date(2026, 1, 1)),
)


def by(names, least=0):
    return st.dictionaries(st.sampled_from(names), readings, min_size=least, max_size=4)


tests = st.one_of(
    st.builds(ResistanceTest, by(["1-2", "2-3", "3-1", "U-V", "1-4"]), conditions, meters, st.floats(0, 2)),
    st.builds(
        InsulationTest,
        st.lists(st.builds(Timed, st.sampled_from([10, 30, 60, 600]), readings), max_size=4).map(tuple),
        st.none() | st.floats(50, 10000),
        conditions,
        meters,
        st.sampled_from([1, 2, 3]),
    ),
    st.builds(SupplyTest, by(["L1-L2", "L2-L3", "L3-L1"]), by(["L1", "L2", "L3"])),
    st.builds(CurrentTest, by(["L1", "L2", "L3"]), st.dictionaries(st.sampled_from(["L1", "L2"]), st.floats(0, 5))),
    st.builds(ContactTest, by(["L1", "L2", "L3"]), st.none() | st.floats(0, 100)),
    st.builds(AccessoryTest, st.sampled_from(["thermostat", "rtd", "x"]), st.none() | readings, st.none() | readings),
)
plates = st.builds(
    Plate,
    st.lists(st.floats(10, 15000), max_size=2).map(tuple),
    st.lists(st.floats(0.1, 5000), max_size=2).map(tuple),
    st.none() | st.floats(10, 15000),
    st.none() | st.sampled_from([50.0, 60.0]),
    st.none() | st.floats(1, 1e7),
    st.none() | st.floats(1, 30000),
    st.floats(1, 2),
    st.sampled_from([None, "A", "F"]),
    st.none() | st.integers(1900, 2030),
)
subjects = st.builds(
    Subject,
    plates,
    st.builds(Winding, st.sampled_from(["random", "form"]), st.sampled_from(["thermosetting", "thermoplastic"])),
    st.sampled_from(list(CRITERIA.values())),
    st.sampled_from([None, "wye-earthed", "unearthed", "high-leg"]),
    st.none() | st.floats(100, 15000),
)


@given(st.builds(JobRecord, subjects, conditions, st.lists(tests, max_size=4).map(tuple)))
def test_no_record_makes_it_raise_and_every_code_is_known(record):
    whole = assess(record)
    findings = [*whole.findings, *whole.plate, *whole.instruments]
    assert {f.code for f in findings} <= set(CATALOGUE)
    assert all(f.text for f in findings)
    kinds = {type(t) for t in record.tests}
    if not {ResistanceTest, InsulationTest} <= kinds:
        assert whole.decision.verdict is not Verdict.SOUND


def test_an_empty_record_is_unproven_and_says_what_is_missing():
    whole = assess(JobRecord(Subject(Plate(()))))
    assert whole.decision.action == "test-more"
    assert len(whole.decision.missing) == 4


def test_overdue_calibration_is_a_finding_not_a_block():
    meter = InstrumentRange("M9", "ohm", calibration_due=date(2026, 1, 1))
    record = JobRecord(Subject(Plate((460,))), Conditions(on=date(2026, 3, 1)), (), (meter,))
    assert [f.code for f in assess(record).instruments] == ["calibration-overdue"]
