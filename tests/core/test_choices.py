"""The lists of allowed words: each word once, and the schemes that the stator knows."""

from enum import StrEnum

import pytest

from grimcoil.core import choices
from grimcoil.core.choices import LeadScheme, SupplySystem
from grimcoil.core.circuit.place import Place
from grimcoil.core.points import groups_of
from grimcoil.core.stator.schemes import SCHEMES

LISTS = [one for one in vars(choices).values() if isinstance(one, type) and issubclass(one, StrEnum) and len(one)]


@pytest.mark.parametrize("words", LISTS, ids=lambda one: one.__name__)
def test_words_are_spelt_as_in_the_open_formats(words):
    assert len({word.value for word in words}) == len(list(words))
    assert all(word.value == word.value.strip() and "_" not in word.value for word in words)
    assert words.__doc__


def test_every_lead_scheme_but_the_unknown_has_its_winding():
    assert {scheme.value for scheme in LeadScheme} - {"unknown"} <= set(SCHEMES) | {"three-lead"}
    assert all(groups_of(scheme) for scheme in LeadScheme if scheme is not LeadScheme.UNKNOWN)
    assert groups_of(LeadScheme.UNKNOWN) == ()


def test_a_walks_circuit_stands_on_a_declared_system():
    assert Place().system in {system.value for system in SupplySystem}
