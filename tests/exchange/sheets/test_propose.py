"""Sheets of the shapes that people keep: the map that is proposed reads them as a person would."""

import io
import json
from datetime import date

import openpyxl
import pytest

from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.sheets.grid import read_book
from grimcoil.exchange.sheets.mapping import read_map
from grimcoil.exchange.sheets.propose import propose
from grimcoil.exchange.sheets.taken import Register
from grimcoil.exchange.sheets.understand import understand

TODAY = date(2026, 11, 24)
SHORT = {"insulation": "ir", "winding_resistance": "ohms"}


def both(raw, name="x.csv"):
    book = read_book(raw, name)
    made = propose(book, TODAY)
    given = read_map(json.dumps(made))
    return made, understand(read_book(raw, name, given.encoding, given.delimiter), given, TODAY, Register()).document()


def read_as(told):
    taken = [one for one in told["understood"] if one["read_as"]]
    return [(one["tag"], one["date"], SHORT.get(one["field"], ""), one["read_as"]["value"]) for one in taken]


PLAIN = (
    "Motor,Date,Insulation MΩ,1-2,2-3,3-1,Temp °F,RH,PI,Remarks\nBW-114,2024-03-14,>550,0.84,0.85,0.84,72,55,2.1,fine\n"
)
SEMI = "Antrieb;Datum;Isolation [MΩ];U-V [Ω]\nBW-114;14.3.24;520;0,84\nBW-115;15.3.24;OL;1,204\n"
TWO_ROWS = "Motor,Date,Insulation,Insulation\n,,T1-E,T2-E\nBW-114,2024-03-14,520,510\n"
PACKED = "Tag,Tested,R 1-2/2-3/3-1\nBW-114,2024-03-14,0.84/0.85/0.84\n"
WIDE = "Motor,2019,2020,2021\nBW-114,520,510,500\nBW-115,OL,480,470\n"
BY_MOTOR = "Date,PP-122,PP-123\n2024-03-14,520,480\n2025-03-14,510,470\n"
SLASHES = "Motor,Date,IR\nBW-114,25/3/2024,520\nBW-115,3/4/2024,510\n"
UNSURE = "Motor,Date,IR\nBW-114,3/4/2024,520\nBW-115,4/5/2024,510\n"
TITLED = "Motor: PP-122,,\n,,\nDate,IR,Note\n2024-03-14,520,wet\n"
TOTALS = "Motor,Date,IR (MΩ)\nBW-114,2024-03-14,520\nBW-115,2024-03-14,480\nMean,,500\n"
UNITS = "Motor,Date,Insulation,1-2\n,,GΩ,mΩ\nBW-114,2024-03-14,1.2,840\n"
HELD = "Motor,Date,T1-E 60 s,T1-E 10 min\nBW-114,2024-03-14,520,1450\n"
TABBED = "Motor\tDate\tMegger\nBW-114\t2024-03-14\t520\n"

EXPECTED = {
    "plain": (PLAIN, [("BW-114", "2024-03-14", "ir", 550.0), ("BW-114", "2024-03-14", "ohms", 0.84)]),
    "semicolons and commas": (SEMI, [("BW-114", "2024-03-14", "ir", 520.0), ("BW-114", "2024-03-14", "ohms", 0.84)]),
    "two rows of headings": (TWO_ROWS, [("BW-114", "2024-03-14", "ir", 520.0), ("BW-114", "2024-03-14", "ir", 510.0)]),
    "three in a cell": (PACKED, [("BW-114", "2024-03-14", "ohms", 0.84)]),
    "a column a motor": (BY_MOTOR, [("PP-122", "2024-03-14", "ir", 520.0), ("PP-123", "2024-03-14", "ir", 480.0)]),
    "one order only": (SLASHES, [("BW-114", "2024-03-25", "ir", 520.0), ("BW-115", "2024-04-03", "ir", 510.0)]),
    "named above": (TITLED, [("PP-122", "2024-03-14", "ir", 520.0)]),
    "a mean below": (TOTALS, [("BW-114", "2024-03-14", "ir", 520.0), ("BW-115", "2024-03-14", "ir", 480.0)]),
    "a row of units": (UNITS, [("BW-114", "2024-03-14", "ir", 1200.0), ("BW-114", "2024-03-14", "ohms", 0.84)]),
    "holds": (HELD, [("BW-114", "2024-03-14", "ir", 520.0), ("BW-114", "2024-03-14", "ir", 1450.0)]),
    "tabs": (TABBED, [("BW-114", "2024-03-14", "ir", 520.0)]),
}  # fmt: skip


