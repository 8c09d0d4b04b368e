"""Sheets as people keep them: each cell understood, asked, refused or left out as told."""

import io
import json
import zipfile
from dataclasses import replace
from datetime import date, datetime
from statistics import median

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.tags import is_tag
from grimcoil.exchange.sheets.days import read_day
from grimcoil.exchange.sheets.grid import read_book
from grimcoil.exchange.sheets.layout import is_total, tag_key
from grimcoil.exchange.sheets.mapping import read_map
from grimcoil.exchange.sheets.propose import propose
from grimcoil.exchange.sheets.settle import median_without
from grimcoil.exchange.sheets.taken import Register
from grimcoil.exchange.sheets.understand import understand

TODAY = date(2026, 11, 24)
IR = {"as": "insulation", "from": "1-2-3", "to": "frame"}
BASE = {"Motor": {"as": "tag"}, "Date": {"as": "date"}, "IR": IR, "1-2": {"as": "winding_resistance", "pair": "1-2"}}


def csv_book(text, encoding="utf-8", **more):
    return read_book(text.encode(encoding), "sheet.csv", **more)


def read(text, columns=BASE, known=(), **keys):
    given = read_map(json.dumps({"format": "grimcoil-map/1", "columns": columns} | keys))
    book = csv_book(text) if isinstance(text, str) else text
    return understand(book, given, TODAY, Register(tags=known)).document()


def row(*cells):
    return "Motor,Date,IR,1-2\n" + "\n".join(cells) + "\n"


def values(told):
    return [one["read_as"] and one["read_as"]["value"] for one in told["understood"]]


def test_a_plain_row_is_understood_whole():
    told = read(row("BW-114,2024-03-14,>550,0.84"))
    assert told["rows"] == 1
    assert told["taken"] == 2
    first, second = told["understood"]
    assert first["read_as"] == {"value": 550.0, "bound": "above", "unit": "MΩ", "words": "more than 550 megohms"}
    assert (first["cell"], first["row"], first["column"], first["sheet"]) == ("C2", 2, "IR", None)
    assert (first["tag"], first["date"], first["field"], first["from"], first["to"]) == (
        "BW-114", "2024-03-14", "insulation", ["1", "2", "3"], ["frame"],
    )  # fmt: skip
    assert (second["pair"], second["read_as"]["value"], second["text"]) == ("1-2", 0.84, "0.84")
    assert told["new_motors"] == ["BW-114"]


@pytest.mark.parametrize(
    ("text", "decimal", "value"),
    [
        ("0.476", None, 0.476), ("0,476", None, 0.476), ("12,5", ".", 12.5), ("1,204", ",", 1.204),
        ("1.204,5", ",", 1204.5), ("1,204.5", ".", 1204.5), ("0.476", ",", 0.476), ("1,204", ".", "ask"),
        ("1.204", ",", "ask"), ("1,204", None, "ask"), ("12.345.678", ",", 12345678.0),
    ],
)  # fmt: skip
def test_figures_by_the_files_decimal_sign(text, decimal, value):
    keys = {"decimal": decimal} if decimal else {}
    told = read(f'Motor;Date;IR;1-2\nBW-114;2024-03-14;;"{text}"\n', **keys)
    if value == "ask":
        assert told["asked"][0]["found"] == text
        assert told["taken"] == 0
    else:
        assert values(told) == [value]


@pytest.mark.parametrize(
    ("text", "question"),
    [("0", "short"), ("zero", "short"), ("0.0", "short"), ("2 mΩ", "leave out"), ("520 480 510", "leave out")],
)
def test_insulation_that_is_asked(text, question):
    told = read(row(f"BW-114,2024-03-14,{text},"))
    assert [one["cell"] for one in told["asked"]] == ["C2"]
    assert question in told["asked"][0]["choices"]
    assert told["taken"] == 0


@pytest.mark.parametrize("text", ["ok", "burnt", "beep", "see note"])
def test_words_that_are_no_reading_are_refused(text):
    told = read(row(f"BW-114,2024-03-14,{text},0.84"))
    assert [(one["cell"], one["found"]) for one in told["refused"]] == [("C2", text)]
    assert told["taken"] == 1


