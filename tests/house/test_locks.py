"""No lock decides alone: on a cluster it holds on its own node only. Beside each stands what the database itself
refuses, or the row that is held is changed by whoever holds it, so that the later of two is told at its commit.
"""

import ast
from pathlib import Path

import pytest

from grimcoil.store.all_tables import METADATA

SOURCE = Path(__file__).parents[2] / "src" / "grimcoil"
CHANGED = "the row itself is changed"
# What is held by function of store and service: a unique key, the chain's number, or the row itself.
BESIDE = {
    "service/plates.py take_plate_photo_back": CHANGED,
    "service/views.py keep_view": CHANGED,
    "service/views.py drop_view": CHANGED,
    "store/criteria.py lock": "uq_own_criteria_name_version",
    "store/dryings.py locked": "uq_drying_entry_drying_id_seq",
    "store/imports.py locked": CHANGED,
    "store/jobs.py ": "uq_entry_job_id_seq",
    "store/lives.py stay_rows": "pk_signature",  # a move is a link of the chain
    "store/lives.py position": "pk_signature",
    "store/motors.py lock": "uq_job_open_of",
    "store/people.py locked_tries": CHANGED,
    "store/rounds.py task_row": CHANGED,
    "store/rounds.py entry": CHANGED,
    "store/sheets.py draft": CHANGED,
    "store/tasks.py row": CHANGED,
    "store/tasks.py opened_by": CHANGED,
    "store/signatures.py locked_head": "pk_signature",
}


def places():
    found = []
    for room in ("store", "service", "web", "cli"):
        for path in sorted((SOURCE / room).rglob("*.py")):
            tree = ast.parse(path.read_text(encoding="utf-8"))
            within = {
                node: outer.name
                for outer in ast.walk(tree)
                if isinstance(outer, ast.FunctionDef)
                for node in ast.walk(outer)
            }
            found += [
                f"{path.relative_to(SOURCE)} {within.get(node, '')}"
                for node in ast.walk(tree)
                if (isinstance(node, ast.Attribute) and node.attr == "with_for_update")
                or (isinstance(node, ast.keyword) and node.arg == "with_for_update")
            ]
    return found


def keys():
    for table in METADATA.tables.values():
        yield str(table.primary_key.name)
        yield from (str(one.name) for one in (*table.constraints, *table.indexes) if getattr(one, "unique", True))


def test_beside_each_lock_stands_what_the_database_refuses_itself():
    assert set(places()) == set(BESIDE)


@pytest.mark.parametrize("key", sorted(set(BESIDE.values()) - {CHANGED}))
def test_the_key_is_one_of_the_database(key):
    assert key in set(keys())
