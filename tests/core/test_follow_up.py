"""What asks for a task, and who closes it."""

from datetime import date

import pytest

from grimcoil.core.catalogue import CATALOGUE
from grimcoil.core.errors import Forbidden, FormRefused
from grimcoil.core.findings import Finding, Verdict
from grimcoil.core.follow_up import (
    BY_FINDING,
    BY_JOINT,
    BY_WORD,
    LONGEST_WHAT,
    check_word,
    need_close,
    of_decision,
    of_findings,
    of_joint,
    of_sheet,
    of_words,
)
from grimcoil.core.people import Actor, Role
from grimcoil.core.plan.parts.safe import JOINT_STATES
from grimcoil.core.side.wear import HEARD_AT, OBSERVATIONS, VIBRATIONS

STIFF = Finding("shaft-stiff", Verdict.WATCH, "The shaft turns stiffly.")


def test_each_names_what_can_be_found():
    assert set(BY_FINDING) <= set(CATALOGUE)
    known = VIBRATIONS | HEARD_AT | OBSERVATIONS
    assert set(BY_WORD) == {word for word, (verdict, _) in known.items() if verdict != "sound"} - {"slight sparking"}
    for what, days in (*BY_FINDING.values(), *BY_WORD.values()):
        assert 0 <= days <= 30
        assert len(what) <= LONGEST_WHAT
        assert what[0].isupper()
        assert not what.endswith(".")


def test_what_stops_a_machine_is_for_today_and_the_worse_the_sooner():
    for known in (VIBRATIONS, HEARD_AT, OBSERVATIONS):
        for word, (verdict, _) in known.items():
            if word in BY_WORD and verdict == "act" and word not in {"burnt bars", "high mica"}:
                assert BY_WORD[word][1] == 0, word


def test_a_finding_makes_one_task_with_its_day():
    (one,) = of_findings([STIFF, STIFF, Finding("balanced", Verdict.SOUND, "")])
    assert (one.because, one.by(date(2026, 12, 20))) == ("The shaft turns stiffly.", date(2027, 1, 3))
    assert of_findings([Finding("shaft-stiff", Verdict.UNPROVEN, "")]) == []


def test_a_sheet_says_a_word_once():
    heard = Finding("vibration-watch", Verdict.WATCH, "Rumbling: a bearing.")
    assert [one.what for one in of_sheet(["rumbling"], [heard])] == ["Have the play checked at standstill"]
    assert [one.what for one in of_sheet([], [heard])] == [BY_FINDING["vibration-watch"][0]]
    assert of_words(["smooth", "even", "nothing"]) == []


def test_what_is_changed_is_a_task_and_nothing_is_none():
    (one,) = of_decision("  drain   opened ", "rewind")
    assert (one.what, one.because) == ("drain opened", "Decided: rewind. So that it doesn't come back.")
    assert of_decision("  ", "return") == []


@pytest.mark.parametrize("word", ["", "ok", "abc", "x" * 201])
def test_a_word_is_asked_when_it_is_closed(word):
    with pytest.raises(FormRefused, match="4 to 200"):
        check_word(word)


def test_whom_it_is_for_closes_it_or_a_planner():
    def at(role, login):
        return Actor(1, "N", role, login=login)

    need_close(at(Role.ELECTRICIAN, "a.b"), "a.b")
    need_close(at(Role.APPRENTICE, "a.b"), "")
    need_close(at(Role.PLANNER, "p.l"), "a.b")
    with pytest.raises(Forbidden, match="it is for a"):
        need_close(at(Role.ELECTRICIAN, "c.d"), "a.b")
    with pytest.raises(Forbidden, match="apprentice, electrician, planner"):
        need_close(at(Role.READER, "r.d"), "")


def test_every_state_of_a_joint_but_a_sound_one_asks_for_something():
    assert set(BY_JOINT) == set(JOINT_STATES) - {"sound"}
    assert of_joint("sound") == of_joint("") == []
    assert of_joint("burnt")[0].days == 0
