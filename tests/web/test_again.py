"""A request whose commit met another's is done again: the database is the same as after one try, and nobody is told of
a database that is away.
"""

import re

import MySQLdb
import pytest
from sqlalchemy import event, func, select, text
from sqlalchemy.exc import IntegrityError, OperationalError

from grimcoil.core.people import Role
from grimcoil.service import again as rule
from grimcoil.service.verifying import verify
from grimcoil.store.all_tables import METADATA
from grimcoil.store.people_tables import WrongTry
from grimcoil.web.again import Again
from grimcoil.web.app import SIGNED_IN
from grimcoil.web.routers import api, api_records, calendar, health, signing, theme
from tests.conftest import empty
from tests.service.conftest import PLATE
from tests.support import SECRET, WHOLE_JOB, add_person, walk
from tests.web.test_criteria import COPY
from tests.web.test_isolation import ROWS
from tests.web.test_money import CASE
from tests.web.test_repairs import ORDER
from tests.web.test_side import TYPED
from tests.web.test_signing import enter
from tests.web.test_starters import FIGURES

DAY = "2026-11-20"
COUNTS = 3  # by person and place, by place, by person
SKIPPED = {"task": "frame temperature", "outcome": "skipped", "words": "no key"}
WALKED = "all readings of the job"
POLE = ["amps-start~98~97~0", "volts-line-side-start~481~479~480", "drop-poles~0.1~0.1~416"]
GREASE, GREASED = "/motors/BW-1/other-tests", TYPED["grease"][0] | {"token": "sid-token-1", "keep": "yes"}


def newest(address):
    """The number of what was kept last, as its page tells it."""

    def told(client, numbers):
        return {"id": re.findall(r'name="id"\s+value="(\d+)"', client.get(address.format(**numbers)).text)[0]}

    return told


# Verb after verb, as a day brings them; {…} stands for the number that an answer led to.
POSTS = [
    ("/motors/new", PLATE),
    ("/motors/new", PLATE | {"tag": "BW-2", "position": "Beet crusher"}),
    ("/motors/new", PLATE | {"tag": "BW-3", "position": "Beet slicer"}),
    ("/positions/new", {"position.name": "Mill", "position.area": "Hall 2"}),
    ("/motors/BW-1/data", {"motor.mounting": "foot", "position.starter": "direct"}),
    ("/motors/BW-1/history-and-moves/move", {"to": "Mill", "on": DAY, "token": "move-token-1"}),
    ("/motors/BW-1/history-and-moves/happened", {"kind": "cleaned", "on": DAY, "token": "done-token-1"}),
    ("/motors/BW-1/history-and-moves/take-back", newest("/motors/BW-1/history-and-moves")),
    ("/motors/BW-1/repair", ORDER | {"token": "order-token-1"}),
    ("/motors/BW-2/history-and-moves/withdraw", {"why": "typed twice"}),
    ("/positions/{positions}/form", {"position.name": "Beet mill", "position.starter": "star-delta"}),
    ("/positions/{positions}/starter", FIGURES),
    ("/positions/{positions}/isolation", ROWS),
    ("/positions/new", {"position.name": "Old wash", "position.area": "Hall 2"}),
    ("/positions/{positions}/retire", {"why": "torn down"}),
    ("/positions/{positions}/again", {}),
    ("/motors/BW-1/money", CASE | {"token": "money-token-1"}),
    (f"{GREASE}/grease", GREASED),
    (f"{GREASE}/take-back", newest(GREASE)),
    ("/troubleshooting/keep", {"tag": "BW-1", "s": "hums", "d": POLE, "token": "walk-token-1",
        "cause": "starts", "changed": "a"}),
    ("/motors/views", {"name": "Worst", "address": "/motors?verdict=act"}),
    ("/motors/views/drop", {"name": "Worst"}),
    ("/motors/BW-1/inspection/on", {}),
    ("/motors/BW-1/inspection/keep", SKIPPED | {"token": "rou-token-1"}),
    ("/motors/BW-1/inspection/task", {"task": "starter contacts", "months": "6"}),
    ("/motors/BW-1/dry", {"hookup": "one-and-two", "cold_ohm": "0.412", "cold_c": "18", "token": "dry-token-1"}),
    ("/dryings/{dryings}/keep", {"act": "heat-on", "token": "heat-token-1"}),
    ("/dryings/{dryings}/take-back", newest("/dryings/{dryings}")),
    ("/jobs/start", {"tag": "BW-3", "occasion": "routine", "criteria": "field-general", "token": "start-token-1"}),
    ("/jobs/{jobs}/keep", {"place": "isolate.tag", "text": "BW-3", "token": "keep-token-1"}),
    ("/jobs/{jobs}/take-back", {"seq": 1}),
    (WALKED, {}),
    ("/jobs/{jobs}/decide", {"action": "return"}),
    ("/jobs/{jobs}/sign", {"secret": SECRET}),
    ("/jobs/{jobs}/amend", {"reason": "read twice", "token": "amend-token-1", "secret": SECRET}),
    ("/plant/site", {"works_name": "Beet works", "zone": "UTC", "criteria": "field-general"}),
    ("/plant/instruments", {"name": "M7", "function": "low-ohm", "resolution": "0.01 m", "top": "20"}),
    ("/people/add", {"login": "n.new", "name": "N. New", "role": "electrician", "password": "mangold clamps 71"}),
    ("/people/role", {"login": "n.new", "role": "planner"}),
    ("/people/password", {"login": "n.new", "password": "heron on the far bank"}),
    ("/people/devices", {"name": "Yard tablet"}),
    ("/people/remove", {"login": "n.new"}),
    ("/me/tokens", {"name": "scale house", "read": "yes"}),
    ("/plant/criteria/field-general", COPY | {"version": "1", "keep": "yes"}),
    ("/connection/winding", {"tag": "BW-1", "to": "six-lead"}),
    ("/me/pin", {"pin": "739164", "secret": SECRET}),
]  # fmt: skip


