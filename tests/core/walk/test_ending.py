"""The end of a walk where nothing is left to ask: named with all that may stand in its place, or no end at all."""

import pytest

from grimcoil.core.walk.catalogue import trials
from grimcoil.core.walk.choose import Choice
from grimcoil.core.walk.ending import NO_TEST, SKIPPED, Left, Standing, end_of
from grimcoil.core.walk.faults import line_up
from tests.core.walk.given import PLACES


def standings(**beliefs):
    """Each named suspect once, with its belief; the rest has none."""
    left = dict(beliefs)
    line = line_up(PLACES[0])
    return [Standing(one, "open", left.pop(one.name.replace("-", "_"), 0.0), ()) for one in line]


FAULTY = {"overload_faulty": 0.5, "load_grown": 0.3, "bearing_worn": 0.2}


def test_the_likeliest_is_named_with_all_that_may_stand_in_its_place():
    end = end_of(standings(**FAULTY), Left((), held_back=False, skipped=False))
    assert end.suspect.name == "overload-faulty"
    assert [(other.name, why) for other, why in end.alternatives] == [
        ("load-grown", NO_TEST),
        ("bearing-worn", NO_TEST),
    ]


def test_with_a_test_skipped_it_takes_more_and_says_so():
    assert end_of(standings(**FAULTY), Left((), held_back=False, skipped=True)) is None
    more = standings(**FAULTY | {"overload_faulty": 0.61, "bearing_worn": 0.09})
    end = end_of(more, Left((), held_back=False, skipped=True))
    assert {why for _, why in end.alternatives} == {SKIPPED}


@pytest.mark.parametrize(("share", "named"), [(0.94, True), (0.9, False), (0.4, False)])
def test_while_something_is_left_to_ask_only_a_sure_one_ends_it(share, named):
    left = Left((Choice(next(iter(trials(PLACES[0]).values())), 1.0, 1.0),), held_back=False, skipped=False)
    assert (end_of(standings(overload_faulty=share, load_grown=1 - share), left) is not None) is named


def test_a_fuse_is_no_end_until_the_load_side_is_shown_clear():
    for held_back, named in ((True, False), (False, True)):
        assert (end_of(standings(fuse_blown=1.0), Left((), held_back, skipped=False)) is not None) is named
