"""`grimcoil money`: a case in, an answer out, refusals by path."""

import json
from pathlib import Path

import pytest

from grimcoil.cli.__main__ import main
from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.money import answered, read_money

EXAMPLE = Path(__file__).parents[2] / "docs" / "formats" / "example-money.json"
CASE = json.loads(EXAMPLE.read_text(encoding="utf-8"))


def test_the_example_is_answered(capsys):
    assert main(["money", str(EXAMPLE)]) == 0
    made = json.loads(capsys.readouterr().out)
    assert made["format"] == "grimcoil-money-result/1"
    saved = made["kwh_per_year"]["rewind"] - made["kwh_per_year"]["replace"]
    assert saved == pytest.approx(3818.5, abs=0.5)
    assert [year["year"] for year in made["by_year"]] == list(range(11))
    assert made["by_year"][-1]["rewind"] == made["present_cost"]["rewind"]
    assert {one["school"] for one in made["schools"]} == {
        "price-share", "small-and-old", "special-or-late", "third-rewind",
    }  # fmt: skip
    assert [f["code"] for f in made["findings"]] == ["money-default", "money-default"]


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"efficiency_now_percent": 140}, "efficiency_now_percent"),
        ({"efficiency_new_percent": 0}, "efficiency_new_percent"),
        ({"hours_per_year": 9000}, "hours_per_year"),
        ({"years": 0}, "years"),
        ({"years": 10.5}, "years"),
        ({"rewind_price": -1}, "rewind_price"),
        ({"new_price": 0}, "new_price"),
        ({"power": "fifty"}, "power"),
        ({"built_year": 2030}, "built_year"),
        ({"colour": "red"}, "colour"),
        ({"format": "grimcoil-job/1"}, "format"),
    ],
)
def test_what_cannot_be_is_refused_by_its_path(change, path):
    with pytest.raises(RecordRefusal) as refused:
        read_money(json.dumps(CASE | change))
    assert refused.value.where == path


def test_a_missing_price_is_asked_for_by_name():
    with pytest.raises(RecordRefusal) as refused:
        read_money(json.dumps({key: value for key, value in CASE.items() if key != "rewind_price"}))
    assert refused.value.where == "rewind_price"


def test_a_line_that_cannot_be_used_stops_nothing(tmp_path, capsys):
    file = tmp_path / "cases.jsonl"
    file.write_text("\n".join([json.dumps(CASE), "{", json.dumps(CASE | {"spare": True})]), encoding="utf-8")
    assert main(["money", "--lines", str(file)]) == 2
    lines = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert ["error" in line for line in lines] == [False, True, False]


def test_figures_are_whole():
    assert answered(json.dumps(CASE | {"energy_price_per_kwh": 1 / 3}))["present_cost"]["rewind"] % 1 != 0
