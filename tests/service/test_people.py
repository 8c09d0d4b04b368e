"""Keeping people on a real database; and every verb by every role: done, or refused with nothing changed."""

from dataclasses import dataclass

import pytest
from sqlalchemy import func, select

from grimcoil.core.errors import Forbidden, RecordRefusal, Unknown, WrongSecret
from grimcoil.core.follow_up import need_close
from grimcoil.core.people import MAY, Action, Role
from grimcoil.service import people, tasks
from grimcoil.service.amendments import Amendment, amend
from grimcoil.service.archiving import archive_pieces
from grimcoil.service.closing import decide, sign
from grimcoil.service.instruments import add_range
from grimcoil.service.jobs import Start, keep, overrule, start_job, take_back
from grimcoil.service.leads import Marked, keep_markings, start_new_winding
from grimcoil.service.motors import check_registration, register_motor
from grimcoil.service.signing_in import confirm, sign_in, token_of, who_is
from grimcoil.service.site import keep_site
from grimcoil.service.today import due
from grimcoil.service.trails import Asked, read_trail
from grimcoil.store.all_tables import METADATA
from grimcoil.store.people_tables import ApiToken, Person, SignIn, Trail
from tests.service.conftest import PLATE
from tests.support import NOW, SECRET, WHOLE_JOB, add_person, walk

TASK = {"what": "Grease it", "by": "2026-12-24"}
GOOD = "lapwing over cut reed"


def new(**changes):
    given = {"login": "rush", "name": "L. Rush", "role": "electrician", "password": GOOD} | changes
    return people.NewPerson(**given)


@dataclass
class Scene:
    """A works with a job at its decision, a signed job, and someone of each role."""

    store: object
    clock: object
    actor: object
    job: int
    signed: int
    motor: str


@pytest.fixture
def scene(store, clock, electrician, job, put, motor):
    def at(role):
        other = register_motor(store, electrician, check_registration(PLATE | {"tag": "BW-2"}, NOW))
        signed = start_job(store, electrician, Start(other, "signed-token"), clock())
        tokens = iter(range(1000))

        def put_other(place, text):
            words = "BW-2" if place == "isolate.tag" else text
            keep(store, signed, place, words, electrician, f"other-{next(tokens):04}", clock())

        walk(put_other, clock, WHOLE_JOB)
        decide(store, signed, "return", "", electrician, clock())
        sign(store, signed, electrician, SECRET, clock())
        walk(put, clock, WHOLE_JOB)
        if role is not Role.ELECTRICIAN:
            under = electrician if role is Role.APPRENTICE else None
            return Scene(store, clock, add_person(store, role, "R. Ole", under), job, signed, motor)
        return Scene(store, clock, electrician, job, signed, motor)

    return at


def registered(s):
    register_motor(s.store, s.actor, check_registration(PLATE | {"tag": "BW-3"}, NOW))


