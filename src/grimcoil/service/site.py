"""The works' own settings: its name, its time zone, and the criteria that its jobs are judged by."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from zoneinfo import available_timezones

from grimcoil.core.choices import PhaseColour, SupplySystem
from grimcoil.core.errors import FormRefused, RecordRefusal
from grimcoil.core.people import Action, Actor
from grimcoil.core.units import CHOICES
from grimcoil.service.criteria import all_criteria
from grimcoil.service.fields import Fields, amount, one_of, short
from grimcoil.service.register import note_changes
from grimcoil.store import motors as motor_rows
from grimcoil.store import searching, trail
from grimcoil.store.engine import Store
from grimcoil.store.lines import SiteLine
from grimcoil.store.listing import reorder, walk_order
from grimcoil.store.tables import Site

LONGEST_AREA, MOST_AREAS = 100, 300


def site_of(store: Store) -> SiteLine:
    """The works as it is kept; before it was, in UTC and by the general criteria."""
    with store() as session:
        return motor_rows.site(session) or SiteLine("", "UTC", "field-general")


def _zone(text: str) -> str:
    if text not in available_timezones():
        raise RecordRefusal("", text, "a time zone by its region and town", "Europe/Berlin")
    return text


def _colours(text: str) -> str:
    """Three names for L1, L2, L3, no two alike; kept with commas."""
    names = [name.strip().casefold() for name in text.replace("/", ",").split(",")]
    known = [colour.value for colour in PhaseColour]
    strange = [name for name in names if name not in known]
    if strange or len(names) != 3 or len(set(names)) != 3:
        accepted = f"three colours with commas, each another one, of {', '.join(known)}"
        raise RecordRefusal("", strange[0] if strange else text, accepted, "brown, black, grey")
    return ", ".join(names)


def _areas(text: str) -> list[str]:
    """One a line, in the order they are walked; no two alike."""
    names = [" ".join(line.split()) for line in text.splitlines() if line.strip()]
    long = next((name for name in names if len(name) > LONGEST_AREA), None)
    twice = next((name for i, name in enumerate(names) if name in names[:i]), None)
    if long or twice or len(names) > MOST_AREAS:
        found = long[:60] if long else f"{twice} twice" if twice else f"{len(names)} areas"
        raise RecordRefusal(
            "", found, f"up to {MOST_AREAS} areas, one a line, each of at most {LONGEST_AREA} characters"
        )
    return names


def areas_in_order(store: Store) -> list[str]:
    """Every area there is: first those that have a place in the walk, then the others by name."""
    with store() as session:
        walked, known = walk_order(session), searching.tallies(session).get("area", {})
    return [*walked, *sorted(area for area in known if area and area not in walked)]


def colours_in(kept: str) -> tuple[str, ...]:
    """The colours of L1, L2, L3 as the works keep them."""
    return tuple(kept.split(", ")) if kept else ()


def colours_of(store: Store) -> tuple[str, ...]:
    """Colours of L1, L2, L3; none where the works hasn't said."""
    return colours_in(site_of(store).phase_colours)


def keep_site(store: Store, actor: Actor, texts: Mapping[str, str], now: datetime) -> None:
    """Keep the settings; a job already begun keeps its criteria, a signed one all. Raises Forbidden, FormRefused."""
    actor.need(Action.KEEP_WORKS)
    fields = Fields(texts)
    name = fields.take("works_name", short(100), required=True)
    zone = fields.take("zone", _zone, required=True)
    with store() as session:
        known = all_criteria(session)
    criteria = fields.take("criteria", one_of(*known), required=True)
    colours = fields.take("phase_colours", _colours)
    areas: list[str] = []
    try:  # its lines are its own: a field's words are joined
        areas = _areas(texts.get("areas", ""))
    except RecordRefusal as refusal:
        fields.refused["areas"] = refusal.sentence()
    units = fields.take("units", one_of(*CHOICES)) or CHOICES[0]
    system = fields.take("supply_system", one_of(*SupplySystem))
    volts = fields.take("system_voltage_v", amount(10, 15000, "V"))
    if fields.refused:
        raise FormRefused(fields.refused)
    with store.begin() as session:
        row = session.get(Site, 1)
        if row is None:
            row = Site(id=1)
            session.add(row)
        supply = " ".join(str(part) for part in (volts and f"{float(volts):g} V", system) if part)
        parts = (name, zone, criteria, colours and f"phases {colours}", units, supply)
        told = ", ".join(str(part) for part in parts if part)
        row.name, row.zone, row.criteria, row.phase_colours = str(name), str(zone), str(criteria), colours or ""
        row.units, row.supply_system, row.system_voltage_v = units, system, volts
        if list(row.areas or []) != areas:
            row.areas = areas or None
            reorder(session, areas)
        note_changes(session, actor, now, row)
        trail.write(session, actor, "works kept", now, detail=told)
