"""Suspects of a position: each reached, each told from a sound circuit."""

from itertools import product

import numpy as np
import pytest

from grimcoil.core.choices import RootCause
from grimcoil.core.decision.rules import ACTIONS
from grimcoil.core.walk.catalogue import suspects, trials
from grimcoil.core.walk.evidence import shares
from grimcoil.core.walk.faults import GUARD, OVERLOAD, line_up
from grimcoil.core.walk.panel import Panel, expected
from tests.core.walk.given import PLACES


def test_every_suspect_stands_at_some_position_with_a_cause_and_an_action_we_know():
    standing = {one.name for place in PLACES for one in line_up(place)}
    assert standing == set(suspects())
    causes = {cause.value for cause in RootCause}
    for kind in suspects().values():
        assert kind.action in ACTIONS
        assert set(kind.causes) <= causes
        assert kind.text[0].isupper()


def test_every_suspect_is_told_from_a_sound_circuit_by_some_test():
    unseen = set(suspects())
    for place in PLACES:
        panel = Panel(place)
        for (i, one), trial in product(enumerate(panel.suspects), trials(place).values()):
            if one.name not in unseen:
                continue
            if trial.asks:
                rows = shares(panel, trial)
                if np.abs(rows[:-1][panel.owner == i] - rows[-1]).max() > 0.2:
                    unseen.discard(one.name)
            else:
                for a, b in trial.between or (("L1", ""), ("L2", ""), ("L3", "")):
                    shown = expected(panel, trial.quantity, trial.circuit, a, b)
                    if (np.abs(shown[:-1][panel.owner == i] - shown[-1]) > 0.1 * max(shown[-1], 1.0)).any():
                        unseen.discard(one.name)
    assert unseen == set()


@pytest.mark.parametrize("place", PLACES, ids=lambda place: place.starter)
def test_shares_of_a_suspect_add_up_and_what_it_left_open_can_be_put_back(place):
    for suspect in line_up(place):
        assert sum(variant.weight for variant in suspect.variants) == pytest.approx(1.0)
        for variant in suspect.variants:
            back = variant.again(variant.left == OVERLOAD, variant.left == GUARD)
            assert back.shut is None
            assert bool(variant.left) == (back is not variant)
