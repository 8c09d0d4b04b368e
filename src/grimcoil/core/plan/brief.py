"""What a plan is built from: all that is known of motor, winding, position and job before anything is read."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from grimcoil.core.choices import BrakeFeed, LeadScheme, Occasion, School, SourceKind, Starter
from grimcoil.core.decision.needs import Need, NeedKind, needs, speeds_of
from grimcoil.core.insulation.judge import rated_v
from grimcoil.core.insulation.voltage import advised
from grimcoil.core.isolation import sources_of
from grimcoil.core.plan.steps import Step
from grimcoil.core.points import groups_of
from grimcoil.core.resistance.balance import resolution_needed_ohm
from grimcoil.core.subject import Fitting, Source, Subject
from grimcoil.core.wishes import AS_USUAL, InsulationBy, Wishes

# Leads that a cable of as many cores as the starter has reaches; common practice without source.
REACHED = frozenset(
    {LeadScheme.THREE, LeadScheme.THREE_WYE, LeadScheme.THREE_DELTA, LeadScheme.TWO_WINDINGS}
)  # fmt: skip
ELECTRONIC = frozenset({Starter.SOFT, Starter.DRIVE})


@dataclass(frozen=True, slots=True)
class Brief:
    """What a plan is built from.

    school: None where the kind of job decides. electronics: a drive or soft starter feeds the motor. test_voltage_v:
    the usual one, V DC. resolution_ohm: what an ohmmeter has to resolve to show the balance, where the ohms are known.
    system: how the supply stands to earth, where declared. taking: steps wanted beside the recipe's own, of `EXTRAS`.
    frequency_hz: the plate's. wishes: how it is done and with what. sources: what is locked and proved dead, each by
    itself; local: the disconnect is at the motor, so that its line side stays live; brake_on_lines: two of the lines
    feed the brake, brake_lines: which. names, colours: of its leads in this box, by their numbers; feed: colours of
    the cores from the starter, by line; neutral: the name of a fourth lead, the star point brought out.
    """

    scheme: str
    occasion: Occasion = Occasion.ROUTINE
    insulation_test_forbidden: bool = False
    school: School | None = None
    starter: str | None = None
    fittings: tuple[Fitting, ...] = ()
    brake: bool = False
    test_voltage_v: float | None = None
    resolution_ohm: float | None = None
    system: str | None = None
    taking: frozenset[str] = frozenset()
    frequency_hz: float | None = None
    sources: tuple[Source, ...] = (Source(SourceKind.MAIN),)
    local: bool = False
    brake_on_lines: bool = False
    wishes: Wishes = AS_USUAL
    brake_lines: str = ""
    names: tuple[tuple[str, str], ...] = ()
    colours: tuple[tuple[str, str], ...] = ()
    feed: tuple[tuple[str, str], ...] = ()
    neutral: str = ""

    def lead(self, number: str) -> str:
        """A lead by its number, and as it is marked in this box: `1 (U1, brown)`."""
        marked = [dict(known).get(number, "") for known in (self.names, self.colours)]
        own = ", ".join(word for word in marked if word and word != number)
        return f"{number} ({own})" if own else number

    def listed(self, leads: Iterable[str]) -> str:
        """Several of them."""
        return ", ".join(self.lead(lead) for lead in leads)

    @property
    def fed_by(self) -> str:
        """The feed's cores by their colours, as a sentence; empty where none is on record."""
        told = ", ".join(f"{line} {colour}" for line, colour in self.feed)
        return f"Cores of the feed: {told}." if told else ""

    def pair(self, pair: str) -> str:
        """Two leads as a short label: `1–4`, and `1–4 (U1–U2)` where both are marked otherwise."""
        known = dict(self.names)
        marked = [known.get(lead, "") for lead in pair.split("-")]
        short = pair.replace("-", "–")
        return f"{short} ({'–'.join(marked)})" if all(marked) and marked != pair.split("-") else short

    @property
    def speeds(self) -> tuple[str, ...]:
        """Each speed its leads have, the lower first; one without a name where there is one."""
        return speeds_of(self.scheme) or ("",)

    @property
    def linked(self) -> bool:
        """Whether links may lie between its leads: they come off before each winding is read by itself."""
        return len(self.groups) > 1 and self.scheme != LeadScheme.TWO_WINDINGS

    @property
    def known(self) -> bool:
        """Whether the lead scheme is."""
        return bool(groups_of(self.scheme))

    @property
    def groups(self) -> tuple[tuple[str, ...], ...]:
        """Leads that continuity joins, in the order of the box."""
        return groups_of(self.scheme)

    @property
    def leads(self) -> tuple[str, ...]:
        """The leads in the order of the box."""
        return tuple(lead for group in self.groups for lead in group)

    @property
    def reached(self) -> bool:
        """Whether the cable brings every lead to the starter."""
        return self.scheme in REACHED or (self.scheme == LeadScheme.SIX and self.starter == Starter.STAR_DELTA)

    @property
    def at_starter(self) -> bool:
        """Whether the dead tests begin at the starter: as wished where the cable reaches every lead; else a call-out
        and a routine job do, all others begin at the motor box.
        """
        if not self.reached or self.occasion is Occasion.DEAD_ONLY or self.taking & {CABLE, TERMINAL_BLOCK}:
            return False  # a cable or block by itself wants the box open
        if self.school is not None:
            return self.school is School.STARTER_FIRST
        return self.occasion in (Occasion.ROUTINE, Occasion.CALL_OUT)

    @property
    def ohmmeter_only(self) -> bool:
        """No insulation tester is at hand, or none may be used: an ohmmeter condemns, and proves nothing."""
        return OHMMETER in self.taking or self.wishes.no_tester or self.insulation_test_forbidden

    @property
    def joined(self) -> bool:
        """Whether all leads are held to frame at once where they could be held one group at a time."""
        return TOGETHER in self.taking or self.wishes.insulation_by is InsulationBy.JOINED

    def needed(self, kind: NeedKind) -> list[Need]:
        """The key tests of one kind."""
        found = needs(self.scheme, self.occasion, self.insulation_test_forbidden, wishes=self.wishes)
        return [need for need in found.keys if need.kind is kind]