@pytest.mark.parametrize("text", ["", "-", "–", "n/a"])
def test_no_reading_is_passed_over(text):
    told = read(row(f"BW-114,2024-03-14,{text},0.84"))
    assert (told["taken"], told["asked"], told["refused"]) == (1, [], [])


def test_a_beep_and_an_over_range_are_bounds():
    told = read(row("BW-114,2024-03-14,OL,beep"))
    assert [(one["read_as"]["value"], one["read_as"]["bound"]) for one in told["understood"]] == [
        (None, "above"),
        (None, "nothing"),
    ]


def test_a_band_is_between():
    told = read(row("BW-114,2024-03-14,10-100,"))
    assert told["understood"][0]["read_as"] | {"words": ""} == {
        "value": 10.0, "high": 100.0, "bound": "between", "unit": "MΩ", "words": "",
    }  # fmt: skip


def test_units_of_the_column_hold_for_bare_figures_only():
    columns = BASE | {"IR": IR | {"unit": "kΩ"}, "1-2": {"as": "winding_resistance", "pair": "1-2", "unit": "mΩ"},
                      "T": {"as": "winding_temperature_c", "unit": "°F"}}  # fmt: skip
    told = read("Motor,Date,IR,1-2,T\nBW-114,2024-03-14,520,840,72\nBW-114,2024-03-15,520M,0.84 Ω,\n", columns)
    assert values(told) == pytest.approx([0.52, 0.84, 22.2222222, 520.0, 0.84])


def test_a_figure_a_thousand_times_its_neighbours_is_asked():
    rows = [f"BW-114,2024-03-{d:02},,{v}" for d, v in ((1, "0.84"), (2, "0.85"), (3, "840"))]
    told = read(row(*rows))
    assert [one["cell"] for one in told["asked"]] == ["D4"]
    written = read(row(*rows[:2], "BW-114,2024-03-03,,840 Ω"))
    assert (written["asked"], written["taken"]) == ([], 3)
    two = read(row(*rows[1:]))
    assert two["asked"] == []


def test_one_test_with_two_values_asks_all_its_cells_and_the_same_again_is_a_duplicate():
    told = read(row("BW-114,2024-03-14,520,0.84", "bw 114,14.3.24,480,0.84"))
    assert sorted(one["cell"] for one in told["asked"]) == ["C2", "C3"]
    assert told["duplicates"] == [
        {"sheet": None, "row": 3, "column": "1-2", "cell": "D3", "tag": "BW-114", "date": "2024-03-14",
         "field": "winding_resistance", "same_as": "D2"}
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("day", "on"),
    [
        ("2024-03-14", "2024-03-14"), ("20240314", "2024-03-14"), ("14.3.24", "2024-03-14"), ("3/3/24", "2024-03-03"),
        ("14 Mar 2024", "2024-03-14"), ("March 14, 2024", "2024-03-14"), ("14.3.98", "1998-03-14"),
        ("25/3/2024", "2024-03-25"), ("3/25/2024", "2024-03-25"),
    ],
)  # fmt: skip
def test_days(day, on):
    assert read_day(day, TODAY).on == date.fromisoformat(on)


@pytest.mark.parametrize("day", ["31.2.24", "2027-01-01", "1949-12-31", "soon", "14.13.2024", "2024-00-10"])
def test_days_that_are_none_are_refused_and_the_row_waits(day):
    told = read(row(f"BW-114,{day},520,ok"))
    assert [one["cell"] for one in told["refused"]] == ["B2"]
    assert told["refused"][0]["accepted"].startswith("a day up to today")
    assert (told["taken"], told["asked"]) == (0, [])


@pytest.mark.parametrize("day", ["3/4/24", "Mar 24"])
def test_days_that_can_be_two_are_asked(day):
    told = read(row(f"BW-114,{day},520,"))
    assert [one["cell"] for one in told["asked"]] == ["B2"]


