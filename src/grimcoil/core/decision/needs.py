"""What a verdict needs: the key tests that follow from the lead scheme, the kind of job and the maker's restrictions.

One table, `needs`, read by the decision and by the plan of a job. Each need is a place in the grammar of the open
formats (`winding_resistance.1-4`, `insulation.1-4.60`) and must be proven by itself; handbook practice, no published
source.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from itertools import combinations

from grimcoil.core.choices import LeadScheme, Occasion
from grimcoil.core.points import LINE_PAIRS, LINES, groups_of, phases_of
from grimcoil.core.wishes import AS_USUAL, InsulationBy, Wishes

BAN = "the maker forbids insulation testing"
NO_TESTER, NO_CLAMP = "no insulation tester at hand", "no clamp meter at hand"
AT_OHMMETER = "@ohmmeter"
UNKNOWN_SCHEME = "lead scheme unknown"


class NeedKind(StrEnum):
    """The step whose test proves a need."""

    OHMS = "winding_resistance"
    FRAME = "insulation"
    INDEX = "insulation_index"
    OHMMETER = "insulation_ohmmeter"
    BETWEEN = "winding_to_winding"
    VOLTS = "supply_voltage"
    AMPS = "line_current"
    NO_LOAD = "uncoupled_run"
    WALK = "walk"
    IDENTIFY = "identify"


DEAD = frozenset({NeedKind.OHMS, NeedKind.FRAME, NeedKind.INDEX, NeedKind.OHMMETER, NeedKind.BETWEEN})


@dataclass(frozen=True, slots=True)
class Need:
    """One reading or hold that a verdict can't do without.

    points: the pair, the line, or the leads joined on one side. to: leads on the other side of a hold between groups.
    together: the pairs that compare with this one. groups: numbers of the groups it reaches, as `groups_of` counts.
    speed: at which speed of a motor with two it is read.
    """

    kind: NeedKind
    place: str
    words: str
    points: tuple[str, ...] = ()
    to: tuple[str, ...] = ()
    together: tuple[str, ...] = ()
    groups: frozenset[int] = frozenset()
    speed: str = ""

    @property
    def together_set(self) -> frozenset[str]:
        """The same as a set: pairs compare whatever their order."""
        return _frozen(self.together)

    @property
    def dead(self) -> bool:
        """Whether it is read on the dead motor: power waits for these, and for these alone."""
        return self.kind in DEAD


@dataclass(frozen=True, slots=True)
class LeftOut:
    """A step that this job can't have, why, and what stays unproven for it."""

    step: str
    why: str
    stays_unproven: str


@dataclass(frozen=True, slots=True)
class Stopped:
    """A need that isn't asked for now, and what stops it."""

    need: Need
    because: str


@dataclass(frozen=True, slots=True)
class Needs:
    """The key tests of a job, and what is left out of it."""

    keys: tuple[Need, ...]
    left_out: tuple[LeftOut, ...] = ()


@lru_cache(maxsize=64)
def _frozen(pairs: tuple[str, ...]) -> frozenset[str]:
    return frozenset(pairs)


_LINES = ("1-2 2-3 3-1",)

# The fewest pairs that take every coil into account, in sets that a sound winding reads alike (NEMA MG-1 part 2
# schemes, standard, from memory; which pairs: computed, checked in the tests against the coils of each scheme).
OHM_SETS: dict[LeadScheme, tuple[str, ...]] = {
    LeadScheme.THREE: _LINES,
    LeadScheme.THREE_WYE: _LINES,
    LeadScheme.THREE_DELTA: _LINES,
    LeadScheme.SIX: ("1-4 2-5 3-6",),
    LeadScheme.NINE_WYE: ("1-4 2-5 3-6", "7-8 8-9 9-7"),
    LeadScheme.NINE_DELTA: ("1-4 1-9 2-5 2-7 3-6 3-8",),
    LeadScheme.TWELVE: ("1-4 2-5 3-6 7-10 8-11 9-12",),
    LeadScheme.PART_WINDING: ("1-2 2-3 3-1", "7-8 8-9 9-7"),
    LeadScheme.TWO_WINDINGS: ("1-2 2-3 3-1", "11-12 12-13 13-11"),
    LeadScheme.TAPPED_RING: ("1-2 2-3 3-1", "4-5 5-6 6-4"),
    LeadScheme.TAPPED_STAR: ("1-2 2-3 3-1", "4-5 5-6 6-4"),
}


