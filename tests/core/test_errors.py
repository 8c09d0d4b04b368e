"""Refusals say where, what was found, what is accepted."""

import pytest

from grimcoil.core.errors import FormRefused, GateClosed, ReadingRefusal, Refusal, UnclearReading


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
