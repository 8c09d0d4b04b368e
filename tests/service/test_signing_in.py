"""Signing in on a real database: secrets, waiting, idling, PINs on enrolled devices, tokens."""

from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from threading import Barrier

import pytest
from sqlalchemy import select

from grimcoil.core.errors import Forbidden, WrongSecret
from grimcoil.core.people import Role, Scope
from grimcoil.service import people, signing_in
from grimcoil.service.signing_in import LONGEST, confirm, sign_in, sign_out, switch_in, token_of, who_is
from grimcoil.store.people_tables import ApiToken, Device, Person, SignIn, Trail
from tests.support import PIN_SECRET, SECRET, add_person


@pytest.fixture
def keeper(store):
    return add_person(store, Role.ADMINISTRATOR, "K. Eeper")


def wrong(store, clock, times, login="a.tester", origin="here"):
    for _ in range(times):
        with pytest.raises(WrongSecret, match="don't fit"):
            sign_in(store, login, "not this one", origin, clock())


def test_a_sign_in_stands_for_its_person(store, engine, electrician, clock):
    opened = sign_in(store, electrician.login, SECRET, "10.0.0.7", clock())
    signed = who_is(engine, store, opened.token, "10.0.0.7", clock())
    assert (signed.actor.who, signed.actor.person_id, signed.actor.origin) == (
        "A. Tester",
        electrician.person_id,
        "10.0.0.7",
    )
    with store() as session:
        stored = session.scalar(select(SignIn))
        assert opened.token not in (stored.token_hash, stored.csrf)
        assert [row.action for row in session.scalars(select(Trail))] == ["signed in"]
    assert who_is(engine, store, "x" * 43, "10.0.0.7", clock()) is None


def test_the_real_hash_is_argon2id_at_the_memory_that_is_advised(cheap_hashes):
    # RFC 9106, section 4, second recommended option: argon2id, 3 passes, 64 MiB, 4 lanes
    assert cheap_hashes.hash("x").startswith("$argon2id$v=19$m=65536,t=3,p=4$")


def test_nobody_learns_whether_a_name_exists(store, electrician, clock):
    told = []
    for login in (electrician.login, "nobody.here", "", "' OR 1=1 --", "\x00", "é" * 300):
        with pytest.raises(WrongSecret) as refusal:
            sign_in(store, login, "not this one", "here", clock())
        told.append(str(refusal.value))
    assert len(set(told)) == 1


def test_wrong_secrets_make_one_wait_longer_and_longer(store, electrician, clock):
    wrong(store, clock, 5)
    with pytest.raises(WrongSecret, match="wait 2 seconds"):
        sign_in(store, electrician.login, SECRET, "here", clock())
    clock.pass_(2)
    wrong(store, clock, 1)
    with pytest.raises(WrongSecret, match="wait 4 seconds"):
        sign_in(store, electrician.login, SECRET, "here", clock())
    assert sign_in(store, electrician.login, SECRET, "elsewhere", clock()).token
    clock.pass_(4)
    assert sign_in(store, electrician.login, SECRET, "here", clock()).token
    wrong(store, clock, 4)


def test_one_address_can_not_try_everyone(store, electrician, clock):
    for n in range(25):
        wrong(store, clock, 1, login=f"guess{n}")
    with pytest.raises(WrongSecret, match="wait"):
        sign_in(store, electrician.login, SECRET, "here", clock())


def test_many_addresses_can_not_try_one_person_without_end(store, electrician, clock):
    for n in range(50):
        wrong(store, clock, 1, origin=f"10.0.1.{n}")
    with pytest.raises(WrongSecret, match="wait"):
        sign_in(store, electrician.login, SECRET, "here", clock())
    clock.pass_(2)
    assert sign_in(store, electrician.login, SECRET, "here", clock()).token


SPELLINGS = ("a.tester", "A.TESTER", "á.tester", "a.\u200btester", "ａ.tester", "a.teſter", "a\u0301.tester")


@pytest.mark.parametrize("spelling", SPELLINGS[2:])
def test_only_the_very_name_signs_in(store, electrician, clock, spelling):
    with pytest.raises(WrongSecret, match="don't fit"):
        sign_in(store, spelling, SECRET, "here", clock())


def test_capitals_and_blanks_of_a_phone_are_the_same_name_and_the_same_count(store, electrician, clock):
    assert sign_in(store, " A.Tester ", SECRET, "here", clock()).actor.login == "a.tester"
    for spelling in ("a.tester", "A.TESTER", " a.Tester", "A.tester", "a.TESTER"):
        wrong(store, clock, 1, login=spelling)
    with pytest.raises(WrongSecret, match="wait 2 seconds"):
        sign_in(store, "a.tesTER", SECRET, "here", clock())


