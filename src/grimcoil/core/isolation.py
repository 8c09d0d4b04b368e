"""Every source of energy of a motor, each with its own lock and its own point of the proof of death."""

from __future__ import annotations

from grimcoil.core.choices import BrakeFeed, LeadScheme, SourceKind, Starter
from grimcoil.core.days import text_told
from grimcoil.core.subject import Source, Subject

WORDS = {
    SourceKind.MAIN: "Main supply", SourceKind.SECOND_FEED: "Second feed", SourceKind.CONTROL: "Control supply",
    SourceKind.HEATER: "Heater supply", SourceKind.BRAKE: "Brake supply", SourceKind.CAPACITOR: "Capacitors",
    SourceKind.DRIVE_LINK: "Drive and its direct-current link", SourceKind.STORED_LOAD: "Load that can move",
    SourceKind.OTHER: "Another source",
}  # fmt: skip
# What a voltage tester can be put on; a charge is read as volts DC.
ELECTRIC = frozenset(set(SourceKind) - {SourceKind.STORED_LOAD})
CHARGED = frozenset({SourceKind.CAPACITOR, SourceKind.DRIVE_LINK})


def sources_of(subject: Subject) -> tuple[Source, ...]:
    """The sources of the isolation card, and those that follow from the record: a second speed fed by itself, a control
    circuit, heater or brake with a supply of its own, capacitors, a drive, the load that a brake holds. The main one
    first. (common practice without source)
    """
    card = subject.position.sources
    given: dict[SourceKind, Source] = {one.kind: one for one in card if one.kind is not SourceKind.OTHER}
    others = [one for one in card if one.kind is SourceKind.OTHER]
    fitted = {fitting.what for fitting in subject.fittings.extras}
    starter = subject.position.starter
    follows = {
        SourceKind.MAIN: True,
        SourceKind.SECOND_FEED: subject.winding.lead_scheme == LeadScheme.TWO_WINDINGS or starter == Starter.TWO_SPEED,
        SourceKind.CONTROL: subject.position.control_separate,
        SourceKind.HEATER: "heater" in fitted,
        SourceKind.BRAKE: subject.fittings.brake_feed == BrakeFeed.SEPARATE,
        SourceKind.CAPACITOR: "capacitor" in fitted,
        SourceKind.DRIVE_LINK: starter in (Starter.DRIVE, Starter.SOFT),
        SourceKind.STORED_LOAD: subject.fittings.brake,
    }
    made = [given.get(kind, Source(kind)) for kind in SourceKind if kind in given or follows.get(kind)]
    return (*made, *others)


def source_words(source: Source) -> str:
    """How it is called: its own name, or what it is.

    >>> source_words(Source(SourceKind.CONTROL)), source_words(Source(SourceKind.OTHER, "Lighting"))
    ('Control supply', 'Lighting')
    """
    return source.name or WORDS[source.kind]


def found_words(source: Source) -> str:
    """What was found live of it; empty where nothing was.

    >>> found_words(Source(SourceKind.CONTROL, found_v=230, found_at="2025-05-03", found_by="R. Amsel"))
    'Found live here on 3 May 2025 by R. Amsel: 230 V'
    """
    if source.found_v is None:
        return ""
    when = f" on {text_told(source.found_at)}" if source.found_at else ""
    by = f" by {source.found_by}" if source.found_by else ""
    return f"Found live here{when}{by}: {source.found_v:g} V"
