"""Half-coils in series inside, told as the one winding that a box brings out: six leads list no coils 7 to 12."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from grimcoil.core.stator.connect import CoilState
from grimcoil.core.stator.schemes import SCHEMES


@dataclass(frozen=True, slots=True)
class Winding:
    """One or more half-coils in series, by their numbers in the scheme, named by the leads it lies between."""

    name: str
    coils: tuple[int, ...]


def windings_of(scheme: str) -> list[Winding]:
    """What lies between leads, in the scheme's order.

    >>> [one.name for one in windings_of("six-lead")], [one.name for one in windings_of("three-lead-wye")]
    (['1–4', '2–5', '3–6'], ['1–star', '2–star', '3–star'])
    >>> [one.name for one in windings_of("nine-lead-wye")][:4]
    ['1–4', '2–5', '3–6', '7–star']
    """
    made = SCHEMES[scheme]
    lead_at = {node: lead for lead, node in made.leads}
    inside = {frozenset(joint) for joint in made.joints if len(joint) == 2 and not set(joint) & set(lead_at)}
    follows = {
        a: b
        for a, one in enumerate(made.coils)
        for b, other in enumerate(made.coils)
        if frozenset((one.finish, other.start)) in inside
    }
    joined = {node: joint for joint in made.joints for node in joint}
    out = []
    for number, coil in enumerate(made.coils):
        if number in follows.values():
            continue
        chain = (number, follows[number]) if number in follows else (number,)
        last = made.coils[chain[-1]].finish
        near = next((lead_at[node] for node in joined.get(last, ()) if node in lead_at), "")
        end = lead_at.get(last) or near or ("star" if len(joined.get(last, ())) > 2 else last)
        out.append(Winding(f"{lead_at.get(coil.start, coil.start)}–{end}", chain))
    return out


def told(scheme: str, coils: Sequence[CoilState]) -> list[CoilState]:
    """The states of whole windings: volts of halves in series add; on one axis, the first tells the rest."""
    by_name = {coil.coil: coil for coil in coils}
    made = SCHEMES[scheme].coils
    out = []
    for one in windings_of(scheme):
        states = [by_name[made[number].name] for number in one.coils if made[number].name in by_name]
        if states:
            out.append(replace(states[0], coil=one.name, volts=sum(state.volts for state in states)))
    return out
