"""The small figures of terms: each of a term that there is, within its frame, silent to a screen reader."""

import re

import pytest

from grimcoil.core.glossary import terms
from grimcoil.draw.terms import FIGURES, HEIGHT, WIDTH, term_figure


@pytest.mark.parametrize("key", FIGURES)
def test_each_is_of_a_term_and_stays_within_its_frame(key):
    assert key in terms()
    drawn = term_figure(key)
    assert 'aria-hidden="true"' in drawn
    assert "aria-label" not in drawn
    for x, y in re.findall(r'<(?:text|rect|circle)[^>]* (?:c)?x="([\d.-]+)" (?:c)?y="([\d.-]+)"', drawn):
        assert 0 <= float(x) <= WIDTH
        assert 0 <= float(y) <= HEIGHT


def test_a_term_that_words_do_for_has_none():
    assert term_figure("rewind") == term_figure("no such term") == ""


def test_the_one_that_is_lost_carries_nothing():
    heights = [float(h) for h in re.findall(r'<rect[^>]*height="([\d.]+)"', term_figure("single-phasing"))]
    assert heights[1] < 3 < min(heights[0], heights[2])