def test_the_order_and_the_middle_of_a_month_are_the_maps():
    columns = BASE | {"Date": {"as": "date", "order": "dmy"}}
    told = read(
        row("BW-114,3/4/24,520,", "BW-115,2019,510,", "BW-116,Mar 2020,500,"), columns, incomplete_dates="middle"
    )
    assert [one["date"] for one in told["understood"]] == ["2024-04-03", "2019-07-01", "2020-03-15"]
    assert [one["cell"] for one in read(row("BW-115,2019,510,"))["asked"]] == ["B2"]


def test_answers_settle_what_was_asked():
    text = row("BW-114,2024-03-14,0,0.84", ",2024-03-14,520,", "BW-116,3/4/24,500,")
    assert len(read(text)["asked"]) == 3
    told = read(text, answers={"C2": "OL", "A3": "BW-115", "B4": "2024-04-03"})
    assert (told["asked"], told["taken"]) == ([], 4)
    assert read(text, answers={"C2": "leave out", "A3": "leave out", "B4": "leave out"})["taken"] == 1


@pytest.mark.parametrize(
    ("one", "other", "same"),
    [("BW-114", "bw 114", True), ("BW-114", "BW114", True), ("BW-11-4", "BW-114", False), ("A B-1", "AB-1", False)],
)
def test_tags_are_one_however_written(one, other, same):
    assert (tag_key(one) == tag_key(other)) == same


def test_the_registers_spelling_holds():
    told = read(row("bw114,2024-03-14,520,"), known=["BW-114"])
    assert (told["understood"][0]["tag"], told["new_motors"]) == ("BW-114", [])


@pytest.mark.parametrize("tag", ["!BW", "x" * 41, "=1+1", "@me"])
def test_tags_that_are_none_are_refused(tag):
    assert not is_tag(tag)
    told = read(row(f"{tag},2024-03-14,520,"))
    assert [one["cell"] for one in told["refused"]] == ["A2"]


def test_a_ditto_sign_means_the_one_above_and_an_empty_tag_is_asked():
    told = read('Motor,Date,IR,1-2\nBW-114,2024-03-14,520,\n"""",2025-03-14,510,\n,2026-03-14,500,\n')
    assert [one["tag"] for one in told["understood"]] == ["BW-114", "BW-114"]
    assert [one["cell"] for one in told["asked"]] == ["A4"]


def test_totals_headings_units_and_remarks_are_left_out_and_said():
    text = (
        "Motor,Date,IR,1-2\n,,MΩ,Ω\nBW-114,2024-03-14,520,0.84\nMotor,Date,IR,1-2\npage total,,520,2.82\n"
        "checked by the yard crew,,,\n"
    )
    told = read(text, units_row=2)
    assert [(one["row"], one["why"]) for one in told["left_out"]] == [
        (2, "units"), (4, "headings"), (5, "total"), (6, "remark"),
    ]  # fmt: skip
    assert told["left_out"][2]["found"] == "page total | 520 | 2.82"
    assert told["rows"] == 1


@pytest.mark.parametrize(
    ("text", "total"), [("Σ", True), ("Mean:", True), ("average of 3", True), ("MAX-12", False), ("summer pump", False)]
)
def test_what_is_a_total(text, total):
    assert is_total(text) == total


PARTS = {"parts": [{"as": "winding_resistance", "pair": pair} for pair in ("1-2", "2-3", "3-1")]}


@pytest.mark.parametrize(
    "text", ["0.84/0.85/0.84", "0.84 | 0.85 | 0.84", "0.84; 0.85; 0.84", "0.84 0.85 0.84", "0.84-0.85-0.84"]
)
def test_several_readings_in_a_cell(text):
    told = read(f'Motor,Date,R\nBW-114,2024-03-14,"{text}"\n', {k: BASE[k] for k in ("Motor", "Date")} | {"R": PARTS})
    assert [(one["part"], one["pair"], one["read_as"]["value"]) for one in told["understood"]] == [
        (1, "1-2", 0.84), (2, "2-3", 0.85), (3, "3-1", 0.84),
    ]  # fmt: skip


