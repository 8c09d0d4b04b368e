"""What was found of a motor's leads, kept with the motor."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime

from grimcoil.core.choices import LifeKind
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.people import Action, Actor
from grimcoil.core.stator.changes import change_of_scheme
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.service.register import note_changes
from grimcoil.service.registered import motor_named, with_winding
from grimcoil.service.subjects import own_of, without_names
from grimcoil.store import motors as motor_rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.tables import LifeEvent, WindingRow


@dataclass(frozen=True, slots=True)
class Marked:
    """A scheme and the marking of each lead, by the name it had while unmarked; named: what is on it, its colour."""

    scheme: str
    labels: tuple[tuple[str, str], ...]
    named: Mapping[str, str] = field(default_factory=dict)

    @property
    def colours(self) -> dict[str, str]:
        """What is on each lead, by the number it was found to have."""
        return {label.split()[0]: self.named[lead] for lead, label in self.labels if lead in self.named}

    @property
    def note(self) -> str:
        """As it stands on the motor's record."""
        on = {lead: f" ({word})" for lead, word in self.named.items()}
        listed = ", ".join(f"{lead}{on.get(lead, '')} is {label}" for lead, label in self.labels)
        return f"{SCHEMES[self.scheme].title}: {listed}"[:200]


@dataclass(frozen=True, slots=True)
class OwnLeads:
    """A motor's lead scheme, its plate's volts as Connection takes them, the supply's, and what stands on each lead in
    its own box, by the scheme's number: its name alone, and with its colour.
    """

    scheme: str
    rated: str
    supply: str
    words: Mapping[str, str]
    names: Mapping[str, str]


def own_leads(store: Store, tag: str) -> OwnLeads:
    """Two queries. Raises Unknown."""
    with store() as session:
        motor, winding = with_winding(session, tag)
        own = own_of(winding)
        named, coloured = own.get("lead_names", {}), own.get("lead_colours", {})
        words = {
            lead: " ".join(word for word in (named.get(lead, ""), coloured.get(lead, "")) if word)
            for lead in {*named, *coloured}
        }
        volts = [one for one in (motor.rated_voltage_v, motor.rated_voltage_2_v) if one is not None]
        letter = {"wye": "Y", "delta": "D"}.get(winding.lead_scheme.rpartition("-")[2], "")
        rated = "/".join(f"{float(one):g}{letter}" for one in sorted(volts)) if letter else ""
        system = motor.position.system_voltage_v if motor.position else None
        return OwnLeads(winding.lead_scheme, rated, "" if system is None else f"{float(system):g}", words, named)


def keep_markings(store: Store, actor: Actor, tag: str, marked: Marked, now: datetime) -> None:
    """The winding gets its lead scheme, the motor's life the markings. Twice the same changes nothing.

    Raises Unknown for a tag that isn't on record, RecordRefusal for markings that aren't settled.
    """
    actor.need(Action.MARK_LEADS)
    if marked.scheme not in SCHEMES or len(marked.labels) != len(SCHEMES[marked.scheme].labels):
        raise RecordRefusal("leads", marked.scheme, "every lead with one marking: go on reading until each has one")
    with store.begin() as session:
        motor = motor_named(session, tag)
        winding = motor_rows.winding_now(session, motor.id)
        if winding is not None:
            winding.lead_scheme = marked.scheme
            if marked.colours:
                winding.own = {**(winding.own or {}), "lead_colours": marked.colours}
            note_changes(session, actor, now, winding)
        if not any(event.note == marked.note for event in motor_rows.history(session, motor.id).events):
            life = LifeEvent(motor_id=motor.id, on_day=now.date(), kind=LifeKind.MARKED, note=marked.note)
            session.add(life)
            note_changes(session, actor, now, life)
            trail.write(session, actor, "leads marked", now, motor.id, detail=marked.note)


def start_new_winding(store: Store, actor: Actor, tag: str, after: str, rewound: bool, now: datetime) -> None:
    """A change of scheme is a new winding record with its reason; the old one stays readable. Twice is once.

    Raises Unknown for a tag that isn't on record, RecordRefusal for a scheme that isn't known or a second change on
    one day.
    """
    actor.need(Action.CHANGE_WINDING)
    if after not in SCHEMES:
        raise RecordRefusal("to", after[:40], f"one of {', '.join(SCHEMES)}", "six-lead")
    with store.begin() as session:
        motor, old = with_winding(session, tag)
        if old.since == now.date():
            if old.lead_scheme == after:
                return
            raise RecordRefusal("motor", tag, "its winding began today: one change a day; mend that record first")
        reason = "rewound" if rewound else "leads changed"
        made = WindingRow(
            motor_id=motor.id,
            since=now.date(),
            reason=reason,
            winding=old.winding,
            insulation_system=old.insulation_system,
            conductor=old.conductor,
            lead_scheme=after,
            insulation_test_forbidden=old.insulation_test_forbidden,
            own=old.own if after == old.lead_scheme else without_names(old.own),
        )
        told = change_of_scheme(old.lead_scheme, after, rewound).reason if old.lead_scheme in SCHEMES else reason
        kind = LifeKind.REWOUND if rewound else LifeKind.MARKED
        life = LifeEvent(motor_id=motor.id, on_day=now.date(), kind=kind, note=told[:200])
        session.add_all((made, life))
        note_changes(session, actor, now, made, life)
        trail.write(session, actor, "winding changed", now, motor.id, detail=told)