VERBS = {
    Action.READ: lambda s: s.actor.need(Action.READ),
    Action.READ_DUE: lambda s: due(s.store, s.actor, s.clock().date()),
    Action.REGISTER_MOTOR: registered,
    Action.START_JOB: lambda s: start_job(s.store, s.actor, Start("BW-2", "token-new-1"), s.clock()),
    Action.KEEP_ENTRY: lambda s: keep(s.store, s.job, "line_current.L1", "17.2", s.actor, "token-new-2", s.clock()),
    Action.TAKE_BACK: lambda s: take_back(s.store, s.job, 1, s.actor, s.clock()),
    Action.TAKE_BACK_OTHERS: lambda s: s.actor.need_take_back("N. Other", NOW, s.clock(), "wrong motor"),
    Action.OVERRULE: lambda s: overrule(s.store, s.job, "decision", "no", s.actor, "token-new-3", s.clock()),
    Action.DECIDE: lambda s: decide(s.store, s.job, "return", "", s.actor, s.clock()),
    Action.SIGN: lambda s: sign(s.store, s.job, s.actor, SECRET, s.clock()),
    Action.AMEND: lambda s: amend(
        s.store, s.signed, s.actor, Amendment("remark only", token="token-new-4"), SECRET, s.clock()
    ),
    Action.MARK_LEADS: lambda s: keep_markings(
        s.store, s.actor, s.motor, Marked("three-lead-wye", (("A", "1"), ("B", "2"), ("C", "3"))), s.clock()
    ),
    Action.CHANGE_WINDING: lambda s: start_new_winding(s.store, s.actor, s.motor, "six-lead", False, s.clock()),
    Action.KEEP_WORKS: lambda s: keep_site(s.store, s.actor, {}, s.clock()),
    Action.KEEP_INSTRUMENTS: lambda s: add_range(s.store, s.actor, {"name": "M9", "function": "ohm"}, s.clock()),
    Action.KEEP_TASKS: lambda s: tasks.add(s.store, s.actor, s.motor, TASK, "token-new-5", s.clock()),
    Action.CLOSE_ANY_TASK: lambda s: need_close(s.actor, "n.other"),
    Action.READ_TRAIL: lambda s: read_trail(s.store, s.actor, Asked()),
    Action.KEEP_TOKENS: lambda s: people.make_token(s.store, s.actor, "scale house", ["read"], s.clock()),
    Action.MANAGE_PEOPLE: lambda s: people.add_person(s.store, s.actor, new(), s.clock()),
    Action.TAKE_ARCHIVE: lambda s: sum(map(len, archive_pieces(s.store, s.store.kw["bind"], s.actor, s.clock()))),
    Action.ENROL_DEVICE: lambda s: people.enrol_device(s.store, s.actor, "Yard tablet", s.clock()),
}
assert set(VERBS) == set(Action)


def count_rows(store):
    with store() as session:
        return {table.name: session.scalar(select(func.count()).select_from(table)) for table in METADATA.sorted_tables}


@pytest.mark.parametrize("role", Role)
def test_every_verb_by_every_role(scene, role):
    s = scene(role)
    for action, verb in VERBS.items():
        before = count_rows(s.store)
        if action in MAY[role]:
            try:
                verb(s)
            except Forbidden:
                pytest.fail(f"{role} may {action}")
            except (RecordRefusal, ValueError):
                pass  # refused for another reason than who asked
        else:
            with pytest.raises(Forbidden, match="this is for"):
                verb(s)
            assert count_rows(s.store) == before, (role, action)


@pytest.fixture
def keeper(store):
    return add_person(store, Role.ADMINISTRATOR, "K. Eeper")


def test_someone_is_added_and_signs_in(store, keeper, clock):
    assert people.add_person(store, keeper, new(login=" Rush "), clock()) == "rush"
    opened = sign_in(store, "RUSH", GOOD, "here", clock())
    assert (opened.actor.name, opened.actor.role) == ("L. Rush", Role.ELECTRICIAN)
    with store() as session:
        stored = session.scalar(select(Person.password_hash).where(Person.login == "rush"))
        told = [row.detail for row in session.scalars(select(Trail).where(Trail.action == "person added"))]
    assert stored.startswith("$argon2id$")
    assert told == ["L. Rush (rush), electrician"]
    with pytest.raises(RecordRefusal, match="nobody has or had"):
        people.add_person(store, keeper, new(), clock())


@pytest.mark.parametrize(
    ("changes", "told"),
    [
        ({"password": "short"}, "10 to 200"),
        ({"password": "password123"}, "another one"),
        ({"password": "aaaaaaaaaaaa"}, "another one"),
        ({"password": "l.rush-l.rush"}, "another one"),
        ({"password": "x" * 201}, "10 to 200"),
        ({"role": "apprentice"}, "sign-in name of an electrician"),
        ({"role": "apprentice", "under": "keeper"}, "sign-in name of an electrician"),
        ({"role": "administrator"}, "command line"),
        ({"role": "boss"}, "one of"),
        ({"login": "<b>"}, "sign-in name"),
    ],
)
def test_who_is_not_added(store, keeper, clock, changes, told):
    with pytest.raises(RecordRefusal, match=told) as refusal:
        people.add_person(store, keeper, new(**changes), clock())
    assert new(**changes).password not in str(refusal.value)
    with store() as session:
        assert session.scalar(select(func.count(Person.id))) == 1


def test_the_command_line_adds_administrators(store, clock):
    people.add_person(store, people.COMMAND_LINE, new(role="administrator"), clock())
    assert [p.role for p in people.people(store, people.COMMAND_LINE).people] == ["administrator"]