@pytest.mark.parametrize("name", EXPECTED)
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16"])
def test_it_is_read_as_a_person_would(name, encoding):
    text, expected = EXPECTED[name]
    made, told = both(text.encode(encoding))
    found = read_as(told)
    assert [one for one in expected if one not in found] == []
    assert made["ask"] == []


def test_windows_letters():
    made, told = both(SEMI.replace("MΩ", "M").replace("Ω", "").encode("windows-1252"))
    assert made["encoding"] == "windows-1252" or made["encoding"] == "utf-8"
    assert told["rows"] == 2


def test_what_it_cannot_know_it_asks():
    made, told = both(UNSURE.encode())
    assert [(one["about"], one["key"]) for one in made["ask"]] == [("Date", "order")]
    assert "order" not in made["columns"]["Date"]
    assert [one["cell"] for one in told["asked"]] == ["B2", "B3"]


def test_years_ask_once_which_day_of_them():
    made, told = both(WIDE.encode())
    assert [one["key"] for one in made["ask"]] == ["incomplete_dates"]
    assert len(told["asked"]) == 6
    given = read_map(json.dumps(made | {"incomplete_dates": "middle"}))
    told = understand(read_book(WIDE.encode(), "x.csv"), given, TODAY, Register()).document()
    assert ("BW-114", "2019-07-01", "ir", 520.0) in read_as(told)
    assert told["rows"] == 2


def test_derived_columns_are_left_out():
    made, _ = both(PLAIN.encode())
    assert made["columns"]["PI"] == {"as": "leave_out"}
    assert made["columns"]["Temp °F"] == {"as": "winding_temperature_c", "unit": "°F"}
    assert made["columns"]["RH"] == {"as": "relative_humidity_percent"}
    assert made["columns"]["Remarks"] == {"as": "note"}


def test_one_tab_a_motor_and_one_that_sums_up():
    book = openpyxl.Workbook()
    for name in ("BW-114", "PP-122"):
        sheet = book.create_sheet(name)
        sheet.append(["Date", "IR"])
        sheet.append(["2024-03-14", 520])
    book.remove(book.worksheets[0])
    book.create_sheet("Summary").append(["Best", "Worst"])
    out = io.BytesIO()
    book.save(out)
    made, told = both(out.getvalue(), "x.xlsx")
    assert made["tag"] == {"from": "tab"}
    assert made["tabs"] == {"Summary": None}
    assert [one["tag"] for one in told["understood"]] == ["BW-114", "PP-122"]


@pytest.mark.parametrize("heading", ["Mot Nr", "Motor No.", "Maschine Nr", "Tag #", "Equipment ID", "drive", "Where"])
def test_the_motors_column_by_its_heading_or_its_cells(heading):
    made, told = both(f"{heading},Date,IR\nBW-114,2024-03-14,520\nPP 122,2024-03-14,480\n".encode())
    assert made["columns"][heading] == {"as": "tag"}
    assert [one["tag"] for one in told["understood"]] == ["BW-114", "PP 122"]


def test_two_columns_that_look_like_tags_are_asked():
    sheet = b"Where,Serial,Date,IR\nBW-114,SN-1,2024-03-14,520\nPP 122,SN-2,2024-03-14,480\n"
    made = propose(read_book(sheet, "x.csv"), TODAY)
    assert [(one["key"], one["choices"]) for one in made["ask"]] == [("tag", ["Where", "Serial"])]
    with pytest.raises(RecordRefusal, match="names the motor"):
        both(sheet)


