"""Several readings typed in one go, each for its next place."""

import pytest

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.errors import Unknown
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.progress import progress, situation
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.safety import Site
from grimcoil.core.plan.several import TooMany, spread
from tests.support import NOW, TO_RESISTANCE, entries

PLAN = build(Brief("three-lead"))


def state(script=TO_RESISTANCE):
    return progress(situation(PLAN, entries(script), Site(FIELD_GENERAL), NOW))


@pytest.mark.parametrize(
    ("text", "places"),
    [
        ("0.352 0.361 0.358", ["1-2", "2-3", "3-1"]),
        ("0.352 0.361", ["1-2", "2-3"]),
        ("0.84 ohm", ["1-2"]),  # one reading with its unit
        ("0.352", ["1-2"]),
    ],
)
def test_each_word_that_is_a_reading_has_its_place(text, places):
    spreaded = spread(state(), "winding_resistance.1-2", text)
    assert [place for place, _ in spreaded] == [f"winding_resistance.{name}" for name in places]
    assert " ".join(words for _, words in spreaded) == text


def test_more_than_there_are_places_is_refused_whole():
    with pytest.raises(TooMany, match="at most 3"):
        spread(state(), "winding_resistance.1-2", "1 2 3 4")
    with pytest.raises(Unknown):
        spread(state(), "winding_resistance.9-9", "1")


def test_words_are_not_spread():
    assert spread(state(()), "isolate.lock-main", "12 13") == [("isolate.lock-main", "12 13")]