@pytest.mark.parametrize("text", ["0.84/0.85", "0.84/burnt/0.84", "0.84/0.85/0.84/0.84"])
def test_several_readings_in_doubt_are_asked_whole(text):
    told = read(f'Motor,Date,R\nBW-114,2024-03-14,"{text}"\n', {k: BASE[k] for k in ("Motor", "Date")} | {"R": PARTS})
    assert ([one["cell"] for one in told["asked"]], told["taken"]) == (["C2"], 0)


@pytest.mark.parametrize(
    ("text", "column", "value"), [("1G2", "IR", 1200.0), ("0R476", "1-2", 0.476), ("R212", "1-2", 0.212)]
)
def test_a_letter_for_the_point_is_one_reading(text, column, value):
    told = read(f"Motor,Date,{column}\nBW-114,2024-03-14,{text}\n", {k: BASE[k] for k in ("Motor", "Date", column)})
    assert [one["read_as"]["value"] for one in told["understood"]] == [pytest.approx(value)]


def test_columns_that_are_a_motor_or_a_day():
    columns = {"Date": {"as": "date"}, "PP-122": IR | {"tag": "PP-122"}, "PP-123": IR | {"tag": "PP-123"}}
    told = read("Date,PP-122,PP-123\n2024-03-14,520,480\n", columns)
    assert [one["tag"] for one in told["understood"]] == ["PP-122", "PP-123"]
    wide = {"Motor": {"as": "tag"}, "2019": IR | {"date": "2019"}, "2020": IR | {"date": "2020"}}
    told = read("Motor,2019,2020\nBW-114,520,480\n", wide, incomplete_dates="middle")
    assert [one["date"] for one in told["understood"]] == ["2019-07-01", "2020-07-01"]


def test_headings_in_two_rows_and_names_that_stand_twice():
    columns = {
        "Motor": {"as": "tag"},
        "Date": {"as": "date"},
        "Insulation / T1-E": IR,
        "Ω [D]": BASE["1-2"],
        "[F]": {"as": "leave_out"},
    }
    text = "Motor,Date,Insulation,,,\n,,T1-E,Ω,Ω,\nBW-114,2024-03-14,520,0.84,0.9,x\n"
    told = read(text, columns, headings=[1, 2])
    assert [one["column"] for one in told["understood"]] == ["Insulation / T1-E", "Ω [D]"]


@pytest.mark.parametrize(
    ("document", "where"),
    [
        ({"columns": {"Moter": {"as": "tag"}}}, "columns.Moter"),
        ({"columns": {"Motor": {"as": "tag"}, "IR": {"as": "tag"}}}, "columns.IR"),
        ({"columns": {"IR": {"as": "megohms"}}}, "columns.IR.as"),
        ({"columns": {}, "colour": "red"}, "colour"),
        ({"columns": {"1-2": {"as": "winding_resistance"}}}, "columns.1-2.pair"),
        ({"columns": {"IR": IR | {"unit": "V"}}}, "columns.IR.unit"),
    ],
)
def test_a_map_that_cannot_be_used_says_where(document, where):
    with pytest.raises(RecordRefusal) as refused:
        read(row("BW-114,2024-03-14,520,0.84"), **document)
    assert refused.value.where == where


@pytest.mark.parametrize(
    ("raw", "where"),
    [
        (b'Motor,IR\nBW-114,"520\n', "row"),
        (b"Motor,IR\nBW-114,5\x0020\n", "row 2"),
        ("Motor,IR\nBW-114,520\n".encode("utf-16")[:-1], "row"),
    ],
)
def test_files_that_cannot_be_read_name_the_row(raw, where):
    with pytest.raises(RecordRefusal) as refused:
        read_book(raw, "sheet.csv")
    assert refused.value.where.startswith(where)


def test_an_encoding_that_is_named_holds():
    with pytest.raises(RecordRefusal, match="row 2"):
        read_book(b"Motor,IR\nBW-114,5\xff20\n", "sheet.csv", "utf-8")
    assert csv_book("Motor;Wert\nÖl-1;5\n", "windows-1252").encoding == "windows-1252"
    assert csv_book("Motor;Wert\nÖl-1;5\n", "utf-16").tabs[0].rows[2][0].text == "Öl-1"