Part = Callable[[Brief], tuple[Step, ...]]


# What can be wanted beside a recipe: of the running motor; insulation by an ohmmeter where no tester is at hand, or to
# frame with all leads joined where they could be held one group at a time; a surge comparison by a tester of its own.
OHMMETER, LEAD_ROLL, TOGETHER = "ohmmeter", "lead_roll", "together"
SURGE, VIBRATION, CAPACITOR_LIVE, STARTER, GREASE = "surge", "vibration", "capacitor", "starter", "grease"
# Read as it runs, before anything is switched off; with the panel and the motor box open besides.
AS_RUNNING, RUNNING_OPEN = "as_running", "as_running_open"
# The cable by itself, its far ends apart and then joined; the terminal block by itself.
CABLE, TERMINAL_BLOCK = "cable", "terminal_block"
EXTRAS = (
    "contact_drop", "frame_temperature", VIBRATION, CAPACITOR_LIVE, STARTER, GREASE, SURGE, LEAD_ROLL, OHMMETER,
    TOGETHER, AS_RUNNING, RUNNING_OPEN, CABLE, TERMINAL_BLOCK,
)  # fmt: skip


def brief_of(
    subject: Subject,
    occasion: Occasion,
    school: School | None = None,
    taking: Iterable[str] = (),
    wishes: Wishes = AS_USUAL,
) -> Brief:
    """Out of what the verdicts know of the motor and its place."""
    winding, rated = subject.winding, rated_v(subject)
    return Brief(
        winding.lead_scheme,
        occasion,
        winding.insulation_test_forbidden,
        school,
        subject.position.starter,
        subject.fittings.extras,
        subject.fittings.brake,
        None if rated is None else advised(rated, wishes.limits(subject.criteria).test_voltage_school).low_v,
        _resolution(winding.baseline_ohm, subject),
        subject.supply_system,
        frozenset(taking),
        subject.plate.frequency_hz,
        sources_of(subject),
        subject.position.local,
        subject.fittings.brake_feed == BrakeFeed.TWO_LINES or bool(subject.position.brake_lines),
        wishes,
        subject.position.brake_lines,
        tuple(winding.lead_names.items()),
        tuple(winding.lead_colours.items()),
        tuple(sorted(subject.position.feed_colours.items())),
        winding.neutral_lead,
    )


def _resolution(baseline: Mapping[str, float], subject: Subject) -> float | None:
    """The coarsest last digit that still shows a sound winding as balanced, ohm; None without a baseline."""
    values = [ohm for ohm in baseline.values() if ohm > 0]
    if len(values) < 3:
        return None
    limits = subject.criteria
    return resolution_needed_ohm([min(values)] * 3, limits.balance_sound.value, limits.balance_measure)
