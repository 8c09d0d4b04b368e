"""The command that prints every sentence, and the words that none of them has any more."""

import re

import pytest

from grimcoil.cli.__main__ import main
from grimcoil.cli.sentences import sentences

# Terms that were others once, by the table of terms; acts of the audit trail are stored so and shown in today's words.
GONE = re.compile(
    r"\b(the works|works'|(take|taken) (it |one |that )?back|fault walk|the walk|a walk|outage list|side sheet|sisters?"
    r"|overruled?|the trail|condemn(s|ed|ing|ation)?|uneven|reckon(ed)?|easy spare|sheets? kept|no verdict"
    " by silence)\b",
    re.IGNORECASE,
)
STORED = (
    "⟨kind⟩ taken back", "drying entry taken back", "photo taken back", "round taken back", "side sheet kept",
    "side sheet taken back",
)  # fmt: skip


def test_findings_gates_data_and_pages_are_all_there(capsys):
    assert main(["sentences"]) == 0
    printed = capsys.readouterr().out
    for words in (
        "core/insulation/words.py", "core/walk/data/suspects.toml", "web/templates/motors/page.html",
        "MΩ is a spot reading. The verdict needs a 1-minute reading.", "What the marks mean",
    ):  # fmt: skip
        assert words in printed


def test_one_folder_alone(capsys):
    assert main(["sentences", "--under", "core/drying"]) == 0
    heads = re.findall(r"^\S.*", capsys.readouterr().out, re.MULTILINE)
    assert heads
    assert all(head.startswith("core/drying/") for head in heads)


def test_no_placeholder_is_left_bare():
    cut = [text for _, _, text in sentences() if re.search(r"(?<!\{)\{\w+\.\w+[^}]*\}", text)]
    assert cut == []


@pytest.mark.parametrize("kind", ["core", "service", "draw", "exchange", "web"])
def test_no_sentence_has_a_term_that_is_gone(kind):
    found = [
        f"{path}:{line} {text}"
        for path, line, text in sentences()
        if path.startswith(kind) and GONE.search(text) and not text.endswith(STORED)
    ]
    assert found == []
