"""The trail's running digest: what was changed, put in or cut off shows; several at once, and what was rolled back."""

from concurrent.futures import ThreadPoolExecutor
from threading import Barrier

import pytest
from sqlalchemy import select, text

from grimcoil.core.people import Actor, Role
from grimcoil.service.earlier_trail import hold_earlier_trail
from grimcoil.service.signatures import append_link
from grimcoil.service.verifying import verify
from grimcoil.store import trail
from grimcoil.store.people_tables import Trail, TrailHead
from tests.support import unguarded

SOMEBODY = Actor(None, "A. Tester 🔧", Role.ELECTRICIAN, origin="tablet")


@pytest.fixture
def write(store, clock):
    def lines(*told):
        with store.begin() as session:
            for one in told:
                trail.write(session, SOMEBODY, "round entry", clock(), detail=one)

    return lines


@pytest.fixture
def link(store, clock):
    def one():
        with store.begin() as session:
            append_link(session, SOMEBODY, "register", clock(), {"changes": []})

    return one


@pytest.fixture
def behind(engine):
    """Change the trail as somebody with the database's own rights would."""

    def run(*statements):
        with unguarded(engine, "trail") as connection:
            for statement in statements:
                connection.execute(text(statement))

    return run


def told(store):
    return [line for line in verify(store).breaks if line.startswith("trail")]


INSERT = "INSERT INTO trail (at, who, action, detail, origin"
CHANGES = [
    ("UPDATE trail SET detail = 'x' WHERE detail = 'two'", "changed or put in"),
    ("UPDATE trail SET who = 'X' WHERE detail = 'one'", "changed or put in"),
    ("UPDATE trail SET at = at + INTERVAL 1 MICROSECOND WHERE detail = 'three'", "changed or put in"),
    ("UPDATE trail SET person_id = NULL, origin = '' WHERE detail = 'three'", "changed or put in"),
    ("DELETE FROM trail WHERE detail = 'two'", "the one before it was taken out"),
    ("DELETE FROM trail WHERE detail IN ('two', 'three')", "the newest lines of"),
    ("UPDATE trail SET digest = REPEAT('0', 64) WHERE detail = 'one'", "changed or put in"),
    (f"{INSERT}) VALUES (NOW(6), 'X', 'y', '', '')", "without a digest"),
    (f"{INSERT}, lane, n, digest) VALUES (NOW(6), 'X', 'y', '', '', 'other/1', 1, '')", "which has no head"),
]


@pytest.mark.parametrize(("statement", "says"), CHANGES)
def test_a_line_changed_put_in_or_taken_out_shows(store, write, link, behind, statement, says):
    write("one")
    write("two", "three")
    link()
    assert told(store) == []
    behind(statement)
    assert any(says in line for line in told(store))


def test_lines_cut_off_with_their_head_show_by_the_newest_link_and_newer_ones_are_counted(store, write, link, behind):
    write("one")
    with store() as session:
        head = session.scalars(select(TrailHead)).one()
    write("two")
    link()
    write("three")
    assert (verify(store).breaks, verify(store).trail_not_held) == ((), 1)
    behind(
        "DELETE FROM trail WHERE detail IN ('two', 'three')",
        f"UPDATE trail_head SET n = {head.n}, digest = '{head.digest}' WHERE lane = '{head.lane}'",
    )
    assert any("isn't what the newest link holds" in line for line in told(store))


def test_what_is_rolled_back_leaves_no_gap(store, write, clock):
    write("one")
    with store() as session:
        trail.write(session, SOMEBODY, "round entry", clock(), detail="lost")
        assert [line.detail for line in trail.lines(session)] == ["lost", "one"]
        session.rollback()
    write("two")
    with store() as session:
        assert [line.detail for line in trail.lines(session)] == ["two", "one"]
    assert told(store) == []


def test_many_at_once_each_find_their_place(store, write):
    together = Barrier(12)

    def one(number):
        together.wait(30)
        for turn in range(5):
            write(f"{number}.{turn}", *(["more"] if number % 3 == 0 else []))

    with ThreadPoolExecutor(12) as pool:
        list(pool.map(one, range(12)))
    with store() as session:
        lines = session.scalars(select(Trail)).all()
        heads = session.scalars(select(TrailHead)).all()
    assert len(lines) == 12 * 5 + 4 * 5
    assert sum(head.n for head in heads) == len(lines)
    assert told(store) == []


def test_lines_from_before_are_held_by_a_link_once(store, write, behind, clock):
    write("one")
    behind("UPDATE trail SET lane = NULL, n = NULL, digest = NULL", "DELETE FROM trail_head")
    assert any("without a digest" in line for line in told(store))
    assert (hold_earlier_trail(store, clock()), hold_earlier_trail(store, clock())) == (1, 0)
    write("two")
    assert told(store) == []
    behind("UPDATE trail SET detail = 'x' WHERE detail = 'one'")
    assert any("lines 1 to" in line or "were changed" in line for line in told(store))


@pytest.mark.parametrize("said", ["5", '{"a/1": 5}', '{"a/1": ["x", "y"]}', "[[1]]", "null"])
def test_a_link_changed_to_nonsense_is_told_and_breaks_nothing(store, engine, write, link, said):
    write("one")
    link()
    changed = "UPDATE signature SET document = JSON_SET(document, '$.trail', JSON_EXTRACT(:said, '$'))"
    with unguarded(engine, "signature") as connection:
        connection.execute(text(changed), {"said": said})
    assert any("its document was changed" in line for line in verify(store).breaks)