def workbook(fill, epoch=None):
    book = openpyxl.Workbook()
    if epoch:
        book.epoch = epoch
    fill(book)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def plain_tab(book):
    sheet = book.active
    sheet.title = "2019"
    sheet.append(["Motor", "Date", "IR", "1-2"])
    sheet.append(["BW-114", datetime(2024, 3, 14, 10, 30), 520, 0.84])
    sheet.append(["BW-115", 45365.7, "550+", "0.85"])
    sheet.append(["BW-116", "2024-03-14", "=1/0", "=B2"])
    sheet.row_dimensions[3].hidden = True


def test_a_workbook_with_days_serials_hidden_rows_and_formulas():
    told = read(read_book(workbook(plain_tab), "x.xlsx"))
    assert [(one["sheet"], one["cell"], one["date"]) for one in told["understood"]][:2] == [
        ("2019", "C2", "2024-03-14"), ("2019", "D2", "2024-03-14"),
    ]  # fmt: skip
    assert [one.get("hidden", False) for one in told["understood"]] == [False, False, True, True]
    assert told["understood"][2]["date"] == "2024-03-14"
    assert [(one["cell"], one["sheet"]) for one in told["refused"]] == [("C4", "2019"), ("D4", "2019")]


def merged_tab(book):
    sheet = book.active
    sheet.append(["Motor", "Date", "IR", "1-2"])
    sheet.append(["BW-114", "2024-03-14", 520, None])
    sheet.append([None, "2025-03-14", 510, None])
    sheet.merge_cells("A2:A3")


def test_a_merged_cell_means_the_one_above():
    told = read(read_book(workbook(merged_tab), "x.xlsx"))
    assert [one["tag"] for one in told["understood"]] == ["BW-114", "BW-114"]
    assert told["asked"] == []


def motor_tabs(book):
    for name in ("BW-114", "PP-122"):
        sheet = book.create_sheet(name)
        sheet.append(["Date", "IR"])
        sheet.append(["2024-03-14", 520 if name == "BW-114" else 480])
    book.remove(book.worksheets[0])
    book.create_sheet("Summary").append(["Best", "Worst"])
    hidden = book.create_sheet("Old")
    hidden.append(["Date", "IR"])
    hidden.append(["2020-03-14", 1])
    hidden.sheet_state = "hidden"


def test_one_tab_a_motor():
    book = read_book(workbook(motor_tabs), "x.xlsx")
    told = read(book, {"Date": {"as": "date"}, "IR": IR}, tag={"from": "tab"}, tabs={"PP-122": {"tag": {"is": "PP-9"}}})
    assert [(one["tag"], one["sheet"]) for one in told["understood"]] == [("BW-114", "BW-114"), ("PP-9", "PP-122")]
    assert told["left_out"] == [{"sheet": "Summary", "row": None, "why": "tab", "found": "Summary"}]
    with pytest.raises(RecordRefusal):
        read(book, {"Date": {"as": "date"}, "IR": IR}, tag={"from": "tab"}, sheet="Old")


def test_an_earlier_first_day_of_serial_numbers():
    def fill(book):
        sheet = book.active
        sheet.append(["Motor", "Date", "IR", "1-2"])
        sheet.append(["BW-114", 43903, 520, None])

    told = read(read_book(workbook(fill, openpyxl.utils.datetime.MAC_EPOCH), "x.xlsx"))
    assert told["understood"][0]["date"] == "2024-03-14"


@given(st.lists(st.floats(0.001, 1e6), min_size=2, max_size=30), st.data())
def test_the_median_of_the_others(values, data):
    at = data.draw(st.integers(0, len(values) - 1))
    others = values[:at] + values[at + 1 :]
    assert median_without(sorted(values), values[at]) == pytest.approx(median(others))


DOCTYPE = '<!DOCTYPE x [<!ENTITY a "b">]><workbook/>'


