"""`bin/test --core` tries a part of what CI tries, while one works at the trade alone."""

from collections.abc import Sequence
from typing import TypeVar

from hypothesis import settings

T = TypeVar("T")


def some(items: Sequence[T], every: int = 3) -> Sequence[T]:
    """All of them in CI; in a quick run each so many-th."""
    quick = settings.default is not None and settings.default.max_examples < settings.get_profile("here").max_examples
    return items[::every] if quick else items
