"""How a day is told in a sentence, one way everywhere: on pages, papers, findings and refusals."""

from datetime import date


def day_told(on: date) -> str:
    """`4 Mar 2026`: the month as a word, since 4/3 is another day elsewhere. A time tells its own day."""
    return f"{on.day} {on:%b %Y}"


def text_told(text: str) -> str:
    """A day as documents write it, as it is told; any other text as it is.

    >>> text_told("2026-03-04"), text_told("in March")
    ('4 Mar 2026', 'in March')
    """
    try:
        return day_told(date.fromisoformat(text)) if len(text) == len("2026-03-04") else text
    except ValueError:
        return text
