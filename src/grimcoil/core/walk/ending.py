"""The end of a walk: which part is condemned, what can't be told from it, what goes over to the dead tests."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from grimcoil.core.walk.choose import Choice
from grimcoil.core.walk.faults import Suspect

SURE, MOSTLY = 0.93, 0.8
# Where nothing is left to ask: the likeliest is named with all that may stand in its place; with a test skipped later.
LIKELIEST, LIKELIEST_SKIPPED = 0.4, 0.6
CLEARED, AGAINST = 0.004, 0.05
NO_TEST = "no test that is allowed here tells them apart"
SKIPPED = "a test that was skipped might tell them apart"
MOTOR = frozenset({"winding", "protector", "cable"})
# No test of the walk can tell these apart (common practice; some only until more is opened).
PAIRS = (
    (
        {"winding-open", "protector-failed", "protector-open-hot"},
        "open in the star point looks the same from the leads",
    ),
    ({"winding-turn-short", "winding-phase-to-phase"}, "on three leads a low pair is both"),
    ({"winding-to-frame", "winding-damp"}, "alike from all leads: dry it first; what stays low touches the frame"),
    (
        {"phase-reversed", "winding-turn-short"},
        "unbalanced amps and balanced ohms come from both: looking at the joints tells",
    ),
    ({"phase-reversed", "connection-wrong"}, "looking at the joints tells"),
    ({"overload-faulty", "joint-loose"}, "heat or a loose joint round it does the same: another relay tells"),
    (
        {"overload-faulty", "overload-tripped"},
        "a load that has passed leaves nothing behind: only when it trips again is it the relay",
    ),
    ({"contactor-pole-burnt", "joint-loose"}, "a burnt pole and a loose lug beside it drop alike: open it and look"),
    ({"cable-open", "joint-loose"}, "a loose lug looks like a bad core until the core is lifted"),
    ({"cable-high-resistance", "joint-loose"}, "a loose lug looks like a bad core until the core is lifted"),
)


@dataclass(frozen=True, slots=True)
class Standing:
    """A suspect as it stands. state: `open`, `cleared` or `condemned`; by: the entries that moved it most.

    pointed: something was read or seen that it explains and a sound circuit doesn't.
    """

    suspect: Suspect
    state: str
    belief: float
    by: tuple[str, ...]
    pointed: bool = True


@dataclass(frozen=True, slots=True)
class End:
    """A verdict: what is condemned, and what no allowed test can tell from it."""

    suspect: Suspect
    by: tuple[str, ...]
    alternatives: tuple[tuple[Suspect, str], ...]
    line: str | None


CONSEQUENCES = frozenset({"fuse-blown", "breaker-tripped"})


@dataclass(frozen=True, slots=True)
class Left:
    """What is still to be asked. ranked: the best first; held_back: nothing may be closed yet; skipped: a test was
    left out that might have told.
    """

    ranked: Sequence[Choice]
    held_back: bool
    skipped: bool


def end_of(standings: Sequence[Standing], left: Left) -> End | None:
    """The verdict, where one part is sure enough, or nothing is left to ask and the likeliest stands out. One that is
    named below certain is named with all that may stand in its place.
    """
    by_name: dict[str, float] = {}
    for one in standings:
        by_name[one.suspect.name] = by_name.get(one.suspect.name, 0.0) + one.belief
    top = max(by_name, key=lambda name: by_name[name])
    alike = {name: why for names, why in PAIRS if top in names for name in names if name != top}
    together = by_name[top] + sum(by_name.get(name, 0.0) for name in alike)
    exhausted = not left.ranked and together > (LIKELIEST_SKIPPED if left.skipped else LIKELIEST)
    alone = by_name[top] > SURE or (together > SURE and by_name[top] > MOSTLY)
    if not alone and not (together > SURE and _no_more(left.ranked)) and not exhausted:
        return None
    if not any(one.pointed for one in standings if one.suspect.name == top):
        return None  # what is only left over isn't found
    if top in CONSEQUENCES and left.held_back:
        return None
    mine = sorted((one for one in standings if one.suspect.name == top), key=lambda one: -one.belief)
    best = mine[0]
    certain = best.belief > 0.8 * by_name[top]
    others = []
    for one in standings:
        why = alike.get(one.suspect.name)
        if why is not None and one.belief > 0.01:
            others.append((one.suspect, why))
    if exhausted and not alone:
        named = {one.name for one, _ in others} | {top}
        rest = sorted((one for one in standings if one.suspect.name not in named), key=lambda one: -one.belief)
        others += [(one.suspect, SKIPPED if left.skipped else NO_TEST) for one in rest if one.belief > AGAINST]
    if not certain:
        others += [(one.suspect, "which one of them isn't told apart yet") for one in mine[1:] if one.belief > 0.05]
    return End(best.suspect, best.by, tuple(others), best.suspect.line if certain else None)


def _no_more(ranked: Sequence[Choice]) -> bool:
    return not ranked or ranked[0].bits < 0.3


def condemned(one: Standing, end: End) -> Standing:
    """The standing of the part that the verdict names."""
    return replace(one, state="condemned") if one.suspect is end.suspect else one


def handed_over(standings: Sequence[Standing]) -> list[Standing]:
    """Suspects of motor and cable, where next to nothing else is left."""
    inside = [one for one in standings if one.suspect.element in MOTOR and one.belief > CLEARED]
    return sorted(inside, key=lambda one: -one.belief) if sum(one.belief for one in inside) > 0.97 else []
