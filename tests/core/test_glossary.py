"""The terms: two sentences each, every one in use, none found in the middle of a word."""

import re
from pathlib import Path

import pytest

from grimcoil.core.glossary import VERDICTS, found, listed, terms

SOURCE = Path(__file__).parents[2] / "src" / "grimcoil"


@pytest.mark.parametrize("key", terms())
def test_a_meaning_is_one_to_three_whole_sentences(key):
    one = terms()[key]
    said = re.sub(r"\d\.\d", "", one.text.replace("Pt100", ""))
    assert 1 <= len(re.findall(r"[.](?: |$)", said)) <= 3
    assert len(one.text) <= 300
    assert one.text[0].isupper()
    assert one.text[-1] == "."


def test_every_term_stands_somewhere_in_the_product():
    written = " ".join(
        path.read_text(encoding="utf-8")
        for kind in ("*.py", "*.html", "*.toml")
        for path in SOURCE.rglob(kind)
        if path.name != "glossary.toml"
    ).casefold()
    lacking = [one.key for one in listed() if not any(word.casefold() in written for word in one.also)]
    assert lacking == []


@pytest.mark.parametrize(
    ("text", "keys"),
    [
        ("Polarization index 1.4, minimum 2.", ["polarization-index"]),
        ("Resistance unbalance 3 %: shorted turns?", ["resistance-unbalance", "shorted-turns"]),
        ("A wyeing of deltas", []),
        ("Prove dead, then read the WYE.", ["prove-dead", "wye-delta"]),
        ("unproven", ["unproven"]),
    ],
)
def test_terms_are_found_as_whole_words_whatever_their_case(text, keys):
    assert [one.key for _, _, one in found(text)] == keys


def test_the_longest_way_of_writing_is_taken():
    assert [one.key for _, _, one in found("the insulation tester reads")] == ["insulation-tester"]
    assert all(begin < end for begin, end, _ in found("insulation, test voltage"))


def test_the_four_verdicts_have_a_line_of_help_and_stand_apart():
    assert all(terms()[key].text for key in VERDICTS)
    assert not {one.key for one in listed()} & set(VERDICTS)
