"""A word of 95 letters, wherever a person can type one, breaks no page's width."""

from decimal import Decimal

import pytest

from grimcoil.core.people import Role
from grimcoil.service.jobs import Start, keep, start_job
from grimcoil.service.motors import check_registration, register_motor
from grimcoil.service.register import note_changes
from grimcoil.service.tasks import add
from grimcoil.store.tables import Instrument, InstrumentRangeRow
from tests.served import browser_state
from tests.support import add_person

WORD = ("Hydraulicbeetsugardrierdrumvacuumpumpandevaporatorfanconveyor" * 2)[:95]
PLATE = {"tag": "W" * 40, "serial": WORD[:60], "rated_voltage_v": "460", "position": WORD, "area": WORD[::-1]}
OF_MOTOR = (
    "/jobs/start?tag={tag}",
    *(
        f"/motors/{{tag}}{page}"
        for page in ("", "/data", "/nameplate", "/history-and-moves", "/move", "/trend", "/history", "/money")
    ),
)
OF_JOB = ("/jobs/{job}", "/jobs/{job}?at=isolate", "/jobs/{job}/photos", "/jobs/{job}/report")
OF_DESK = ("/labels", "/outage", "/positions", "/fleet", "/fleet/lists", "/inspection-rounds", "/tasks", "/plant")
PAGES = ("/", "/motors", "/jobs", "/me", "/audit-trail", "/connection", "/leads", *OF_DESK, *OF_MOTOR, *OF_JOB)


@pytest.fixture(scope="module")
def long(works_store, works_clock):
    """Someone with a long name, a motor with long words, and its job."""
    actor = add_person(works_store, Role.ELECTRICIAN, f"L. {WORD[:34]}")
    register_motor(works_store, actor, check_registration(PLATE, works_clock()))
    with works_store.begin() as session:
        meter = Instrument(name=WORD[:60])
        note_changes(session, actor, works_clock(), *_added(session, meter))
        made = InstrumentRangeRow(instrument_id=meter.id, function="low-ohm", accuracy_percent=Decimal(1))
        note_changes(session, actor, works_clock(), *_added(session, made))
    long = {"what": WORD, "because": WORD, "by": f"{works_clock():%Y-%m-%d}"}
    add(works_store, actor, PLATE["tag"], long, "long-word-task", works_clock())
    start = Start(PLATE["tag"], "long-word-1", ohm_range_id=made.id)
    job = start_job(works_store, actor, start, works_clock())
    for n, (place, text) in enumerate((("isolate.tag", PLATE["tag"]), ("isolate.lock-main", WORD))):
        keep(works_store, job, place, text, actor, f"long-word-keep-{n}", works_clock())
    return actor, job


def _added(session, row):
    session.add(row)
    return [row]


@pytest.mark.parametrize("width", [1280, 390])
def test_no_page_is_wider_than_its_window(browser, browser_context_args, works_store, works_clock, long, width):
    actor, job = long
    state = browser_state(works_store, actor, works_clock)
    size = {"viewport": {"width": width, "height": 844}, "storage_state": state}
    context = browser.new_context(**(browser_context_args | size))
    page = context.new_page()
    wide = {}
    for path in PAGES:
        page.goto(path.format(tag=PLATE["tag"], job=job))
        wide[path] = page.evaluate("document.documentElement.scrollWidth")
    context.close()
    assert {path: found for path, found in wide.items() if found > width} == {}
