"""The works' own criteria: copied from a school, a limit changed with its source, kept as a version; and which jobs
would be judged otherwise by it.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime
from functools import lru_cache

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.assessment import assess
from grimcoil.core.catalogue import Standing
from grimcoil.core.criteria import CRITERIA, FIELD_GENERAL, Criteria
from grimcoil.core.errors import FormRefused, RecordRefusal, Refusal, Unknown
from grimcoil.core.people import Action, Actor
from grimcoil.exchange.criteria import LIMIT_NAMES, read_criteria, to_document
from grimcoil.exchange.jobs import read_job
from grimcoil.exchange.subjects import read_subject
from grimcoil.service.again import stands_in
from grimcoil.service.register import note_changes
from grimcoil.store import criteria as rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import trail
from grimcoil.store.criteria_tables import OwnCriteria
from grimcoil.store.engine import Store

MOST_LOOKED_AT = 300
# What proves a circuit dead may be made stricter than what ships, never laxer: no higher, no lower, no longer.
AT_MOST, AT_LEAST = ("dead_below_v", "proof_hours"), ("live_above_v",)
LONGEST_NAME, LONGEST_TITLE, LONGEST_SOURCE = 40, 80, 120


@lru_cache(maxsize=64)
def _read(document: str) -> Criteria:
    return read_criteria(document)


def limits_in(own: str | None, name: str) -> Criteria:
    """What a job is judged by: the works' own as kept, else those that ship with the rules."""
    return _read(own) if own else CRITERIA.get(name, FIELD_GENERAL)


def own_of(criteria: Criteria) -> dict[str, Criteria]:
    """By its name, where it is the works' own: for reading a document that names it."""
    return {} if criteria.name in CRITERIA else {criteria.name: criteria}


def all_criteria(session: Session) -> dict[str, Criteria]:
    """Those that ship with the rules, then the newest version of each of the works' own. One query."""
    return CRITERIA | {one.name: _read(one.document) for one in rows.newest(session)}


def known_criteria(store: Store) -> dict[str, Criteria]:
    """The same, by itself."""
    with store() as session:
        return all_criteria(session)


def criteria_named(session: Session, name: str) -> Criteria:
    """One of them, the newest version. Raises RecordRefusal."""
    if name in CRITERIA:
        return CRITERIA[name]
    known = all_criteria(session)
    if name not in known:
        raise RecordRefusal("criteria", name[:40], "one of " + ", ".join(known))
    return known[name]


def for_documents(session: Session) -> dict[str, Criteria]:
    """By name, for a job that comes as a file: first those the works judge by, which hold where it names none."""
    known, site = all_criteria(session), motor_rows.site(session)
    usual = known.get(site.criteria if site else "", FIELD_GENERAL)
    return {usual.name: usual} | {name: one for name, one in known.items() if name not in CRITERIA}


@dataclass(frozen=True, slots=True)
class Draft:
    """A version that isn't kept yet. before: its source, or the version it follows; limit: what differs."""

    made: Criteria
    before: Criteria
    limit: str


def drafted(store: Store, texts: Mapping[str, str]) -> Draft:
    """The criteria a form asks for. texts: before, name, title, limit, value, source, standing.

    A name that is the works' own already gets its next version. Raises Unknown, FormRefused by field.
    """
    known = known_criteria(store)
    before = known.get(texts.get("before", ""))
    if before is None:
        raise Unknown("criteria", texts.get("before", "")[:40], "one of " + ", ".join(known))
    follows = before.name not in CRITERIA
    plain = {key: " ".join(text.split()) for key, text in texts.items()}
    name = before.name if follows else plain.get("name", "")
    refused = _refused(plain, name, known, follows)
    if refused:
        raise FormRefused(refused)
    limit, value = plain["limit"], float(plain["value"].replace(",", "."))
    document = to_document(before) | {
        "name": name,
        "title": before.title if follows else plain["title"],
        "version": before.version + 1 if follows else 1,
    }
    document["limits"][limit] |= {
        "value": value, "source": plain["source"], "standing": plain["standing"],
    }  # fmt: skip
    try:
        made = read_criteria(json.dumps(document))
    except Refusal as refusal:
        raise FormRefused({_field_of(refusal.where): refusal.sentence()}) from None
    shipped = getattr(FIELD_GENERAL, limit).value
    if (limit in AT_MOST and value > shipped) or (limit in AT_LEAST and value < shipped):
        raise FormRefused({"value": f"This one proves a circuit dead: {shipped:g} or stricter."})
    if replace(made, version=before.version) == before:
        raise FormRefused({"value": "Nothing differs from what it is now."})
    return Draft(made, before, limit)


def _field_of(where: str) -> str:
    return "name" if where == "name" else "title" if where == "title" else "value"