@pytest.mark.parametrize("part", ["xl/workbook.xml", "xl/media/picture.png"])
@pytest.mark.parametrize(
    "written",
    [
        f'<?xml version="1.0"?>{DOCTYPE}'.encode(),
        f"<!-- {'x' * 70_000} -->{DOCTYPE}".encode(),
        b"<!--" + b"x" * ((1 << 20) - 10) + b"-->" + DOCTYPE.encode(),
        DOCTYPE.encode("utf-16"),
    ],
    ids=["at once", "after a comment", "over a seam", "two bytes a letter"],
)
def test_no_document_type_gets_in(part, written):
    typed = io.BytesIO()
    with zipfile.ZipFile(typed, "w") as packed:
        packed.writestr(part, written)
    with pytest.raises(RecordRefusal, match="document type"):
        read_book(typed.getvalue(), "x.xlsx")


def test_bounds_of_a_workbook():
    bomb = io.BytesIO()
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("xl/worksheets/sheet1.xml", b"0" * 210_000_000)
    with pytest.raises(RecordRefusal, match="200 MB"):
        read_book(bomb.getvalue(), "x.xlsx")
    for raw, name in ((b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", "x.xls"), (b"x", "x.ods")):
        with pytest.raises(RecordRefusal, match="save as XLSX or CSV"):
            read_book(raw, name)
    with pytest.raises(RecordRefusal):
        read_book(workbook(plain_tab)[:900], "x.xlsx")


@given(st.binary(max_size=300))
def test_no_bytes_make_it_break(raw):
    try:
        book = read_book(raw, "x.csv")
    except RecordRefusal:
        return
    propose(book, TODAY)


def test_more_columns_than_a_workbook_has_are_refused_with_their_row():
    with pytest.raises(RecordRefusal) as refused:
        read_book(b"a;b\n" + b"1;" * 20_000 + b"\n", "wide.csv")
    assert refused.value.where == "row 2"
    assert "16384 columns" in str(refused.value)


@pytest.mark.parametrize("tag", ["new", "Views", "BW\u200b-1"])
def test_tags_that_have_no_page_or_hide_something_are_refused_with_their_cell(tag):
    told = read(row(f"{tag},2024-03-14,520,"))
    assert [one["cell"] for one in told["refused"]] == ["A2"]
    assert told["new_motors"] == []
    assert "\u200b" not in told["refused"][0]["found"]


@pytest.mark.parametrize(("tag", "other", "apart"), [("BÜ-7", "BU-7", False), ("XX-9O2", "XX-902", True)])
def test_a_tag_that_looks_like_another_is_asked_once_for_all_its_rows(tag, other, apart):
    rows = row(f"{other},2024-03-14,520,", f"{tag},2024-03-15,530,", f"{tag},2024-03-16,540,")
    told = read(rows)
    (asked,) = told["asked"]
    assert (asked["cell"], asked["found"], asked["choices"][0]) == ("A3", tag, other)
    assert (tag in asked["choices"]) == apart
    assert {one["tag"] for one in told["understood"]} == {other}
    for answer in (other, tag)[: 1 + apart]:
        told = read(rows, answers={"A3": answer})
        assert told["asked"] == []
        assert [one["tag"] for one in told["understood"] if one["date"] > "2024-03-14"] == [answer] * 2


def test_a_hidden_character_in_a_cell_is_shown_and_refused():
    told = read(row("BW-1,2024-03-14,52\u200b0,"))
    (refused,) = told["refused"]
    assert (refused["cell"], refused["found"]) == ("C2", "52[U+200B]0")


def test_an_answer_that_is_none_is_asked_again():
    rows = row("BW-1,2024-03-14,520/530,")
    for answer in ("no idea", "five hundred"):
        told = read(rows, answers={"C2": answer})
        (asked,) = told["asked"]
        assert (asked["cell"], asked["found"]) == ("C2", "520/530")
        assert answer in asked["question"]
        assert (told["understood"], told["refused"]) == ([], [])


def test_one_answer_settles_all_cells_of_its_question_and_a_third_value_none():
    rows = row("BW-1,2024-03-14,1.2,", "BW-1,2024-03-14,1.3,")
    assert [one["cell"] for one in read(rows)["asked"]] == ["C2", "C3"]
    for cell, answer in (("C2", "1.2"), ("C2", "1.3"), ("C3", "1.2"), ("C3", "1.3 MΩ")):
        told = read(rows, answers={cell: answer})
        assert told["asked"] == []
        assert {one["read_as"]["value"] for one in told["understood"]} == {float(answer.split()[0])}
    told = read(rows, answers={"C2": "1.21 MΩ"})
    assert [one["cell"] for one in told["asked"]] == ["C2", "C3"]
    assert told["asked"][0]["choices"] == ["1.2", "1.3", "leave out"]
    assert told["understood"] == []


def test_a_spreadsheets_own_mark_before_text_is_no_part_of_the_figure():
    assert values(read(row("BW-1,2024-03-14,'0.84,"))) == [0.84]
    assert [one["found"] for one in read(row("BW-1,2024-03-14,'dry,"))["refused"]] == ["'dry"]


def test_three_leads_that_a_spreadsheet_made_a_day_of_are_asked():
    leads = {"parts": [{"as": "insulation", "from": str(lead), "to": "frame"} for lead in (1, 2, 3)]}
    book = csv_book(row("BW-1,2024-03-14,12/15/14,"))
    cells = book.tabs[0].rows[2]
    cells[2] = replace(cells[2], text="2014-12-15", day=date(2014, 12, 15))
    told = read(book, columns={**BASE, "IR": leads})
    assert [one["cell"] for one in told["asked"]] == ["C2"]
    assert told["understood"] == []


@pytest.mark.parametrize(("columns", "words"), [(("Date", "IR"), "the motor"), (("Motor", "IR"), "the day")])
def test_readings_that_nothing_names_a_motor_or_a_day_for_are_refused_in_words(columns, words):
    with pytest.raises(RecordRefusal, match=f"names {words}"):
        read(row("BW-1,2024-03-14,520,"), columns={name: BASE[name] for name in columns})


def test_a_stray_far_cell_refuses_no_book():
    made = openpyxl.Workbook()
    for cells in (["Motor", "Date", "IR"], ["BW-1", "2024-03-14", 520]):
        made.active.append(cells)
    made.active["XFD90000"] = "x"
    out = io.BytesIO()
    made.save(out)
    columns = {name: BASE[name] for name in ("Motor", "Date", "IR")}
    told = read(read_book(out.getvalue(), "far.xlsx"), columns=columns)
    assert values(told) == [520]


@pytest.mark.parametrize(
    "rows", ["", "BW-1;2024-05-02;0,41;understood goes here\n", "BW-1;2024-05-02;0,41;\nBW-2;x;1;\n"]
)
def test_what_is_said_in_pieces_is_the_same(rows):
    columns = {"Motor": {"as": "tag"}, "Date": {"as": "date"}, "1-2": BASE["1-2"], "Note": {"as": "note"}}
    raw = f"Motor;Date;1-2;Note\n{rows}".encode()
    given = read_map(json.dumps({"format": "grimcoil-map/1", "columns": columns, "decimal": ","}))
    done = understand(read_book(raw, "x.csv"), given, TODAY, Register())
    assert json.loads("".join(done.text())) == json.loads(json.dumps(done.document()))


def test_one_text_under_two_units_is_two_figures():
    units = {"Yard": "mΩ", "Mill": "Ω"}

    def tabs(book):
        for name, unit in units.items():
            tab = book.create_sheet(name)
            tab.append(["Motor", "Date", f"1-2 {unit}"])
            for n in range(3):
                tab.append([f"{name}-{n}", "2024-05-02", "410" if unit == "mΩ" else "0.41"])
                tab.append([f"{name}-{n}", "2024-05-03", "0.5"])
        del book[book.sheetnames[0]]

    each = {
        name: {"columns": {"Motor": {"as": "tag"}, "Date": {"as": "date"}, f"1-2 {unit}": BASE["1-2"] | {"unit": unit}}}
        for name, unit in units.items()
    }
    given = read_map(json.dumps({"format": "grimcoil-map/1", "tabs": each}))
    done = understand(read_book(workbook(tabs), "x.xlsx"), given, TODAY, Register())
    half = {(one.place.sheet, one.read.amount.value) for one in done.taken if one.text == "0.5"}
    assert half == {("Yard", 0.0005), ("Mill", 0.5)}
