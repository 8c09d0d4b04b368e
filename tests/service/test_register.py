"""The register in the chain: every lawful change has its link, every other change shows, older data gets both."""

import json
import re

import pytest
from sqlalchemy import select, text

from grimcoil.core.drying.cycle import Act
from grimcoil.core.errors import Unknown
from grimcoil.core.people import Actor, Role
from grimcoil.service.closing import decide, sign
from grimcoil.service.dryings import Kept, begin, end, keep
from grimcoil.service.earlier import keep_earlier
from grimcoil.service.jobs import open_bench
from grimcoil.service.leads import start_new_winding
from grimcoil.service.lives import happened, life, take_back
from grimcoil.service.people import change_role, remove_person
from grimcoil.service.register import link_register, newest
from grimcoil.service.repairs import go_on
from grimcoil.service.side_sheets import keep_side, side_view, take_back_side
from grimcoil.service.site import keep_site
from grimcoil.service.verifying import verify
from grimcoil.store.listing import relist
from grimcoil.store.people_tables import Signature
from grimcoil.store.tables import Instrument, InstrumentRangeRow, Job
from tests.support import SECRET, WHOLE_JOB, add_person, walk

COMMAND_LINE = Actor(None, "command line", Role.ADMINISTRATOR, origin="command line")


@pytest.fixture
def meter(store, clock):
    with store.begin() as session:
        made = Instrument(name="Bridge 2", calibration_due=clock().date())
        session.add(made)
        session.flush()
        session.add(InstrumentRangeRow(instrument_id=made.id, function="resistance", top=2.0, accuracy_percent=0.25))
    link_register(store, clock())
    return made


@pytest.fixture
def signed(store, job, put, clock, electrician, meter):
    walk(put, clock, WHOLE_JOB)
    decide(store, job, "return", "", electrician, clock())
    sign(store, job, electrician, SECRET, clock())
    return job


def behind(store, *statements):
    with store.begin() as session:
        for statement in statements:
            session.execute(text(statement))


CHANGED = [
    ("UPDATE motor SET rated_voltage_v = '575'", r"motor \d+: rated_voltage_v was changed"),
    ("UPDATE motor SET tag = 'XX-9'", r"motor \d+: tag was changed"),
    ("UPDATE winding SET lead_scheme = 'six-lead'", r"winding \d+: lead_scheme was changed"),
    ("UPDATE winding SET since = '2001-01-01'", r"winding \d+: since was changed"),
    ("UPDATE position SET system_voltage_v = 600", r"position \d+: system_voltage_v was changed"),
    ("UPDATE instrument SET calibration_due = '2031-01-01'", r"instrument \d+: calibration_due was changed"),
    ("UPDATE instrument_range SET accuracy_percent = 0.01", r"range \d+: accuracy_percent was changed"),
    ("UPDATE person SET role = 'administrator'", r"person \d+: role was changed"),
    ("UPDATE person SET name = 'X'", r"person \d+: name was changed"),
    ("DELETE FROM instrument_range", r"range \d+: taken out of the register"),
    ("INSERT INTO instrument (name) VALUES ('Forged')", r"instrument \d+: put into the register with no link"),
]


@pytest.mark.parametrize(("statement", "told"), CHANGED)
def test_a_register_row_changed_past_the_register_shows(store, signed, statement, told):
    assert verify(store).breaks == ()
    behind(store, statement)
    assert any(re.match(told, line) for line in verify(store).breaks)


def test_a_signed_job_moved_to_another_motor_shows(store, signed, clock):
    with store.begin() as session:
        columns = ", ".join(name for name in Job.metadata.tables["motor"].columns.keys() if name not in ("id", "tag"))  # noqa: SIM118
        session.execute(text(f"INSERT INTO motor (tag, {columns}) SELECT 'BW-9', {columns} FROM motor"))
        other = session.scalar(text("SELECT MAX(id) FROM motor"))
        relist(session, [other])
    link_register(store, clock())
    assert verify(store).breaks == ()
    behind(store, f"UPDATE job SET motor_id = {other}")
    assert any("motor" in line and f"job {signed}" in line for line in verify(store).breaks)


