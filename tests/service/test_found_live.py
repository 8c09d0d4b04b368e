"""A find of volts on the test report: a line of its own, never folded with a later 0."""

from grimcoil.core.plan.entries import BEGIN_AGAIN
from grimcoil.service.sheets import sheet
from tests.support import MADE_SAFE, PROVED_DEAD


def test_each_find_of_volts_stands_by_itself_with_what_followed(store, job, put, clock):
    for place, text in (*MADE_SAFE, *PROVED_DEAD[:2]):
        put(place, text)
    put("prove_dead.L2-L3", "230")
    clock.pass_(60)
    put(BEGIN_AGAIN, "")
    for place, text in (*MADE_SAFE[1:], *PROVED_DEAD):
        put(place, text)
    made = sheet(store, job, clock())
    (find,) = made.found_live
    assert (find.words, find.row.text) == ("Prove dead, L2–L3", "230")
    assert find.again_at is not None
    titles = [title for title, _ in made.steps]
    numbers = [int(title.partition(" ")[0]) for title in titles if title[0].isdigit()]
    assert numbers == list(range(1, numbers[-1] + 1))
    proof = dict(made.steps)["2 Prove dead"]
    assert [(label, row.text) for label, row in proof if row.text == "230"] == [("L2–L3", "230")]


def test_what_was_not_read_says_why(store, job, put, clock):
    for place, text in MADE_SAFE:
        put(place, text)
    titles = [title for title, _ in sheet(store, job, clock()).steps]
    assert "7 Winding resistance: not made" in titles
