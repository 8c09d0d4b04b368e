"""Refusals say where, what was found, what is accepted."""

import pytest

from grimcoil.core.errors import (
    AlreadyKept,
    Forbidden,
    FormRefused,
    GateClosed,
    ReadingRefusal,
    RecordRefusal,
    Refusal,
    UnclearReading,
    Unknown,
    WrongSecret,
)


@pytest.mark.parametrize(
    ("parts", "sentence"),
    [
        (("tests.0.ohms", "abc", "a reading", "0.352"), "tests.0.ohms: found “abc”; a reading, for example 0.352."),
        (("", "abc", "a reading"), "found “abc”; a reading."),
        (("ohms", "", "a reading"), "ohms: a reading."),
    ],
)
def test_one_sentence_for_a_person_or_one_line_of_errors(parts, sentence):
    assert str(Refusal(*parts)) == Refusal(*parts).sentence() == sentence
    assert "\n" not in sentence


def test_each_kind_carries_what_helps_on():
    unclear = UnclearReading("ohms", "1,234", "say which", ("1.234", "1234"))
    assert unclear.choices == ("1.234", "1234")
    assert isinstance(unclear, ReadingRefusal)
    assert not GateClosed("a", "b", "c").can_overrule
    assert FormRefused({"tag": "taken", "power": "no number"}).fields == {"tag": "taken", "power": "no number"}
    assert "taken; no number" in str(FormRefused({"tag": "taken", "power": "no number"}))


def test_a_shut_gate_says_what_is_shut_what_was_found_and_what_to_do_now():
    assert GateClosed("Insulation", "not proved dead", "prove dead first").sentence() == (
        "Insulation is blocked. Found: not proved dead. Prove dead first."
    )
    assert GateClosed("Lock", "It moved. Step back.", "Find the source.").sentence() == (
        "Lock is blocked. Found: It moved. Step back. Find the source."
    )
    assert GateClosed("Photos", "", "this job is signed").sentence() == "Photos: this job is signed."


@pytest.mark.parametrize("kind", [Refusal, ReadingRefusal, AlreadyKept, Unknown, RecordRefusal, Forbidden, WrongSecret])
def test_every_refusal_says_what_to_do_now(kind):
    plain = kind("day", "32", "1 to 31")
    assert plain.do.endswith(".")
    assert plain.whole() == f"day: found “32”; 1 to 31. {plain.do}"
    assert kind("day", "32", "1 to 31", do="Ask the planner.").whole().endswith(" Ask the planner.")


def test_a_shut_gate_says_its_order_once():
    shut = GateClosed("Insulation", "not proved dead", "prove dead first")
    assert shut.do == "Prove dead first."
    assert shut.whole() == shut.sentence() == "Insulation is blocked. Found: not proved dead. Prove dead first."
