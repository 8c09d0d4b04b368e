"""A list's cells as fields of a plate: values by their words, leads by their number, what is open asked."""

import pytest

from grimcoil.core.choices import Criticality, InsulationClass, LeadScheme
from grimcoil.core.errors import RecordRefusal, UnclearReading
from grimcoil.core.plate_fields import FIELDS, read_fields


@pytest.mark.parametrize(
    ("name", "text", "value"),
    [
        ("plate.insulation_class", "f", InsulationClass.F),
        ("plate.lead_scheme", "6 leads", LeadScheme.SIX),
        ("plate.lead_scheme", "nine lead delta", LeadScheme.NINE_DELTA),
        ("plate.service_factor", "1,15", "1.15"),
        ("position.criticality", "Critical", Criticality.CRITICAL),
        ("position.criticality", "easy spare", Criticality.EASY_SPARE),
        ("position.system_voltage_v", "0,4 kV", "400"),
        ("plate.built_year", "1998", "1998"),
        ("plate.power", "15 PS", "15 PS"),
    ],
)
def test_a_cell_is_read_by_its_field(name, text, value):
    assert read_fields(name, text, 2026) == {name: value}


def test_nine_leads_are_asked_and_a_voltage_alone_is_one_field():
    with pytest.raises(UnclearReading) as asked:
        read_fields("plate.lead_scheme", "9", 2026)
    assert asked.value.choices == ("nine-lead-wye", "nine-lead-delta", "unknown")
    assert read_fields("plate.full_load_current_a", "19,6/9,8", 2026) == {
        "plate.full_load_current_a": "19.6", "plate.full_load_current_2_a": "9.8",
    }  # fmt: skip
    assert read_fields("plate.connected_voltage_v", "400", 2026) == {"plate.connected_voltage_v": "400"}


@pytest.mark.parametrize("name", FIELDS)
def test_what_no_field_can_hold_is_refused(name):
    with pytest.raises(RecordRefusal):
        read_fields(name, "—" * 101, 2026)