def compared_with(scheme: str, pair: str) -> tuple[str, ...]:
    """The pairs that a sound winding of this scheme reads alike with one, itself among them.

    >>> compared_with("nine-lead-wye", "8-9")
    ('7-8', '8-9', '9-7')
    """
    sets = OHM_SETS[LeadScheme(scheme)] if scheme in OHM_SETS else ()
    return next((pairs for one in sets if pair in (pairs := tuple(one.split()))), (pair,))


# Which jobs end with the motor running: those ask for its volts and amps too.
_RUNNING = {Occasion.ROUTINE: NeedKind.AMPS, Occasion.LEADS: NeedKind.AMPS, Occasion.ACCEPTANCE: NeedKind.NO_LOAD}


@lru_cache(maxsize=256)
def needs(
    scheme: str,
    occasion: str = Occasion.ROUTINE,
    forbidden: bool = False,
    dead_begun: bool = True,
    wishes: Wishes = AS_USUAL,
) -> Needs:
    """The key tests of a job on a motor of this lead scheme.

    forbidden: the maker bans insulation testing, so an ohmmeter reads to frame instead. dead_begun: whether any dead
    test is on record; a call-out is a fault walk until then. wishes: what isn't at hand isn't asked, and stays unproven
    by name.

    >>> [need.place for need in needs("three-lead-wye", "dead-only", forbidden=True).keys][-2:]
    ['winding_resistance.3-1', 'insulation.1-2-3@ohmmeter']
    """
    if occasion == Occasion.CALL_OUT and not dead_begun:
        return Needs((Need(NeedKind.WALK, "walk", "troubleshooting, until it points at motor or cable"),))
    live = _live(scheme, occasion)
    no_amps: tuple[LeftOut, ...] = ()
    if wishes.no_clamp and any(need.kind in _AMPS for need in live):
        live = tuple(need for need in live if need.kind not in _AMPS)
        no_amps = (LeftOut("line_current", NO_CLAMP, "settled amps"),)
    if scheme not in OHM_SETS:
        stays = ("winding_resistance", "winding_to_winding", "insulation")
        first = Need(NeedKind.IDENTIFY, "identify", "the lead scheme: identify the leads first")
        left = tuple(LeftOut(step, UNKNOWN_SCHEME, _STAYS[step]) for step in stays)
        return Needs((first, *live), (*left, *no_amps))
    keys = _ohms(LeadScheme(scheme))
    if forbidden or wishes.no_tester:
        steps = ("winding_to_winding", "insulation") if len(groups_of(scheme)) > 1 else ("insulation",)
        left = tuple(LeftOut(step, BAN if forbidden else NO_TESTER, _STAYS[step]) for step in steps)
        return Needs((*keys, *by_ohmmeter(scheme), *live), (*left, *no_amps))
    index = _index(scheme) if occasion == Occasion.AFTER_DRYING else ()
    frame = _by_lead(scheme) if wishes.insulation_by is InsulationBy.LEAD else _frame(scheme)
    return Needs((*keys, *_between(scheme), *frame, *index, *live), no_amps)


_AMPS = frozenset({NeedKind.AMPS, NeedKind.NO_LOAD})
_STAYS = {
    "winding_resistance": "winding resistance",
    "winding_to_winding": "insulation between windings",
    "insulation": "insulation to frame",
}


def _ohms(scheme: LeadScheme) -> tuple[Need, ...]:
    return tuple(
        Need(NeedKind.OHMS, f"winding_resistance.{pair}", f"winding resistance {pair}", (pair,), (), tuple(one.split()))
        for one in OHM_SETS[scheme]
        for pair in one.split()
    )


def _frame(scheme: str) -> tuple[Need, ...]:
    return tuple(
        Need(
            NeedKind.FRAME, f"insulation.{'-'.join(group)}.60",
            f"insulation of {', '.join(group)} to frame, held 1 minute", group, ("frame",), (), frozenset({number}),
        )
        for number, group in enumerate(groups_of(scheme))
    )  # fmt: skip


