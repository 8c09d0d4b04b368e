"""Tests that tell something."""

import numpy as np
import pytest

from grimcoil.core.walk.catalogue import trials
from grimcoil.core.walk.choose import bits_of
from grimcoil.core.walk.evidence import Panel
from tests.core.walk.given import PLACES


@pytest.mark.parametrize("place", PLACES, ids=lambda place: place.starter)
def test_every_test_tells_something_and_every_live_one_warns(place):
    panel = Panel(place)
    flat = [1 / len(panel.suspects)] * len(panel.suspects)
    for trial in trials(place).values():
        assert bits_of(panel, trial, np.array(flat)) > 0, trial.name
        assert trial.why
        assert trial.minutes > 0
        if trial.circuit is not None and (trial.circuit.live or trial.closing):
            assert trial.caution, trial.name
