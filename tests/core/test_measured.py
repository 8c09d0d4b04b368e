"""What hangs on the tester: as said, else by the place."""

import pytest

from grimcoil.core.measured import Hookup, InsulationTest, JobRecord
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Subject


@pytest.mark.parametrize(
    ("hookup", "scope"),
    [
        (Hookup("starter"), "motor+cable"),
        (Hookup("motor-box"), "motor"),
        (Hookup("cable"), "cable"),
        (Hookup("starter", scope="cable"), "cable"),
        (Hookup(), None),
    ],
)
def test_scope_by_the_place_unless_said(hookup, scope):
    assert InsulationTest((), hookup=hookup).scope == scope


@pytest.mark.parametrize(("to", "frame"), [(("frame",), True), ((), True), (("2", "frame"), True), (("2",), False)])
def test_nothing_named_on_the_other_side_is_the_frame(to, frame):
    assert InsulationTest((), to=to).to_frame == frame


def test_a_record_of_nothing_is_a_routine_job_without_tests():
    record = JobRecord(Subject(Plate((460,))))
    assert (record.tests, record.occasion) == ((), "routine")
