"""Which parts each kind of job is made of, and the plan that comes of them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from functools import lru_cache

from grimcoil.core.choices import Occasion, School
from grimcoil.core.decision.needs import needs
from grimcoil.core.plan.brief import Brief, Part
from grimcoil.core.plan.kit import bring
from grimcoil.core.plan.parts import alone, aside, dead, holds, live, safe
from grimcoil.core.plan.steps import Plan, Step
from grimcoil.core.wishes import FirstTest

VERSION = 9
_OPENED: tuple[Part, ...] = (
    safe.isolate, safe.prove_dead, safe.prove_dead_box, safe.as_found, safe.separate, dead.instrument_check,
    dead.temperature,
)  # fmt: skip
_OHMS: tuple[Part, ...] = (dead.continuity, dead.resistance, dead.accessories)
_HELD: tuple[Part, ...] = (
    holds.between, holds.insulation, alone.cable_wished, alone.terminal_block, aside.surge, dead.by_hand, aside.grease,
)  # fmt: skip
DEAD_PATH: tuple[Part, ...] = (*_OPENED, *_OHMS, *_HELD)
_BACK: tuple[Part, ...] = (safe.connection, safe.reconnect, safe.restore)
RECIPES: dict[Occasion, tuple[Part, ...]] = {
    Occasion.ROUTINE: (live.as_running, *DEAD_PATH, *_BACK, live.running, live.extras, live.lead_roll, live.close),
    Occasion.CALL_OUT: (live.walk, live.close),
    Occasion.ACCEPTANCE: (
        *DEAD_PATH, *_BACK, live.rotation, live.uncoupled, live.extras, live.close,
    ),
    Occasion.WET: (
        *_OPENED, holds.insulation, *_OHMS, holds.between, aside.surge, dead.by_hand, aside.grease, live.close,
    ),
    Occasion.LEADS: (
        *_OPENED, dead.identify, safe.joining, *_OHMS, *_HELD, safe.reconnect, safe.restore, live.rotation,
        live.running, live.extras, live.lead_roll, live.close,
    ),
    Occasion.DEAD_ONLY: (
        safe.prove_dead_floor, safe.as_found, safe.separate, dead.instrument_check, dead.temperature, *_OHMS, *_HELD,
        live.close,
    ),
    Occasion.AFTER_DRYING: (*DEAD_PATH, *_BACK, live.rotation, live.close),
}  # fmt: skip


@lru_cache(maxsize=256)
def build(brief: Brief) -> Plan:
    """The plan of a job before anything is read.

    >>> [step.name for step in build(Brief("three-lead", Occasion.CALL_OUT)).steps]
    ['walk', 'decision', 'sign']
    """
    recipe = list(RECIPES[brief.occasion])
    if not brief.known and dead.identify not in recipe and dead.temperature in recipe:
        recipe.insert(recipe.index(dead.temperature) + 1, dead.identify)  # nothing is paired off before it is known
    recipe = first_as_wished(recipe, brief.wishes.first_test)
    left = needs(brief.scheme, brief.occasion, brief.insulation_test_forbidden, wishes=brief.wishes).left_out
    school = School.STARTER_FIRST if brief.at_starter else School.BOX_FIRST
    steps = numbered(holds.with_volts([step for part in recipe for step in part(brief)]))
    return Plan(brief.occasion, VERSION, steps, left, school, bring(brief), brief.wishes)


_FIRST: dict[FirstTest, tuple[Part, ...]] = {
    FirstTest.OHMS: (dead.continuity, dead.resistance),
    FirstTest.INSULATION: (dead.continuity, holds.insulation),
    FirstTest.SHAFT: (dead.by_hand,),
}


def first_as_wished(recipe: list[Part], first: FirstTest | None) -> list[Part]:
    """The same parts with the chosen one before the other dead tests; what it isn't made of is left as it is."""
    moved = [part for part in _FIRST.get(first, ()) if part in recipe] if first else []
    at = min((recipe.index(part) for part in (*_OHMS, *_HELD) if part in recipe), default=0)
    rest = [part for part in recipe if part not in moved]
    return [*rest[:at], *moved, *rest[at:]]


def numbered(steps: Iterable[Step]) -> tuple[Step, ...]:
    """Steps with their numbers, from 1."""
    return tuple(step if step.number == i else replace(step, number=i) for i, step in enumerate(steps, start=1))
