"""Several readings typed in one go: each for the next place of its step, in their order."""

from __future__ import annotations

from collections.abc import Collection

from grimcoil.core.errors import Refusal
from grimcoil.core.fields import FIELDS, Field
from grimcoil.core.plan.progress import Progress
from grimcoil.core.plan.steps import Input
from grimcoil.core.readings import parse_reading


class TooMany(Refusal):
    """More readings than places are left in the step."""


def spread(state: Progress, place: str, text: str, ours: Collection[str] = ()) -> list[tuple[str, str]]:
    """Place and text of each reading, where a text holds several; the one place with the whole text where it doesn't.

    A text holds several where each of its words is a reading by itself: `0.352 0.361`, not `0.84 ohm`. ours: places
    that the same text filled before. Raises TooMany, Unknown.
    """
    step, slot = state.plan.at(place)
    words = text.split()
    if len(words) < 2 or slot.input is not Input.READING or not all(_reads(word, FIELDS[slot.field]) for word in words):
        return [(place, text)]
    ahead = step.slots[step.slots.index(slot) :]
    free = [
        step.place(one)
        for one in ahead
        if one.field == slot.field
        and one.act is slot.act
        and (step.place(one) in ours or step.place(one) not in state.kept.standing)
    ]
    if len(words) > len(free):
        raise TooMany(slot.label, f"{len(words)} readings", f"at most {len(free)}, as many as places are left here")
    return list(zip(free, words, strict=False))


def _reads(word: str, field: Field) -> bool:
    try:
        parse_reading(word, field)
    except Refusal:
        return False
    return True
