"""Sentences of an insulation test: bounds as bounds, the figures as they came about."""

import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.findings import Verdict
from grimcoil.core.insulation.words import Limits, amount_text, corrected, uncorrected, wet, working
from grimcoil.core.subject import Conditions


@pytest.mark.parametrize(
    ("amount", "shown"),
    [
        (Amount.exact(419.2), "419"),
        (Amount.above(550), ">550"),
        (Amount.below(0.1), "<0.1"),
        (Amount(10, 100), "10 to 100"),
    ],
)
def test_a_bound_is_shown_as_one(amount, shown):
    assert amount_text(amount) == shown


@pytest.mark.parametrize(
    ("amount", "code"),
    [
        (Amount.exact(5), "insulation-sound"),
        (Amount.exact(4.99), "insulation-low"),
        (Amount.exact(0.99), "insulation-failed"),
        (Amount.exact(1.0), "insulation-low"),  # on the value down to which it may run
        (Amount.above(3), "insulation-unproven"),
        (Amount.below(3), "insulation-low"),
    ],
)
def test_against_the_minimum_and_what_it_may_run_at(amount, code):
    assert corrected(amount, Limits(5.0, 1.0), "of leads 1, 2, 3").code == code


@pytest.mark.parametrize(
    ("conditions", "words"),
    [
        (Conditions(), "Take the winding temperature"),
        (Conditions(ambient_temperature_c=-4), "Let it come to 10 °C"),
        (Conditions(winding_temperature_c=92), "Take the winding temperature"),
    ],
)
def test_what_would_settle_it_is_said(conditions, words):
    why, finding = uncorrected(Amount.exact(6), Limits(5.0, 1.0), conditions, "thermosetting", "of the winding")
    assert finding.severity is Verdict.UNPROVEN
    assert words in finding.text
    assert why.code in ("temperature-missing", "correction-out-of-range")


def test_a_wet_surface_and_the_working():
    damp = Conditions(15.0, 20.0, 90.0)
    assert [f.severity for f in wet(Amount.exact(50), 5.0, damp)] == [Verdict.WATCH]
    assert [f.severity for f in wet(Amount.exact(2), 5.0, damp)] == [Verdict.UNPROVEN]
    assert wet(Amount.exact(2), 5.0, Conditions(25.0, 20.0, 60.0)) == []
    assert working(Amount.exact(100), 0.5, Amount.exact(50)) == "100 MΩ read × 0.5000 = 50 MΩ at 40 °C"
    assert working(None, None, None) == ""
