"""Small helpers: what comes out is a well-formed drawing whatever is written in it."""

from hypothesis import given
from hypothesis import strategies as st

from grimcoil.draw.svg import circle, figure, n, path, rect, text
from tests.drawn import named, tree, words

TYPED = st.text(st.characters(blacklist_categories=("Cs", "Cc"), blacklist_characters="\ufffe\uffff"), max_size=40)


@given(st.floats(-1e6, 1e6))
def test_a_coordinate_keeps_two_decimals(value):
    assert abs(float(n(value)) - value) <= 0.00501
    assert not n(value).endswith(".")


@given(TYPED)
def test_what_is_typed_never_ends_the_drawing(typed):
    body = text(1, 2, typed) + path("M0 0H1", "w") + circle(1, 2, 3, "nd") + rect(0, 0, 1, 1, "pl")
    drawn = figure(10, 10, typed, body)
    assert words(drawn) == [typed]
    assert named(drawn) == [" ".join(typed.split("\t")) if "\t" in typed else typed]
    assert len(list(tree(drawn).iter())) == 6


def test_markup_is_words():
    drawn = figure(10, 10, '"><script>alert(1)</script>', text(0, 0, "<b>&\"'"))
    assert "<script>" not in drawn
    assert words(drawn) == ["<b>&\"'"]