@pytest.mark.parametrize(
    "sheet", [b"BW-1,2024-03-14,520\nBW-2,2024-03-15,530\n", b"BW-1;14.03.2024;0,84\nBW-2;15.03.2024;0,9\n"]
)
def test_a_sheet_without_headings_keeps_its_first_row(sheet):
    made = propose(read_book(sheet, "x.csv"), TODAY)
    assert made["headings"] == []
    assert made["columns"]["[A]"] == {"as": "tag"}
    assert made["columns"]["[B]"]["as"] == "date"
    made["columns"]["[C]"] = {"as": "insulation", "unit": "MΩ"}
    given = read_map(json.dumps(made))
    told = understand(read_book(sheet, "x.csv", given.encoding, given.delimiter), given, TODAY, Register()).document()
    assert [one["tag"] for one in told["understood"]] == ["BW-1", "BW-2"]


ROW = "BW-114,2024-03-14,520,510,500"
EACH_LEAD = [("1", "frame", 520.0), ("2", "frame", 510.0), ("3", "frame", 500.0)]
HEADED = {
    "a group over leads": f"Motor,Date,Megger,,\n,,T1,T2,T3\n{ROW}\n",
    "a title above": f"Yard tests 2024,,,,\nMotor,Date,Megger,,\n,,T1,T2,T3\n{ROW}\n",
    "a title of two cells": f"Yard tests,done by the shift,,,\nMotor,Date,Megger,,\n,,T1,T2,T3\n{ROW}\n",
    "no gap in the second line": f"Motor,Test,Megger,Megger,Megger\nNo.,date,T1,T2,T3\n{ROW}\n",
    "one tag beside its word": "Motor,BW-114,,\nBy,the shift,,\nDate,Megger T1-E,T2-E,T3-E\n2024-03-14,520,510,500\n",
}


@pytest.mark.parametrize("shape", HEADED)
def test_titles_groups_and_second_lines_are_joined_rightly(shape):
    made, told = both(HEADED[shape].encode())
    assert made["ask"] == []
    read = [(*one["from"], *one["to"], one["read_as"]["value"]) for one in told["understood"]]
    assert read == EACH_LEAD
    assert {(one["tag"], one["date"]) for one in told["understood"]} == {("BW-114", "2024-03-14")}
    assert told["refused"] == told["asked"] == []


UNDER = {
    "Megger / 1-2": {"as": "insulation", "from": "1", "to": "2"},
    "IR MOhm": {"as": "insulation", "from": "1-2-3", "to": "frame", "unit": "MΩ"},
    "MOHM 1 min": {"as": "insulation", "from": "1-2-3", "to": "frame", "t_s": 60.0, "unit": "MΩ"},
    "1-2 mOhm": {"as": "winding_resistance", "pair": "1-2", "unit": "mΩ"},
    "U1 Megohm": {"as": "insulation", "from": "1", "to": "frame", "unit": "MΩ"},
    "IR W2": {"as": "insulation", "from": "1-2-3", "to": "frame"},
}


@pytest.mark.parametrize("heading", UNDER)
def test_what_a_heading_is_taken_for(heading):
    made, _ = both(f"Motor,Date,{heading}\nBW-114,2024-03-14,520\nBW-115,2024-03-15,510\n".encode())
    assert made["columns"][heading] == UNDER[heading]


def test_tabs_that_begin_lower_down_are_read_by_their_own_rows():
    book = openpyxl.Workbook()
    for name, above in (("BW-114", 0), ("BW-115", 2)):
        tab = book.create_sheet(name)
        for line in ["Yard tests", "by the shift"][:above]:
            tab.append([line])
        tab.append(["Date", "Megger MΩ"])
        tab.append([date(2024, 3, 14), 520])
    del book[book.sheetnames[0]]
    out = io.BytesIO()
    book.save(out)
    made, told = both(out.getvalue(), "x.xlsx")
    assert made["tabs"] == {"BW-115": {"headings": [3]}}
    assert read_as(told) == [("BW-114", "2024-03-14", "ir", 520.0), ("BW-115", "2024-03-14", "ir", 520.0)]
