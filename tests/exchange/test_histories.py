"""Histories in as CSV and JSON, trends out, through the command line."""

import json
from pathlib import Path

import pytest

from grimcoil.cli.__main__ import main
from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.histories import COLUMNS, read_csv, read_history

SERIES = Path(__file__).parents[1] / "published/series"
HEAD = "date,reading,test_voltage_v,t_s,winding_temperature_c,insulation_system,note"


def table(*rows, head=HEAD):
    return "\r\n".join([head, *rows]).encode()


@pytest.mark.parametrize(("name", "slope", "censored"), [("a", -0.3425, 2), ("b", -0.0581, 9)])
def test_two_series_from_file_to_trend(name, slope, censored, capsys):
    assert main(["trend", str(SERIES / f"trend-{name}.csv"), "--minimum", "5"]) == 0
    document = json.loads(capsys.readouterr().out)
    assert document["format"] == "grimcoil-trend/1"
    assert round(document["slope_decades_per_year"], 4) == slope
    assert document["n_censored"] == censored
    assert set(document["crosses_minimum"]) == {"date", "earliest", "latest"}
    assert document["next_test"]["date"] >= document["reference_date"]
    assert document["slope_lowest"] < document["slope_decades_per_year"] < document["slope_highest"]


def test_a_row_keeps_what_it_says():
    text = table(
        '2020-01-02,>550M,500,60,40,thermosetting,"a ""quoted"", note"',
        "",
        "2021-01-02,1.3 G,1000,60,20,thermoplastic,,starter,M2,55,drying",
        head=f"{HEAD},at,instrument,relative_humidity_percent,event",
    )
    with pytest.raises(RecordRefusal, match=r"row 2"):
        read_csv(text)
    first, second = read_csv(text.replace(b'note"', b'note",,,,'))
    assert (first.mohm.low, first.mohm.bound) == (550, "above")
    assert (second.mohm.value, second.at, second.event, second.insulation_system) == (
        1300, "starter", "drying", "thermoplastic",
    )  # fmt: skip


def test_a_byte_order_mark_and_missing_columns_are_fine():
    (row,) = read_csv(b"\xef\xbb\xbfdate,reading\n2020-01-02,500\n")
    assert (row.mohm.value, row.t_s, row.winding_temperature_c) == (500, None, None)


@pytest.mark.parametrize(
    ("text", "where", "says"),
    [
        (b"", "row 1", "header"),
        (b"date,value\n", "row 1", "columns"),
        (b"reading\n5\n", "row 1", "date"),
        (b"date,date,reading\n", "row 1", "once"),
        (table("2020-01-02,abc,500,60,40,thermosetting,"), "row 2, reading", "abc"),
        (table("2020-13-02,500,500,60,40,thermosetting,"), "row 2, date", "2020-13-02"),
        (table("2020-01-02,500,500,-60,40,thermosetting,"), "row 2, t_s", "greater than"),
        (table("2020-01-02,500,500,60,40,epoxy,"), "row 2, insulation_system", "thermosetting"),
        (table("2020-01-02,500"), "row 2", "7 cells"),
        (table('2020-01-02,"500'), "file", "CSV"),
        (b"\xff\xfe", "file", "UTF-8"),
    ],
)
def test_refusals_name_row_and_column(text, where, says):
    with pytest.raises(RecordRefusal) as refused:
        read_csv(text)
    assert refused.value.where == where
    assert says in refused.value.sentence()


def history(**changes):
    rows = [
        {"date": f"20{y}-03-01", "reading": f"{900 - 90 * i}", "t_s": 60, "winding_temperature_c": 40}
        for i, y in enumerate(range(15, 23))
    ]
    return json.dumps({"format": "grimcoil-history/1", "minimum_mohm": 5, "rows": rows, **changes})


def test_lines_give_a_trend_or_an_error_each_in_its_place(tmp_path, capsys):
    file = tmp_path / "histories.jsonl"
    file.write_text("\n".join([history(), history(minimum_mohm=0), "", history(rows=[])]), encoding="utf-8")
    assert main(["trend", "--lines", str(file)]) == 2
    out = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert [document.get("n") for document in out] == [8, None, 0]
    assert out[1]["error"]["path"] == "minimum_mohm"
    assert out[1]["error"]["example"]
    assert out[2]["slope_decades_per_year"] is None
    assert out[2]["next_test"] is None


def test_a_json_history_names_the_path_of_a_bad_reading():
    with pytest.raises(RecordRefusal) as refused:
        read_history(history(rows=[{"date": "2020-01-01", "reading": "4..2"}]))
    assert refused.value.where == "rows.0.reading"


@pytest.mark.parametrize("minimum", [None, "0", "-1", "five", "inf", "nan"])
def test_a_minimum_is_needed(minimum, capsys):
    words = [] if minimum is None else [f"--minimum={minimum}"]
    assert main(["trend", str(SERIES / "trend-a.csv"), *words]) == 2
    said = capsys.readouterr().err
    assert said.count("\n") == 1
    assert "--minimum" in said


def test_a_file_that_is_not_there(capsys):
    assert main(["trend", "--lines", "no-such.jsonl"]) == 2
    assert "no-such.jsonl" in capsys.readouterr().err


def test_columns_are_the_formats():
    assert ",".join(COLUMNS[:7]) == HEAD
