"""Our own readings as they went out come back in: one a row, what it is told by its place."""

import json
from datetime import UTC, date, datetime
from types import SimpleNamespace

import pytest

from grimcoil.exchange.sheets.grid import read_book
from grimcoil.exchange.sheets.long_table import column_of
from grimcoil.exchange.sheets.mapping import read_map
from grimcoil.exchange.sheets.propose import propose
from grimcoil.exchange.sheets.taken import Register
from grimcoil.exchange.sheets.understand import understand
from grimcoil.exchange.trails import READINGS, reading_lines
from grimcoil.exchange.workbooks import as_xlsx, reading_row

TODAY, AT = date(2026, 11, 24), datetime(2026, 11, 20, 9, tzinfo=UTC)
KEPT = [
    ("winding_resistance.1-2", "0,412", "Ω", None),
    ("winding_resistance.2-3", "415m", "Ω", None),
    ("winding_resistance.2-3@panel", "0.52", "Ω", None),
    ("insulation.1-2-3.60", ">550", "MΩ", None),
    ("insulation.1-2-3.60#2", "520", "MΩ", None),
    ("insulation.1-2-3.volts", "500", "V", None),
    ("temperature.winding", "68", "°F", None),
    ("line_current.L1", "19.6", "A", None),
    ("winding_resistance.3-1", "4,1", "Ω", AT),
]


def rows():
    for place, text, unit, gone in KEPT:
        given = {"job_id": 7, "tested_on": date(2026, 11, 20), "place": place, "text": text, "unit": unit, "low": None}
        yield "BW-1", SimpleNamespace(**given, high=None, at=AT, who="A", instrument=None, taken_back_at=gone)


def came(book):
    made = propose(book, TODAY)
    assert made["ask"] == []
    return understand(book, read_map(json.dumps(made)), TODAY, Register(tags=("BW-1",))).document()


@pytest.mark.parametrize("name", ["readings.csv", "readings.xlsx"])
def test_each_reading_is_what_its_place_says(name):
    if name.endswith("csv"):
        raw = "".join(reading_lines(rows())).encode()
    else:
        raw = as_xlsx("Readings", READINGS, [reading_row(tag, row) for tag, row in rows()])
    told = came(read_book(raw, name))
    understood = {(one["field"], one.get("pair"), one.get("t_s")): one["read_as"] for one in told["understood"]}
    assert {key: (one["value"], one["bound"]) for key, one in understood.items()} == {
        ("winding_resistance", "1-2", None): (0.412, "exact"),
        ("winding_resistance", "2-3", None): (0.415, "exact"),
        ("insulation", None, 60.0): (550.0, "above"),
        ("test_voltage_v", None, None): (500.0, "exact"),
        ("winding_temperature_c", None, None): (20.0, "exact"),
    }
    assert [(one["row"], one["why"]) for one in told["left_out"]] == [
        (4, "place"), (6, "place"), (9, "place"), (10, "taken-back"),
    ]  # fmt: skip
    assert told["asked"] == told["refused"] == []


def test_a_place_that_no_sheet_brings_is_none():
    for place in ("winding_resistance.1-2@panel", "insulation.1-2-3.60#2", "isolate.tag", "", "x" * 500):
        assert column_of(place, "Ω") is None


SHEET = "Motor;Date;R 1-2\nBW-1;2024-03-02;0,41\nbearing howled all week;;\nBW-2;2024-03-04;0,52\nlast look;;\n"


def test_a_row_without_a_reading_is_a_remark_where_it_is_told_to_be_one():
    """Of the motor and the day that stand above it; before any, and unanswered, it stays left out."""
    columns = {"Motor": {"as": "tag"}, "Date": {"as": "date"}, "R 1-2": {"as": "winding_resistance", "pair": "1-2"}}
    given = {"format": "grimcoil-map/1", "columns": columns, "answers": {"A3": "remark", "A2": "remark"}}
    known = Register(tags=("BW-1", "BW-2"))
    book = read_book(SHEET.encode(), "yard.csv")
    done = understand(book, read_map(json.dumps(given | {"answers": {"A3": "remark"}})), TODAY, known)
    notes = [(one.tag, str(one.on), one.text) for one in done.taken if one.read is None]
    assert notes == [("BW-1", "2024-03-02", "bearing howled all week")]
    assert [(one["row"], one["why"]) for one in done.left_out] == [(5, "remark")]
    early = read_book(("Motor;Date;R 1-2\nfor the yard;;\n" + SHEET.split("\n", 1)[1]).encode(), "yard.csv")
    done = understand(early, read_map(json.dumps(given | {"answers": {"A2": "remark"}})), TODAY, known)
    assert [one["row"] for one in done.left_out] == [2, 4, 6]


def test_below_a_row_whose_motor_is_asked_nothing_is_a_remark_of_the_one_above():
    columns = {"Motor": {"as": "tag"}, "Date": {"as": "date"}, "R 1-2": {"as": "winding_resistance", "pair": "1-2"}}
    text = "Motor;Date;R 1-2\nBW-1;2024-03-02;0,41\n;2024-03-04;0,52\nbearing howled;;\n"
    given = {"format": "grimcoil-map/1", "columns": columns, "answers": {"A4": "remark"}}
    done = understand(read_book(text.encode(), "y.csv"), read_map(json.dumps(given)), TODAY, Register(tags=("BW-1",)))
    assert [one["cell"] for one in done.asked] == ["A3"]
    assert [one for one in done.taken if one.read is None] == []
    assert [one["row"] for one in done.left_out] == [4]
