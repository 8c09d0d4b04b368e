"""The plate beside the box."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.draw.panel import MOST_ROWS, Mark, Row, broken_leads, coil, one_line_plate, rows_plate, winding_plate
from tests.drawn import count, tree, words

MARKS = (("1-2", Mark("0.352 Ω")), ("2-3", Mark("0.361 Ω", True)))


@pytest.mark.parametrize("connection", ["wye", "delta", None])
def test_values_stand_at_their_pairs_and_the_rest_stays_blank(connection):
    drawn = winding_plate(0, 0, connection, MARKS, ("2", "3"))
    assert {"0.352 Ω", "0.361 Ω", "1–2", "2–3", "3–1"} <= set(words(drawn))
    assert count(drawn, "blank") == 1
    assert ("not told" in words(drawn)) == (connection is None)


@given(st.integers(0, 30))
def test_no_more_rows_than_have_room(number):
    rows = tuple(Row(f"{i}", f"{i + 1}", Mark("5") if i % 2 else None, hatched=i % 3 == 0) for i in range(number))
    shown = words(rows_plate(0, 0, rows))
    assert len(shown) == 3 * min(number, MOST_ROWS)


def test_the_lock_is_drawn_only_on_an_open_disconnect():
    for stage, lock in (("open", True), ("closed", False)):
        drawn = one_line_plate(0, 0, stage, (("L1-L2", Mark("480 V", True)),))
        assert ("gc-locked" in drawn) == lock
        assert {"supply", "disconnect", "starter", "overload", "motor", "480 V"} <= set(words(drawn))


@given(st.floats(-50, 50), st.floats(1, 50), st.integers(1, 9))
def test_a_coil_ends_where_it_should(x, y, turns):
    d = next(element.attrib["d"] for element in tree(coil((0, 0), (x, y), turns, "c")).iter() if "d" in element.attrib)
    assert d.count("A") == turns
    assert [float(part) for part in d.split()[-2:]] == pytest.approx([x, y], abs=0.01)


@pytest.mark.parametrize(
    ("pairs", "leads"), [((), ""), (("1-2",), ""), (("1-2", "3-1"), "1"), (("1-2", "2-3", "3-1"), "123")]
)
@pytest.mark.parametrize("connection", ["wye", "delta", None])
def test_an_open_is_drawn_open_where_two_pairs_tell_which_lead(connection, pairs, leads):
    marks = tuple((pair, Mark("OL", open=pair in pairs)) for pair in ("1-2", "2-3", "3-1"))
    assert broken_leads(marks) == set(leads)
    assert count(winding_plate(0, 0, connection, marks, ()), "broken") == len(leads)


def test_an_open_coil_of_many_has_its_gap_in_its_own_line():
    drawn = rows_plate(0, 0, (Row("1", "4", Mark("OL", open=True)), Row("2", "5", Mark("0.4"))))
    assert count(drawn, "broken") == 1
