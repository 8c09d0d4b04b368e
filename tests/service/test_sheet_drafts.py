"""A sheet on its way in: asked about, answered, left out by row, taken once, its map remembered."""

import json

import pytest

from grimcoil.core.errors import Forbidden, GateClosed, RecordRefusal, Unknown
from grimcoil.core.people import Role
from grimcoil.service import sheet_drafts as verbs
from grimcoil.service.importing import Source
from grimcoil.service.verifying import verify
from tests.support import add_person

SHEET = b"""Motor,Date,IR,1-2,2-3,3-1
BW-1,2024-03-14,520,0.84,0.85,0.84
PP-9,2025-03-15,0,0.41,0.41,0.42
PP-9,31.2.25,470,0.41,0.41,0.42
"""


@pytest.fixture
def draft(store, electrician, clock, motor):
    return verbs.begin(store, electrician, Source("yard.csv", SHEET), "sheet-0001", clock())


def look(store, electrician, draft, clock):
    return verbs.look(store, electrician, draft, clock())


def test_a_cell_answered_a_row_left_out_and_the_rest_taken_once(store, electrician, clock, draft):
    def change(to):
        verbs.change(store, electrician, draft, clock(), to)

    seen = look(store, electrician, draft, clock).done
    assert ([one["cell"] for one in seen.asked], [one["cell"] for one in seen.refused]) == (["C3"], ["B4"])
    change(verbs.cell_says("C3", "short"))
    assert len(look(store, electrician, draft, clock).done.taken) == len(seen.taken) + 1
    change(verbs.cell_says("C3", ""))
    assert len(look(store, electrician, draft, clock).done.taken) == len(seen.taken)
    verbs.leave_row(store, electrician, draft, "3", True)
    left = look(store, electrician, draft, clock)
    assert (len(left.done.taken), left.done.asked, left.done.new_motors) == (4, [], [])
    with pytest.raises(GateClosed, match="4 values can be taken now"):
        verbs.take(store, electrician, draft, clock(), len(seen.taken))
    number = verbs.take(store, electrician, draft, clock(), 4)
    with pytest.raises(Unknown):
        verbs.take(store, electrician, draft, clock(), 4)
    drafts, imports = verbs.listed(store, electrician)
    assert (drafts, [(one.id, one.taken) for one in imports]) == ([], [(number, 4)])
    assert verify(store).breaks == ()


def test_a_column_told_is_remembered_for_the_next_sheet(store, electrician, clock, motor):
    raw = b"Motor,Date,Value\nBW-1,2024-03-14,520\nBW-2,2024-03-14,480\n"
    first = verbs.begin(store, electrician, Source("a.csv", raw), "sheet-0002", clock())
    assert [one["about"] for one in look(store, electrician, first, clock).map["ask"]] == ["Value"]
    meaning = {"as": "insulation", "from": "1-2-3", "to": "frame"}
    verbs.change(store, electrician, first, clock(), verbs.columns_mean(["Value"], meaning))
    assert look(store, electrician, first, clock).map["ask"] == []
    verbs.take(store, electrician, first, clock(), 2)
    later = raw.replace(b"2024", b"2025")
    second = verbs.begin(store, electrician, Source("b.csv", later), "sheet-0003", clock())
    assert second == verbs.begin(store, electrician, Source("b.csv", later), "sheet-0003", clock())
    again = look(store, electrician, second, clock)
    assert (again.map["columns"]["Value"], len(again.done.taken)) == (meaning, 2)


def test_a_map_that_does_not_fit_changes_nothing(store, electrician, clock, draft):
    before = look(store, electrician, draft, clock).map
    for wrong in (
        verbs.columns_mean(["IR"], {"as": "insulation", "unit": "V"}),
        verbs.columns_mean(["IR"], {"as": "tag"}),
        verbs.columns_mean(["no such column"], {"as": "note"}),
        verbs.columns_mean(["1-2"], {"as": "winding_resistance"}),
        verbs.sheet_says(decimal="x"),
    ):
        with pytest.raises(RecordRefusal):
            verbs.change(store, electrician, draft, clock(), wrong)
    assert look(store, electrician, draft, clock).map == before


def test_whose_it_is_and_how_long(store, electrician, clock, draft, monkeypatch):
    other = add_person(store, Role.PLANNER, "segge")
    with pytest.raises(Unknown):
        look(store, other, draft, clock)
    with pytest.raises(Forbidden):
        verbs.begin(store, add_person(store, Role.READER, "schwaden"), Source("a.csv", SHEET), "sheet-0004", clock())
    monkeypatch.setattr(verbs, "MOST_CELLS", 20)
    with pytest.raises(RecordRefusal, match="24 cells"):
        verbs.begin(store, electrician, Source("a.csv", SHEET), "sheet-0005", clock())
    clock.pass_(31 * 86400)
    verbs.begin(store, electrician, Source("a.csv", b"Motor,Date,IR\nBW-1,2024-03-14,5\n"), "sheet-0006", clock())
    with pytest.raises(Unknown):
        look(store, electrician, draft, clock)
    verbs.drop(store, electrician, draft)
    verbs.drop(store, electrician, draft)


def test_answers_stand_in_the_map_as_the_command_reads_it(store, electrician, clock, draft):
    verbs.change(store, electrician, draft, clock(), verbs.cell_says("C3", "OL"))
    assert json.loads(json.dumps(look(store, electrician, draft, clock).map))["answers"] == {"C3": "OL"}