class Conflicts:
    """Commits that end as if somebody else had changed the same."""

    def __init__(self, number=1213, every=False):
        self.number, self.every = number, every
        self.armed, self.met = False, 0

    def __call__(self, connection):
        if self.armed:
            self.armed, self.met = self.every, self.met + 1
            connection.connection.rollback()  # as the server does
            if self.number == rule.STANDS:
                stands = MySQLdb.IntegrityError(self.number, "Duplicate entry '12' for key 'PRIMARY'")
                raise IntegrityError("COMMIT", {}, stands)
            raise OperationalError("COMMIT", {}, MySQLdb.OperationalError(self.number, "met another"))


@pytest.fixture
def conflicts(app):
    made = Conflicts()
    event.listen(app.state.grimcoil.engine, "commit", made)
    return made


@pytest.fixture(autouse=True)
def at_once(monkeypatch):
    monkeypatch.setattr(rule, "WAITS_S", (0.0, 0.0, 0.0))


def counted(store):
    with store() as session:
        tables = sorted(set(METADATA.tables) - {"trail_head"})  # lanes are taken by chance
        return {name: session.scalar(text(f"SELECT COUNT(*) FROM `{name}`")) for name in tables}


def a_day(client, admin, clock, conflicts, meets):
    """What each post answers; with a conflict at the first commit of each where it meets one."""
    answers, numbers = [], {}
    for path, data in POSTS:
        if path == WALKED:
            walked(client, clock, numbers["jobs"])
            continue
        who = admin if path.startswith("/people") else client
        given = data(who, numbers) if callable(data) else data
        conflicts.armed = meets
        sent = who.post(path.format(**numbers), data=given)
        conflicts.armed = False
        numbers |= re.findall(r"/(jobs|positions|dryings)/(\d+)", sent.headers.get("location", ""))
        assert sent.status_code in (200, 303), (path, given, sent.text)
        answers.append((path, sent.status_code))
    return answers


def walked(client, clock, job):
    """All readings of a job, without a conflict."""
    tokens = iter(range(1000))

    def keep(place, words):
        data = {"place": place, "text": words, "token": f"token-{next(tokens):04}"}
        assert client.post(f"/jobs/{job}/keep", data=data).status_code == 303

    walk(keep, clock, [(place, words.replace("BW-1", "BW-3"), s) for place, words, s in WHOLE_JOB])


