"""How a day is told in a sentence, one way everywhere: on pages, papers, findings and refusals."""

from datetime import date


def day_told(on: date) -> str:
    """`4 Mar 2026`: the month as a word, since 4/3 is another day elsewhere. A time tells its own day."""
    return f"{on.day} {on:%b %Y}"
