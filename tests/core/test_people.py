"""Who may do what, and what guards a secret."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.errors import Forbidden, RecordRefusal
from grimcoil.core.people import (
    BY_SCOPE,
    LONGEST_WAIT_S,
    MAY,
    Action,
    Actor,
    Role,
    Scope,
    check_login,
    check_name,
    check_pin,
    check_role,
    wait_s,
)

SIGNERS = {Action.OVERRULE, Action.DECIDE, Action.SIGN, Action.AMEND}
KEEPERS = {Action.MANAGE_PEOPLE, Action.ENROL_DEVICE, Action.TAKE_ARCHIVE}
CHANGES = set(Action) - {Action.READ, Action.READ_DUE, Action.READ_TRAIL, Action.KEEP_TOKENS}


def test_only_an_electrician_answers_for_a_job():
    assert [role for role in Role if MAY[role] & SIGNERS] == [Role.ELECTRICIAN]
    assert MAY[Role.ELECTRICIAN] >= SIGNERS


def test_only_an_administrator_keeps_people_and_touches_no_record():
    assert [role for role in Role if MAY[role] & KEEPERS] == [Role.ADMINISTRATOR]
    assert MAY[Role.ADMINISTRATOR] & CHANGES == KEEPERS


def test_a_reader_changes_nothing_and_an_apprentice_measures():
    assert MAY[Role.READER] & CHANGES == set()
    assert {Action.START_JOB, Action.KEEP_ENTRY, Action.TAKE_BACK} <= MAY[Role.APPRENTICE]
    assert Action.KEEP_ENTRY not in MAY[Role.PLANNER]
    assert set(MAY) == set(Role)


def test_an_apprentice_stands_on_the_record_with_the_signer():
    assert Actor(1, "L. Rush", Role.APPRENTICE, "A. Tester").who == "L. Rush (apprentice under A. Tester)"
    assert Actor(1, "A. Tester", Role.ELECTRICIAN).who == "A. Tester"


@pytest.mark.parametrize("action", Action)
@pytest.mark.parametrize("scope", Scope)
def test_a_token_never_does_more_than_its_scope_or_its_person(scope, action):
    for role in Role:
        token = Actor(1, "X. Y", role, scopes=frozenset({scope}))
        assert token.may(action) == (action in BY_SCOPE[scope] and action in MAY[role])
        assert not token.may(action) or action not in SIGNERS | KEEPERS


def test_a_refusal_says_for_whom_it_is():
    with pytest.raises(Forbidden, match=r"signed in as reader.*this is for: electrician"):
        Actor(1, "X. Y", Role.READER).need(Action.SIGN)
    with pytest.raises(Forbidden, match="scopes: read"):
        Actor(1, "X. Y", Role.ELECTRICIAN, scopes=frozenset({Scope.READ})).need(Action.KEEP_ENTRY)


@pytest.mark.parametrize("text", ["", "a", "1ab", "a b", "ä.b", "a" * 41, "a\nb", "-ab"])
def test_bad_sign_in_names(text):
    with pytest.raises(RecordRefusal, match="sign-in name"):
        check_login(text)


@pytest.mark.parametrize("text", ["", "x", "x" * 61, "A\x00B", "A\u202eB"])
def test_bad_names(text):
    with pytest.raises(RecordRefusal, match="name"):
        check_name(text)


@pytest.mark.parametrize(
    "text", ["", "12345", "1234567", "123456", "987654", "111111", "121212", "24680a", "１２３４５７"]
)
def test_bad_pins_are_refused_and_never_repeated(text):
    with pytest.raises(RecordRefusal) as told:
        check_pin(text)
    assert not text or text not in str(told.value)


def test_bad_role():
    with pytest.raises(RecordRefusal, match="one of reader, apprentice"):
        check_role("boss")


@given(st.integers(min_value=0, max_value=10**6))
def test_waiting_grows_and_ends_somewhere(n):
    assert 0 <= wait_s(n) <= wait_s(n + 1) <= LONGEST_WAIT_S