def test_other_spellings_count_for_their_place(store, electrician, clock):
    for n in range(25):
        wrong(store, clock, 1, login=SPELLINGS[2 + n % 5])
    with pytest.raises(WrongSecret, match="wait"):
        sign_in(store, electrician.login, SECRET, "here", clock())


def test_a_success_leaves_the_count_of_the_place(store, electrician, clock):
    """Whoever has an account of their own gets no fresh guesses at others by signing in with it."""
    for n in range(24):
        if n % 4 == 3:
            sign_in(store, electrician.login, SECRET, "here", clock())
        wrong(store, clock, 1, login=f"guess{n}")
    wrong(store, clock, 1, login="guess24")
    with pytest.raises(WrongSecret, match="wait"):
        sign_in(store, electrician.login, SECRET, "here", clock())


def test_a_burst_is_counted_before_it_is_checked(store, engine, electrician, clock, monkeypatch):
    """Sixty at once: five are looked at, the others find them counted."""
    checked = []
    monkeypatch.setattr(signing_in, "fits", lambda stored, given: checked.append(given) or False)

    def guess(n):
        with pytest.raises(WrongSecret):
            sign_in(store, electrician.login, f"guess {n}", "here", clock())

    with ThreadPoolExecutor(12) as hands:
        list(hands.map(guess, range(60)))
    assert len(checked) == 5


def test_pins_on_a_tablet_are_counted_by_person(store, keeper, electrician, clock):
    device = people.enrol_device(store, keeper, "Yard tablet", clock())
    for spelling in ("a.tester", "A.tester", "a.TESTER", "A.TESTER", " a.tester"):
        with pytest.raises(WrongSecret, match="PIN doesn't fit"):
            switch_in(store, spelling, "000000", device, "here", clock())
    with pytest.raises(WrongSecret, match="wait"):
        switch_in(store, electrician.login, PIN_SECRET, device, "here", clock())


def test_everywhere_a_new_password_and_another_role_end_tokens_and_pin(store, engine, keeper, electrician, clock):
    def keys():
        with store() as session:
            pin = session.scalar(select(Person.pin_hash).where(Person.id == electrician.person_id))
            live = session.scalars(select(ApiToken).where(ApiToken.revoked_at.is_(None))).all()
        return pin is not None, len(live)

    def again():
        people.set_own_pin(store, electrician, PIN_SECRET, clock())
        people.make_token(store, electrician, "scale house", ["read"], clock())
        assert keys() == (True, 1)

    again()
    opened = sign_in(store, electrician.login, SECRET, "here", clock())
    sign_out(store, who_is(engine, store, opened.token, "here", clock()), clock(), everywhere=True)
    assert keys() == (False, 0)
    again()
    people.reset_password(store, keeper, electrician.login, "cane beet sugar drum 44", clock())
    assert keys() == (False, 0)
    again()
    people.change_role(store, keeper, electrician.login, "reader", "", clock())
    assert keys() == (False, 0)


def test_a_sign_in_by_pin_makes_no_token(store, engine, keeper, electrician, clock):
    device = people.enrol_device(store, keeper, "Yard tablet", clock())
    opened = switch_in(store, electrician.login, PIN_SECRET, device, "here", clock())
    with pytest.raises(Forbidden, match="signed in by PIN"):
        people.make_token(store, opened.actor, "mine", ["read"], clock())


def test_a_day_forgets_wrong_tries(store, electrician, clock):
    wrong(store, clock, 5)
    clock.pass_(86_401)
    assert sign_in(store, electrician.login, SECRET, "here", clock()).token


@pytest.mark.parametrize(("idle", "stays"), [(timedelta(hours=11), True), (timedelta(hours=13), False)])
def test_an_idle_sign_in_ends(store, engine, electrician, clock, idle, stays):
    opened = sign_in(store, electrician.login, SECRET, "here", clock())
    clock.now += idle
    assert (who_is(engine, store, opened.token, "here", clock()) is not None) == stays


def test_work_keeps_it_open_but_not_for_ever(store, engine, electrician, clock):
    began = clock()
    opened = sign_in(store, electrician.login, SECRET, "here", began)
    while clock() < began + LONGEST - timedelta(hours=6):
        clock.pass_(6 * 3600)
        assert who_is(engine, store, opened.token, "here", clock()) is not None
    clock.pass_(6 * 3600)
    assert who_is(engine, store, opened.token, "here", clock()) is None


def test_signing_out_here_and_everywhere(store, engine, electrician, clock):
    tokens = [sign_in(store, electrician.login, SECRET, f"place {n}", clock()).token for n in range(3)]

    def alive():
        return [who_is(engine, store, token, "here", clock()) is not None for token in tokens]

    sign_out(store, who_is(engine, store, tokens[0], "here", clock()), clock())
    assert alive() == [False, True, True]
    sign_out(store, who_is(engine, store, tokens[1], "here", clock()), clock(), everywhere=True)
    assert alive() == [False, False, False]