def test_an_apprentice_follows_the_signer(store, keeper, electrician, clock):
    people.add_person(store, keeper, new(role="apprentice", under=electrician.login), clock())
    assert sign_in(store, "rush", GOOD, "here", clock()).actor.who == "L. Rush (apprentice under A. Tester)"


def test_removing_ends_every_sign_in_and_token_at_once(store, engine, keeper, electrician, clock):
    opened = sign_in(store, electrician.login, SECRET, "here", clock())
    token = people.make_token(store, electrician, "scale house", ["read"], clock())
    assert who_is(engine, store, opened.token, "here", clock()) is not None
    assert token_of(engine, token, "here", clock()) is not None
    people.remove_person(store, keeper, electrician.login, clock())
    assert who_is(engine, store, opened.token, "here", clock()) is None
    assert token_of(engine, token, "here", clock()) is None
    with store() as session:
        assert session.scalar(select(func.count()).where(ApiToken.revoked_at.is_(None))) == 0
        assert session.scalar(select(func.count()).where(SignIn.ended_at.is_(None))) == 0
    with pytest.raises(Unknown):
        people.remove_person(store, keeper, electrician.login, clock())
    with pytest.raises(RecordRefusal, match="nobody removes themselves"):
        people.remove_person(store, keeper, keeper.login, clock())


def test_whoever_is_marked_removed_is_out_though_a_sign_in_or_token_was_left(store, engine, electrician, clock):
    opened = sign_in(store, electrician.login, SECRET, "here", clock())
    token = people.make_token(store, electrician, "scale house", ["read"], clock())
    with store.begin() as session:
        session.get(Person, electrician.person_id).removed_at = clock()
    assert who_is(engine, store, opened.token, "here", clock()) is None
    assert token_of(engine, token, "here", clock()) is None
    with pytest.raises(WrongSecret):
        confirm(store, electrician, SECRET, clock())


def test_a_signer_with_apprentices_stays_until_they_have_another(store, keeper, electrician, clock):
    apprentice = add_person(store, Role.APPRENTICE, "L. Rush", electrician)
    for change in (
        lambda: people.remove_person(store, keeper, electrician.login, clock()),
        lambda: people.change_role(store, keeper, electrician.login, "planner", "", clock()),
    ):
        with pytest.raises(RecordRefusal, match=r"first another signer for L\. Rush"):
            change()
    other = add_person(store, Role.ELECTRICIAN, "O. Ther")
    people.change_role(store, keeper, apprentice.login, "apprentice", other.login, clock())
    people.remove_person(store, keeper, electrician.login, clock())


def test_a_new_role_holds_at_once(store, engine, keeper, electrician, clock):
    opened = sign_in(store, electrician.login, SECRET, "here", clock())
    people.change_role(store, keeper, electrician.login, "reader", "", clock())
    assert who_is(engine, store, opened.token, "here", clock()).actor.role is Role.READER
    with pytest.raises(RecordRefusal, match="command line"):
        people.change_role(store, keeper, electrician.login, "administrator", "", clock())
    with pytest.raises(RecordRefusal, match="command line"):
        people.change_role(store, keeper, keeper.login, "reader", "", clock())


def test_a_new_password_ends_sign_ins(store, engine, keeper, electrician, clock):
    opened = sign_in(store, electrician.login, SECRET, "here", clock())
    people.reset_password(store, keeper, electrician.login, GOOD, clock())
    assert who_is(engine, store, opened.token, "here", clock()) is None
    assert sign_in(store, electrician.login, GOOD, "here", clock()).token
    people.change_own_password(store, electrician, "teal between two sluices", clock())
    assert sign_in(store, electrician.login, "teal between two sluices", "here", clock()).token
    other = add_person(store, Role.ADMINISTRATOR, "O. Ther")
    with pytest.raises(RecordRefusal, match="command line"):
        people.reset_password(store, keeper, other.login, GOOD, clock())


@pytest.mark.parametrize("scopes", [[], ["sign"], ["read", "everything"]])
def test_tokens_have_known_scopes(store, electrician, clock, scopes):
    with pytest.raises(RecordRefusal, match="one or more of read, record, register"):
        people.make_token(store, electrician, "scale house", scopes, clock())
