"""An overload's setting against the plate."""

import pytest

from grimcoil.core.circuit.overload import overload_findings
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Overload

PLATE = Plate((460,), (21.0,), service_factor=1.15)


@pytest.mark.parametrize(
    ("relay", "plate", "code"),
    [
        (Overload(21), PLATE, "overload-dial-fits"),
        (Overload(23), PLATE, "overload-dial-high"),
        (Overload(26), PLATE, "overload-trips-high"),
        (Overload(24), Plate((460,), (21.0,)), "overload-trips-high"),
        (Overload(18), PLATE, "overload-dial-low"),
        (Overload(12.1, inside_delta=True), PLATE, "overload-dial-fits"),
        (Overload(21, inside_delta=True), PLATE, "overload-trips-high"),
        (Overload(21, 10, run_up_s=12), PLATE, "overload-class-short"),
        (Overload(21, automatic_reset=True), PLATE, "overload-automatic-reset"),
        (Overload(), PLATE, None),
    ],
)
def test_overload_settings(relay, plate, code):
    found = [finding.code for finding in overload_findings(relay, plate)]
    assert code in found if code else found == []