@pytest.mark.parametrize("number", [1213, 1062])  # of a row, or of a link in the chain
def test_every_verb_met_by_another_leaves_what_one_try_leaves(app, store, engine, clock, sign_in, conflicts, number):
    conflicts.number = number
    told = []
    for meets in (False, True):
        empty(engine)
        people = add_person(store, Role.ELECTRICIAN, "A. Tester"), add_person(store, Role.ADMINISTRATOR, "B. Admin")
        told.append((a_day(*map(sign_in, people), clock, conflicts, meets), counted(store)))
        assert verify(store).breaks == ()
    plain, met = told
    differs = {name: (n, plain[1][name]) for name, n in met[1].items() if n != plain[1][name]}
    assert (met[0], differs) == (plain[0], {})
    assert conflicts.met >= len([path for path, _ in POSTS if path != WALKED])


def test_one_that_meets_another_each_time_is_busy_and_holds_what_was_typed(client, conflicts):
    conflicts.armed = conflicts.every = True
    answer = client.post("/motors/new", data=PLATE)
    conflicts.armed = False
    assert answer.status_code == 503
    assert "Somebody changed the same just now" in answer.text
    assert 'value="BW-1"' in answer.text
    assert conflicts.met == 4
    assert client.post("/motors/new", data=PLATE).status_code == 303


def test_a_lost_connection_is_tried_once_more_and_only_under_a_key(client, conflicts):
    conflicts.number = 2013
    conflicts.armed = True
    assert client.post("/motors/new", data=PLATE).status_code == 503
    assert client.post("/motors/new", data=PLATE).status_code == 303
    conflicts.armed = True
    done = {"kind": "cleaned", "on": DAY, "token": "done-token-1"}
    assert client.post("/motors/BW-1/history-and-moves/happened", data=done).status_code == 303
    assert conflicts.met == 2


def test_a_key_of_something_else_isnt_read_as_the_tags(client):
    """The chain's number taken meanwhile: tried again, never *is on the register already*."""
    assert client.post("/motors/new", data=PLATE).status_code == 303
    told = client.post("/motors/new", data=PLATE)
    assert (told.status_code, "is on the register already" in told.text) == (422, True)
    error = MySQLdb.IntegrityError(1062, "Duplicate entry '12' for key 'PRIMARY'")
    chain = IntegrityError("INSERT", {}, error)
    assert (rule.key_of(chain), rule.stands_in(chain, "motor"), rule.is_conflict(chain)) == ("PRIMARY", False, True)


def test_a_wrong_password_is_counted_however_often_its_count_met_another(stranger, store, electrician, conflicts):
    def tries():
        with store() as session:
            return session.scalar(select(func.sum(WrongTry.times)))

    for met in range(1, 3):
        conflicts.armed = met % 2 == 0
        answer = enter(stranger, login=electrician.login, password="not the right one")
        assert answer.status_code == 422
        assert tries() == met * COUNTS
    conflicts.armed = conflicts.every = True
    answer = enter(stranger, login=electrician.login, password=SECRET)
    conflicts.armed = False
    assert answer.status_code == 503  # the count can't be kept: nobody is let in
    assert "set-cookie" not in answer.headers or "gc_session=" not in answer.headers["set-cookie"]


def test_every_route_is_of_the_kind_that_is_done_again():
    routers = [*SIGNED_IN, signing.public, theme.router, health.router, calendar.router, api.router, api_records.router]
    own = [route for router in routers for route in router.routes]
    assert len(own) > 100
    assert {type(route) for route in own} == {Again}


def test_a_command_is_done_again_for_a_conflict_and_never_for_a_lost_connection():
    def failing(number):
        tries.append(number)
        if len(tries) < 3:
            raise OperationalError("COMMIT", {}, MySQLdb.OperationalError(number, "met another"))
        return "done"

    tries = []
    assert rule.again(lambda: failing(1213)) == "done"
    tries = []
    with pytest.raises(OperationalError):
        rule.again(lambda: failing(2013))
    assert tries == [2013]
