"""What the Leads page says, as sentences: of a candidate, and of the measurement that is asked."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from grimcoil.core.leads.identify import Candidate, Identification
from grimcoil.core.stator.schemes import SCHEMES

FAULTS = {
    "open-coil": "a coil open at",
    "lead-off": "a lead off its coil at",
    "leak": "a leak between",
    "coil-off": "a coil of other ohms at",
}
DONE = (
    "Nothing more to be told by a reading. Connect for the lower stress, a reduced voltage or a protected first start;"
    " currents equal, sound even."
)
AGAIN = "Read the pairs named beside again, clean ends first."


@dataclass(frozen=True, slots=True)
class Told:
    """A candidate in words. settled: one way is left, with no fault, so that its markings can be kept."""

    mark: str
    title: str
    fault: str
    fits: str
    settled: bool


def told_of(candidate: Candidate, found: Identification) -> Told:
    """What is said of one candidate among those that still fit."""
    fault = candidate.fault
    settled = candidate.ways == 1 and fault is None
    alone = len(found.candidates) == 1
    mark = "act" if fault is not None else "sound" if settled and alone else "unproven"
    title = SCHEMES[candidate.scheme].title
    if fault is None:
        return Told(mark, title, "", _together(candidate), settled)
    between = " and ".join(candidate.fault_between)
    fits = f"Fits within {candidate.misfit:.2g} of what meter and contacts explain."
    return Told(mark, title, f", with a fault: {FAULTS[fault.kind]} {between}", fits, settled)


def _together(candidate: Candidate) -> str:
    if not candidate.groups:
        return "Nothing tied together yet."
    return f"Together: {', '.join('–'.join(group) for group in candidate.groups)}."


def still_fits(found: Identification) -> str:
    """The heading over the candidates."""
    count = len(found.candidates)
    if not count:
        return "Nothing fits"
    return "1 scheme still fits" if count == 1 else f"{count} schemes still fit"


def nothing_asked(found: Identification) -> str:
    """Where no reading tells more."""
    return DONE if found.candidates and found.candidates[0].fault is None else AGAIN


def how(kind: str, source: Sequence[str], across: Sequence[str]) -> tuple[str, str]:
    """Meter and leads of a measurement, in two short lines."""
    if kind == "ohms":
        return "Ohms, two-wire.", "A path, or OL."
    if kind == "kick":
        return f"Battery + on {source[0]}.", f"Meter + on {across[0]}, − on {across[1]}."
    return "Low AC on this pair.", f"Across {' and '.join(across)}."


def to_do(kind: str, source: Sequence[str], across: Sequence[str], joined: Sequence[str]) -> str:
    """What the hands do for it."""
    if kind == "ohms":
        return f"Put the probes on {' and '.join(source)}."
    joint = f"Join {' to '.join(joined)}. " if joined else ""
    if kind == "kick":
        return f"{joint}Millivolts, a needle or bar graph."
    return f"{joint}Low AC from an isolated source on {'–'.join(source)}; read across {' and '.join(across)}."


def beside(kind: str, own: bool) -> str:
    """What stands under it."""
    if kind != "ohms":
        return "Nobody touches the leads: other windings can step it up, and a coil kicks on break."
    if own:
        return "Your choice. Any pair counts."
    return "This pair tells most. Any other you read counts as well: tap two leads."