@pytest.mark.parametrize("bound", ["'at least'", "'exact'", "'between'", "NULL", "''"])
def test_a_bound_changed_in_an_entry_shows(store, signed, bound):
    behind(store, f"UPDATE entry SET bound = {bound} WHERE place = 'winding_resistance.1-2'")
    breaks = verify(store).breaks
    assert ("exact" in bound) == (breaks == ())


def test_a_signed_state_forged_onto_an_open_job_shows(store, job, put, clock):
    walk(put, clock, WHOLE_JOB)
    behind(store, "UPDATE job SET state = 'signed', signed_by = 'A. Tester', signed_at = NOW()")
    assert any("signed, but no link stands for it" in line for line in verify(store).breaks)


def test_a_signed_job_opened_again_shows(store, signed):
    behind(store, "UPDATE job SET state = 'open'")
    assert any("state was changed" in line for line in verify(store).breaks)


@pytest.mark.parametrize("trigger", ["signature_no_update", "signature_no_delete"])
def test_a_missing_trigger_shows(store, engine, signed, trigger):
    with engine.begin() as connection:
        made = connection.execute(text(f"SHOW CREATE TRIGGER {trigger}")).one()[2]
        connection.execute(text(f"DROP TRIGGER {trigger}"))
    try:
        assert any(f"the trigger {trigger} is missing" in line for line in verify(store).breaks)
    finally:
        with engine.begin() as connection:
            connection.execute(text(made))


def test_lawful_changes_stay_whole_and_say_before_and_after(store, signed, motor, clock, electrician):
    clock.pass_(86_400)
    planner = add_person(store, Role.PLANNER, "P. Planner")
    start_new_winding(store, planner, motor, "six-lead", rewound=True, now=clock())
    change_role(store, COMMAND_LINE, planner.login, "electrician", "", clock())
    remove_person(store, COMMAND_LINE, planner.login, clock())
    assert verify(store).breaks == ()
    with store() as session:
        made = session.scalar(text("SELECT MAX(id) FROM winding"))
        key = f"person/{planner.person_id}"
        links = session.scalars(select(Signature).where(Signature.subject_key == key).order_by(Signature.seq)).all()
        told = [json.loads(link.document)["changes"][0] for link in links]
        assert newest(session)[f"winding/{made}"]["lead_scheme"] == "six-lead"
    assert [(one["before"] or {}).get("role") for one in told] == [None, "planner", "electrician"]
    assert [one["after"]["role"] for one in told] == ["planner", "electrician", "electrician"]
    assert [one["after"]["removed_at"] is None for one in told] == [True, True, False]
    assert "password_hash" not in json.dumps(told)


def test_a_change_that_is_refused_leaves_no_link(store, signed, clock):
    before = verify(store).links
    with pytest.raises(Unknown):
        change_role(store, COMMAND_LINE, "nobody", "planner", "", clock())
    assert verify(store).links == before


def test_a_signed_job_is_shown_by_its_own_documents_whatever_the_register_says(store, signed, clock):
    before = open_bench(store, signed, clock())
    behind(
        store,
        "UPDATE motor SET rated_voltage_v = '575', full_load_current_a = 99",
        "UPDATE winding SET lead_scheme='six-lead'",
    )
    after = open_bench(store, signed, clock())
    assert (after.judged, after.on) == (before.judged, before.on)
    assert after.plan == before.plan


def test_data_from_before_gets_documents_and_links_once(store, engine, signed, clock):
    """As a database stood before: no plan of its own, no subject, no record, no link but the job's and none at all."""
    shown = open_bench(store, signed, clock()).judged
    behind(store, "UPDATE job SET subject = NULL, record = NULL")
    with engine.begin() as connection:
        connection.execute(text("TRUNCATE signature"))
    assert verify(store).breaks
    keep_earlier(store, clock())
    found = verify(store)
    assert found.breaks == ()
    assert open_bench(store, signed, clock()).judged == shown
    with store() as session:
        assert session.get(Job, signed).subject
        assert session.get(Job, signed).record
    keep_earlier(store, clock())
    assert verify(store).links == found.links
    behind(store, "UPDATE motor SET rated_voltage_v = '575'")
    assert any("rated_voltage_v" in line for line in verify(store).breaks)