def test_a_pin_works_on_an_enrolled_device_only(store, engine, keeper, electrician, clock):
    with pytest.raises(WrongSecret, match="enrolled devices only"):
        switch_in(store, electrician.login, PIN_SECRET, "made-up", "here", clock())
    device = people.enrol_device(store, keeper, "Yard tablet", clock())
    opened = switch_in(store, electrician.login, PIN_SECRET, device, "here", clock())
    actor = who_is(engine, store, opened.token, "here", clock()).actor
    assert actor.device_id is not None
    assert confirm(store, actor, PIN_SECRET, clock()) == "pin"
    assert confirm(store, actor, SECRET, clock()) == "password"
    with pytest.raises(WrongSecret):
        confirm(store, electrician, PIN_SECRET, clock())
    clock.pass_(3601)
    assert who_is(engine, store, opened.token, "here", clock()) is None


def test_five_wrong_pins_make_one_wait_on_that_device(store, keeper, electrician, clock):
    device = people.enrol_device(store, keeper, "Yard tablet", clock())
    for _ in range(5):
        with pytest.raises(WrongSecret, match="PIN doesn't fit"):
            switch_in(store, electrician.login, "000000", device, "here", clock())
    with pytest.raises(WrongSecret, match="wait"):
        switch_in(store, electrician.login, PIN_SECRET, device, "here", clock())


def test_a_revoked_device_ends_its_sign_ins(store, engine, keeper, electrician, clock):
    device = people.enrol_device(store, keeper, "Yard tablet", clock())
    opened = switch_in(store, electrician.login, PIN_SECRET, device, "here", clock())
    assert people.pin_people(store, device)[0] == "Yard tablet"
    with store() as session:
        number = session.scalar(select(Device.id))
    people.revoke_device(store, keeper, number, clock())
    assert who_is(engine, store, opened.token, "here", clock()) is None
    assert people.pin_people(store, device) == ("", ())
    with pytest.raises(WrongSecret):
        switch_in(store, electrician.login, PIN_SECRET, device, "here", clock())


def test_a_pin_is_taken_away(store, keeper, electrician, clock):
    device = people.enrol_device(store, keeper, "Yard tablet", clock())
    people.set_own_pin(store, electrician, "", clock())
    with pytest.raises(WrongSecret):
        switch_in(store, electrician.login, PIN_SECRET, device, "here", clock())
    with pytest.raises(WrongSecret):
        switch_in(store, electrician.login, "", device, "here", clock())


def test_a_token_acts_for_its_person_until_it_ends(store, engine, electrician, clock):
    token = people.make_token(store, electrician, "scale house", ["read", "record"], clock())
    actor = token_of(engine, token, "10.0.0.9", clock()).actor
    assert (actor.login, actor.scopes) == (electrician.login, frozenset({Scope.READ, Scope.RECORD}))
    with store() as session:
        row = session.scalar(select(ApiToken))
        assert token not in (row.token_hash, row.name)
        number = row.id
    people.revoke_token(store, electrician, number, clock())
    assert token_of(engine, token, "10.0.0.9", clock()) is None
    again = people.make_token(store, electrician, "scale house", ["read"], clock())
    clock.pass_(366 * 86_400)
    assert token_of(engine, again, "10.0.0.9", clock()) is None


def test_nobody_revokes_anothers_token(store, engine, electrician, keeper, clock):
    token = people.make_token(store, electrician, "scale house", ["read"], clock())
    with store() as session:
        number = session.scalar(select(ApiToken.id))
    people.revoke_token(store, keeper, number, clock())
    assert token_of(engine, token, "here", clock()) is not None


def test_wrong_signatures_are_counted_too(store, electrician, clock):
    for _ in range(5):
        with pytest.raises(WrongSecret, match="not your password"):
            confirm(store, electrician, "guess", clock())
    with pytest.raises(WrongSecret, match="wait"):
        confirm(store, electrician, SECRET, clock())


def test_eight_right_signatures_at_once_are_no_wrong_tries(store, electrician, clock):
    begin = Barrier(8)

    def once(_):
        begin.wait(timeout=20)
        return confirm(store, electrician, SECRET, clock())

    with ThreadPoolExecutor(8) as pool:
        assert list(pool.map(once, range(8))) == ["password"] * 8


def test_a_burst_of_guesses_finds_itself_counted(store, electrician, clock):
    begin = Barrier(8)

    def once(number):
        begin.wait(timeout=20)
        try:
            confirm(store, electrician, f"guess {number}", clock())
        except WrongSecret as refusal:
            return refusal.accepted
        return "taken"

    with ThreadPoolExecutor(8) as pool:
        said = list(pool.map(once, range(8)))
    assert sum("too many wrong tries" in one for one in said) >= 2
    assert "taken" not in said