def _refused(plain: Mapping[str, str], name: str, known: Mapping[str, Criteria], follows: bool) -> dict[str, str]:
    refused = {}
    if not follows:
        if not 1 <= len(name) <= LONGEST_NAME:
            refused["name"] = f"1 to {LONGEST_NAME} small letters, digits and dashes, such as “sugar-works”."
        elif name in known:
            refused["name"] = f"{name} is there already: change it from its own page."
        if not 1 <= len(plain.get("title", "")) <= LONGEST_TITLE:
            refused["title"] = f"1 to {LONGEST_TITLE} characters, as it is printed beside a verdict."
    if plain.get("limit") not in LIMIT_NAMES:
        refused["limit"] = "One of the limits on the list."
    try:
        float(plain.get("value", "").replace(",", "."))
    except ValueError:
        refused["value"] = "A number, in the unit that stands beside the limit."
    if not 1 <= len(plain.get("source", "")) <= LONGEST_SOURCE:
        refused["source"] = "Who set it and why, or the standard it comes from."
    if plain.get("standing") not in [one.value for one in Standing]:
        refused["standing"] = "One of the list."
    return refused


@dataclass(frozen=True, slots=True)
class Otherwise:
    """A signed job that would be judged otherwise."""

    job_id: int
    tag: str
    tested_on: date | None
    before: str
    after: str


@dataclass(frozen=True, slots=True)
class Preview:
    """looked_at: how many signed jobs were judged anew, the newest first; most: there may be more than were."""

    looked_at: int
    most: bool
    otherwise: tuple[Otherwise, ...]


def preview(store: Store, draft: Draft) -> Preview:
    """The newest signed jobs that were judged by what the draft was copied from, judged by both. Keeps nothing."""
    with store() as session:
        jobs = rows.judged_by(session, draft.before.name, MOST_LOOKED_AT)
    found = (_otherwise(job, draft) for job in jobs)
    return Preview(len(jobs), len(jobs) == MOST_LOOKED_AT, tuple(one for one in found if one is not None))


def _otherwise(job: rows.Judged, draft: Draft) -> Otherwise | None:
    """By today's rules both times, so that nothing but the limit can make the difference."""
    subject = read_subject(job.subject).subject
    record = read_job(job.record, own_of(subject.criteria))
    then, now = (
        assess(replace(record, subject=replace(subject, criteria=limits))).decision
        for limits in (draft.before, draft.made)
    )
    if (then.verdict, then.action) == (now.verdict, now.action):
        return None
    words = [f"{one.verdict.value}, {one.words.lower()}" for one in (then, now)]
    return Otherwise(job.job_id, job.tag, job.tested_on, *words)


def keep_criteria(store: Store, actor: Actor, texts: Mapping[str, str], now: datetime) -> Criteria:
    """Keep the draft as a version; sent twice it is kept once. Jobs that were begun keep what they were begun with.

    Raises Forbidden, Unknown, FormRefused where it can't be used or somebody kept another version meanwhile.
    """
    actor.need(Action.KEEP_WORKS)
    if (kept := _kept_already(store, texts)) is not None:
        return kept
    draft = drafted(store, texts)
    made = draft.made
    try:
        with store.begin() as session:
            if rows.lock(session, made.name) != made.version - 1:
                raise FormRefused({"value": f"{made.name} was changed meanwhile: look at it again."})
            document = json.dumps(to_document(made), ensure_ascii=False)
            row = OwnCriteria(
                name=made.name, version=made.version, based_on=draft.before.name, document=document, kept_at=now,
                kept_by=actor.who,
            )  # fmt: skip
            session.add(row)
            note_changes(session, actor, now, row)
            limit = getattr(made, draft.limit)
            told = f"{made.name}, version {made.version}: {draft.limit} {limit.value:g} {limit.unit}"
            trail.write(session, actor, "criteria kept", now, detail=told)
    except IntegrityError as error:
        if not stands_in(error, "own_criteria"):
            raise
        raise FormRefused({"name": f"{made.name} was saved just now: look at it again."}) from None
    return made


def _kept_already(store: Store, texts: Mapping[str, str]) -> Criteria | None:
    """The same form sent again: the version it made stands, with the very limit it asks for."""
    known = known_criteria(store)
    before = texts.get("before", "")
    name = before if before in known and before not in CRITERIA else " ".join(texts.get("name", "").split())
    kept = known.get(name)
    version = texts.get("version", "")
    if kept is None or name in CRITERIA or version != str(kept.version):
        return None
    limit = getattr(kept, texts.get("limit", ""), None)
    asked = texts.get("value", "").replace(",", ".").strip()
    try:
        same = limit is not None and limit.value == float(asked) and limit.source == " ".join(texts["source"].split())
    except (ValueError, KeyError):
        return None
    return kept if same else None