WORKS = {"works_name": "Beet works", "zone": "Europe/Berlin", "criteria": "field-general", "areas": "Lime kiln"}
ORDER = {"stage": "ordered", "what": "rewind", "whom": "Winder at the lock", "back": "2026-11-20", "mohm": "100"}


@pytest.fixture
def lived(store, motor, clock, electrician):
    """A motor with an order, a word on its life, another test and a drying that ended, in works that said something."""
    planner = add_person(store, Role.PLANNER, "P. Planner")
    keep_site(store, planner, WORKS, clock())
    on = clock().date().isoformat()
    happened(
        store, planner, motor, {"kind": "cleaned", "on": on, "note": "dust", "cost": "40"}, "life-token-1", clock()
    )
    go_on(store, planner, motor, ORDER | {"on": on}, "order-token-1", clock())
    keep_side(store, electrician, motor, "rotation", {"wanted": "cw", "seen": "ccw"}, (), "side-token-1", clock())
    form = {"hookup": "one-and-two", "cold_ohm": "0.412", "cold_c": "18"}
    drying = begin(store, electrician, motor, form, "begin-0001", clock())
    keep(store, electrician, drying, Kept(Act.READ, insulation="3M", t_s=60.0, ends="1-2-3~frame"), "entry-01", clock())
    keep(store, electrician, drying, Kept(Act.SHORTED), "entry-02", clock())
    clock.pass_(300)
    keep(store, electrician, drying, Kept(Act.FREED), "entry-03", clock())
    end(store, electrician, drying, "sent to the winder", clock())
    return motor


LIVED = [
    ("UPDATE life_event SET note = 'nothing' WHERE kind = 'cleaned'", r"event \d+: note was changed"),
    ("UPDATE life_event SET cost = 1 WHERE kind = 'cleaned'", r"event \d+: cost was changed"),
    ("UPDATE life_event SET promised = JSON_SET(promised, '$.mohm', 1)", r"event \d+: promised was changed"),
    ("DELETE FROM life_event WHERE kind = 'ordered'", r"event \d+: taken out"),
    ("UPDATE side_sheet SET verdict = 'sound'", r"side-sheet \d+: verdict was changed"),
    ("UPDATE side_sheet SET document = '{}'", r"side-sheet \d+: document was changed"),
    ("UPDATE drying SET end_why = NULL", r"drying \d+: end_why was changed"),
    ("UPDATE drying_entry SET insulation = '300M' WHERE act = 'read'", r"drying \d+: entries_sha256 was changed"),
    ("DELETE FROM drying_entry WHERE act = 'freed'", r"drying \d+: entries_sha256 was changed"),
    ("UPDATE drying SET state = 'open'", r"drying \d+: taken out"),
    ("UPDATE site SET criteria = 'strict'", r"works 1: criteria was changed"),
    ("UPDATE site SET system_voltage_v = 690", r"works 1: system_voltage_v was changed"),
]


@pytest.mark.parametrize(("statement", "told"), LIVED)
def test_what_carries_a_judgement_a_promise_or_a_setting_shows_when_changed(store, lived, statement, told):
    assert verify(store).breaks == ()
    behind(store, statement)
    assert any(re.match(told, line) for line in verify(store).breaks)


def test_taking_back_lawfully_leaves_the_chain_whole(store, lived, clock, electrician):
    planner = add_person(store, Role.PLANNER, "Q. Planner")
    for event in [one for one in life(store, lived).events if one.can_go]:
        take_back(store, planner, lived, event.id, clock())
    (kept,) = side_view(store, lived).kept
    take_back_side(store, electrician, lived, kept.line.id, clock())
    assert verify(store).breaks == ()


def test_a_works_that_said_nothing_needs_no_link_but_one_that_is_forged_shows(store, signed):
    assert verify(store).breaks == ()
    behind(store, "UPDATE site SET zone = 'Europe/Berlin'")
    assert any(line.startswith("works 1:") for line in verify(store).breaks)
