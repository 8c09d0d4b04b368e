"""Views of the list of motors that a person keeps under a name of their own."""

from __future__ import annotations

from grimcoil.core.errors import RecordRefusal, Unknown
from grimcoil.core.people import Actor
from grimcoil.store.engine import Store
from grimcoil.store.people_tables import Person

MOST, LONGEST, LONGEST_ADDRESS = 12, 40, 600


def keep_view(store: Store, actor: Actor, name: str, address: str) -> None:
    """Keep an address under a name; one of that name is replaced. Raises RecordRefusal for a name that can't be used,
    or where there are too many.
    """
    name = " ".join(name.split())
    if not 1 <= len(name) <= LONGEST:
        raise RecordRefusal("name of the view", name[:LONGEST], f"1 to {LONGEST} characters", "due in the yard")
    if len(address) > LONGEST_ADDRESS:
        raise RecordRefusal("view", f"{len(address)} characters", f"at most {LONGEST_ADDRESS}")
    with store.begin() as session:
        person = session.get(Person, actor.person_id, with_for_update=True) if actor.person_id else None
        if person is None:
            raise Unknown("person", actor.who, "someone of the site")
        others = [view for view in person.views or [] if view[0].casefold() != name.casefold()]
        if len(others) >= MOST:
            raise RecordRefusal("view", name, f"at most {MOST}: take one away first")
        person.views = sorted([*others, [name, address]], key=lambda view: view[0].casefold())


def drop_view(store: Store, actor: Actor, name: str) -> None:
    """Take one away; one that is gone stays gone."""
    with store.begin() as session:
        person = session.get(Person, actor.person_id, with_for_update=True) if actor.person_id else None
        if person is not None:
            person.views = [view for view in person.views or [] if view[0] != name] or None
