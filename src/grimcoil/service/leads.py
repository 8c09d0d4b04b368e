"""What was found of a motor's leads, kept with the motor."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from grimcoil.core.errors import RecordRefusal, Unknown
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.store import motors as motor_rows
from grimcoil.store.engine import Store
from grimcoil.store.tables import LifeEvent


@dataclass(frozen=True, slots=True)
class Marked:
    """A scheme and the marking of each lead, by the name it had while unmarked."""

    scheme: str
    labels: tuple[tuple[str, str], ...]

    @property
    def note(self) -> str:
        """As it stands on the motor's record."""
        listed = ", ".join(f"{lead} is {label}" for lead, label in self.labels)
        return f"{SCHEMES[self.scheme].title}: {listed}"[:200]


def keep_markings(store: Store, tag: str, marked: Marked, now: datetime) -> None:
    """The winding gets its lead scheme, the motor's life the markings. Twice the same changes nothing.

    Raises Unknown for a tag that isn't on record, RecordRefusal for markings that aren't settled.
    """
    if marked.scheme not in SCHEMES or len(marked.labels) != len(SCHEMES[marked.scheme].labels):
        raise RecordRefusal("leads", marked.scheme, "every lead with one marking: go on reading until each has one")
    with store.begin() as session:
        found = motor_rows.by_tag(session, tag)
        if found is None:
            raise Unknown("motor", tag, "the tag of a motor on record")
        motor = found[0]
        winding = motor_rows.winding_now(session, motor.id)
        if winding is not None:
            winding.lead_scheme = marked.scheme
        if not any(event.note == marked.note for event in motor_rows.life(session, motor.id)):
            session.add(LifeEvent(motor_id=motor.id, on_day=now.date(), kind="marked", note=marked.note))
