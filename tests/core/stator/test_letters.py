"""Lead numbers and the letters of the other school."""

import pytest

from grimcoil.core.stator.letters import iec_letters, number_of
from grimcoil.core.stator.schemes import SCHEMES


@pytest.mark.parametrize("scheme", SCHEMES)
def test_letters_come_back(scheme):
    letters = iec_letters(scheme)
    labels = SCHEMES[scheme].labels
    assert all(number_of(letters[label], scheme) == label for label in labels)
    assert len({letters[label] for label in labels}) == len(labels)