def _by_lead(scheme: str) -> tuple[Need, ...]:
    """Each of three leads to frame by itself, whatever joins them inside; groups that stay apart are held one by one
    anyway.
    """
    groups = groups_of(scheme)
    if len(groups) != 1:
        return _frame(scheme)
    return tuple(
        Need(
            NeedKind.FRAME, f"insulation.{lead}.60", f"insulation of {lead} to frame, held 1 minute", (lead,),
            ("frame",), (), frozenset({0}),
        )
        for lead in groups[0]
    )  # fmt: skip


def by_ohmmeter(scheme: str) -> tuple[Need, ...]:
    """Each group to frame, and the groups that stay apart to one another, by an ordinary ohmmeter: what is asked in the
    stead of a tester that may not be used. It condemns, and proves no insulation.
    """
    frame = [
        (f"insulation.{'-'.join(need.points)}", f"{', '.join(need.points)} to frame by an ohmmeter", need)
        for need in _frame(scheme)
    ]
    between = [
        (f"insulation.{'-'.join(need.points)}.{'-'.join(need.to)}",
         f"{'-'.join(need.points)} to {'-'.join(need.to)} by an ohmmeter", need)
        for need in _between(scheme)
    ]  # fmt: skip
    return tuple(
        Need(
            NeedKind.OHMMETER, f"{place}{AT_OHMMETER}", f"insulation of {words}", need.points, need.to, (), need.groups
        )
        for place, words, need in (*frame, *between)
    )


def _index(scheme: str) -> tuple[Need, ...]:
    """After drying a ratio or an index is asked too: the value of 30 s, or that of 10 minutes in its stead."""
    return tuple(
        Need(
            NeedKind.INDEX, f"insulation.{'-'.join(group)}.30",
            f"insulation of {', '.join(group)} to frame at 30 s, or at 10 minutes", group, ("frame",), (),
            frozenset({number}),
        )
        for number, group in enumerate(groups_of(scheme))
    )  # fmt: skip


def _between(scheme: str) -> tuple[Need, ...]:
    groups = groups_of(scheme)
    sides = [({a}, {b}) for a, b in combinations(range(len(groups)), 2)]
    phases = phases_of(scheme)
    if len(groups) > len(phases) > 0:  # two halves a phase: between phases with the halves joined, then half to half
        sides = [(set(a), set(b)) for a, b in combinations(phases, 2)]
        sides += [({a}, {b}) for phase in phases for a, b in combinations(sorted(phase), 2)]
    return tuple(_apart(scheme, frozenset(a), frozenset(b)) for a, b in sides)


def _apart(scheme: str, a: frozenset[int], b: frozenset[int]) -> Need:
    groups = groups_of(scheme)
    first, second = (tuple(lead for number in sorted(side) for lead in groups[number]) for side in (a, b))
    one, other = "-".join(first), "-".join(second)
    place = f"winding_to_winding.{one}.{other}.60"
    words = f"insulation between {one} and {other}, held 1 minute"
    return Need(NeedKind.BETWEEN, place, words, first, second, (), a | b)


_SPEEDS = frozenset({LeadScheme.TWO_WINDINGS, LeadScheme.TAPPED_RING, LeadScheme.TAPPED_STAR})


def speeds_of(scheme: str) -> tuple[str, ...]:
    """The speeds a motor of this scheme runs at by its own leads, the lower first; empty where it has one.

    >>> speeds_of("two-speed-two-winding"), speeds_of("six-lead")
    (('low', 'high'), ())
    """
    return ("low", "high") if scheme in _SPEEDS else ()


def _live(scheme: str, occasion: str) -> tuple[Need, ...]:
    kind = _RUNNING.get(Occasion(occasion))
    if kind is None:
        return ()
    settled = "uncoupled, settled amps" if kind is NeedKind.NO_LOAD else "settled amps"
    out: list[Need] = []
    for speed in speeds_of(scheme) or ("",):
        at, words = (f"@{speed}", f" at {speed} speed") if speed else ("", "")
        for pair in LINE_PAIRS:
            place = f"supply_voltage.{pair}{at}"
            out.append(Need(NeedKind.VOLTS, place, f"supply volts {pair}{words}", (pair,), speed=speed))
        for line in LINES:
            out.append(Need(kind, f"{kind}.{line}{at}", f"{settled} in {line}{words}", (line,), speed=speed))
    return tuple(out)
