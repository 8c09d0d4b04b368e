"""`grimcoil-criteria/1`: the limits out and a site's own in."""

import json

import pytest

from grimcoil.cli.__main__ import main
from grimcoil.core.catalogue import Standing
from grimcoil.core.criteria import CRITERIA
from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.criteria import LIMIT_NAMES, read_criteria, to_document

OWN = {
    "format": "grimcoil-criteria/1",
    "name": "beet-works",
    "title": "Our works",
    "version": 3,
    "limits": {"insulation_random_mohm": {"value": 20, "source": "works rule 14"}},
}


def own(**changes):
    return json.dumps({**OWN, **changes})


@pytest.mark.parametrize("name", CRITERIA)
def test_every_shipped_set_goes_out_and_comes_back(name):
    document = to_document(CRITERIA[name])
    assert set(document["limits"]) == set(LIMIT_NAMES)
    assert all(set(limit) == {"value", "unit", "source", "standing"} for limit in document["limits"].values())
    copy = read_criteria(json.dumps({**document, "name": f"{name}-copy"}))
    assert to_document(copy) == {**document, "name": f"{name}-copy"}


def test_a_site_changes_one_limit_and_keeps_the_rest():
    made = read_criteria(own())
    assert (made.name, made.version) == ("beet-works", 3)
    assert made.insulation_random_mohm.value == 20
    assert made.insulation_random_mohm.standing is Standing.SITE
    assert made.insulation_random_mohm.unit == "MΩ"
    assert made.pi_minimum == CRITERIA["field-general"].pi_minimum


@pytest.mark.parametrize(
    ("text", "where", "says"),
    [
        (own(name="field-general"), "name", "of your own"),
        (own(name="Our Works"), "name", ""),
        (own(based_on="nobody"), "based_on", "field-general"),
        (own(limits={"insulation": {"value": 5}}), "limits.insulation", "insulation_random_mohm"),
        (own(limits={"pi_minimum": {"value": -2}}), "limits.pi_minimum.value", "above 0"),
        (own(limits={"pi_minimum": {"value": 2, "unit": "MΩ"}}), "limits.pi_minimum.unit", "unit"),
        (own(limits={"balance_sound": {"value": 9}}), "limits.balance_sound.value", "balance_act"),
        (own(limits={"pi_minimum": {"value": "two"}}), "limits.pi_minimum.value", "number"),
        (own(strict=True), "strict", "no such key"),
        ("[", "document", "not JSON"),
    ],
)
def test_refusals_say_where_and_what_is_accepted(text, where, says):
    with pytest.raises(RecordRefusal) as refused:
        read_criteria(text)
    assert refused.value.where == where
    assert says in refused.value.sentence()


def test_the_command_lists_prints_and_checks(tmp_path, capsys):
    assert main(["criteria"]) == 0
    assert "service-shop" in capsys.readouterr().out
    assert main(["criteria", "low-ohm"]) == 0
    assert json.loads(capsys.readouterr().out)["balance_measure"] == "difference"
    file = tmp_path / "own.json"
    file.write_text(own(), encoding="utf-8")
    assert main(["criteria", "--check", str(file)]) == 0
    assert json.loads(capsys.readouterr().out)["limits"]["insulation_random_mohm"]["value"] == 20
    assert main(["criteria", "nobody"]) == 2
    assert capsys.readouterr().err.count("\n") == 1
