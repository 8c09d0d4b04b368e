"""Poles: ohms dead, volts under load."""

import pytest

from grimcoil.core.circuit.contacts import judge_contacts, judge_poles
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.fields import DROP, LOW_OHM
from grimcoil.core.findings import Verdict
from grimcoil.core.measured import (
    ContactTest,
    OverloadPoleTest,
)
from grimcoil.core.readings import parse_reading


def codes(result):
    return [finding.code for finding in result.findings]


def low(text):
    return text and parse_reading(text, LOW_OHM)


@pytest.mark.parametrize(
    ("texts", "code"),
    [
        (("0.1", "0.1", "0.1"), "poles-alike"),
        (("0.10", "0.40", "0.10"), "poles-differ"),
        (("0.1", "OL", "0.1"), "pole-open"),
        (("0.1", "12", "0.1"), "pole-high-ohms"),
        (("0.1", "beep", "0.1"), "reading-missing"),
    ],
)
def test_poles_dead(texts, code):
    test = OverloadPoleTest({f"L{i}": low(text) for i, text in enumerate(texts, start=1)})
    assert codes(judge_poles(test, FIELD_GENERAL)) == [code]


def read(field, names, texts):
    return {name: parse_reading(str(text), field) for name, text in zip(names, texts, strict=True)}


def test_contact_drops():
    drops = ContactTest(read(DROP, ("L1", "L2", "L3"), ("0.11", "0.12", "0.12")), 18.0)
    result = judge_contacts(drops, FIELD_GENERAL)
    assert (result.worst, result.watts) == ("L2", pytest.approx(2.16))
    assert result.verdict is Verdict.SOUND
    high = ContactTest(read(DROP, ("L1", "L2", "L3"), ("0.11", "0.20", "0.12")))
    assert codes(judge_contacts(high, FIELD_GENERAL)) == ["contact-drop-high"]
    burnt = ContactTest(read(DROP, ("L1", "L2"), ("0.1", "17")))
    assert codes(judge_contacts(burnt, FIELD_GENERAL)) == ["contact-drop-burnt"]
    assert judge_contacts(ContactTest({}), FIELD_GENERAL).verdict is Verdict.UNPROVEN
