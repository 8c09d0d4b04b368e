"""What wears: words of round and sheet, each with what follows."""

from grimcoil.core.side.wear import OBSERVATIONS, VIBRATIONS


def test_every_word_says_what_to_do_next():
    for words in (VIBRATIONS, OBSERVATIONS):
        assert all(following and severity in ("sound", "watch", "act") for severity, following in words.values())
