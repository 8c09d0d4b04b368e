"""Which parts each kind of job is made of, and the plan that comes of them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from functools import lru_cache

from grimcoil.core.choices import Occasion
from grimcoil.core.decision.needs import needs
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.plan import parts
from grimcoil.core.plan.parts import Brief, Part
from grimcoil.core.plan.steps import Plan, Step

VERSION = 2
_DEAD: tuple[Part, ...] = (
    parts.as_found, parts.instrument_check, parts.temperature, parts.resistance, parts.insulation,
)  # fmt: skip
RECIPES: dict[Occasion, tuple[Part, ...]] = {
    Occasion.ROUTINE: (
        parts.isolate, parts.prove_dead, *_DEAD, parts.reconnect, parts.supply, parts.current, parts.close,
    ),
    Occasion.DEAD_ONLY: (parts.on_the_floor, parts.prove_dead_box, *_DEAD, parts.close),
}  # fmt: skip


@lru_cache(maxsize=256)
def build(brief: Brief) -> Plan:
    """The plan of a job. Raises RecordRefusal for a kind of job that has no recipe."""
    recipe = RECIPES.get(brief.occasion)
    if recipe is None:
        raise RecordRefusal("kind of job", brief.occasion, f"one of {', '.join(RECIPES)}", Occasion.ROUTINE)
    left = needs(brief.scheme, brief.occasion, brief.insulation_test_forbidden).left_out
    return Plan(brief.occasion, VERSION, numbered(step for part in recipe for step in part(brief)), left)


def numbered(steps: Iterable[Step]) -> tuple[Step, ...]:
    """Steps with their numbers, from 1."""
    return tuple(replace(step, number=i) for i, step in enumerate(steps, start=1))
