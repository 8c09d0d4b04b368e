"""Typing the last reading of a test says what the assessment says of it: one owner for each verdict."""

from datetime import timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from grimcoil.core.assessment import assess
from grimcoil.core.choices import LeadScheme
from grimcoil.core.criteria import CRITERIA
from grimcoil.core.findings import Verdict
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.live import Typed, say_reading
from grimcoil.core.plan.progress import situation
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.record import conditions_of, made_of, to_record
from grimcoil.core.plan.safety import Site
from grimcoil.core.plan.steps import Act
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Subject, Winding
from tests.support import NOW, entry

OHMS = ("0.5344", "0.5350", "0.5347", "0.62", "0.1", "OL", "0.0")
MEGOHMS = ("520M", "0.8M", "4.9M", "5.2M", "99M", "101M", "1.2M", ">550M", "OL", "0.02M")
VOLTS, AMPS = ("480", "478", "466", "440", "0", "0.3"), ("17.2", "17.3", "16.0", "6.1", "30", "0.2")
BY_FIELD = {
    "winding": OHMS,
    "insulation": MEGOHMS,
    "voltage": VOLTS,
    "current": AMPS,
    "temperature": ("20", "40", "-12"),
}


HOLDS = ("insulation", "winding_to_winding")
KINDS = ("winding_resistance", "supply_voltage", "line_current", *HOLDS)


@st.composite
def typed_whole(draw):
    """A plan with every reading of it typed, on a motor and under criteria drawn too."""
    scheme = draw(st.sampled_from([LeadScheme.THREE, LeadScheme.THREE_WYE, LeadScheme.SIX, LeadScheme.NINE_WYE]))
    kind = draw(st.sampled_from(["random", "form"]))
    criteria = CRITERIA[draw(st.sampled_from(sorted(CRITERIA)))]
    subject = Subject(
        Plate(rated_voltage_v=(460.0,), full_load_current_a=(21.0,), insulation_class="F", built_year=2001),
        Winding(kind, "thermosetting", "copper", scheme), criteria,
    )  # fmt: skip
    plan, script = build(Brief(scheme)), []
    for place, (_step, slot) in plan.places.items():
        if slot.act in (Act.PROVE_TESTER, Act.POINT_DEAD, Act.RESIDUAL):
            continue
        if slot.act is Act.APPLY:
            script.append((place, "confirmed"))
        elif slot.part == "volts":
            script.append((place, "500"))
        elif texts := BY_FIELD.get(slot.field):
            script.append((place, draw(st.sampled_from(texts))))
    return plan, subject, script


def whole_of(plan, subject, script):
    """What the entries so far make up, judged."""
    made = [
        entry(i, place, text, NOW + timedelta(seconds=30 * i), plan=plan) for i, (place, text) in enumerate(script, 1)
    ]
    kept = situation(plan, made, Site(subject.criteria, ZoneInfo("UTC")), made[-1].at).kept
    whole = assess(to_record(plan, kept, subject, (), conditions_of(plan, kept)))
    conditions = conditions_of(plan, kept)
    return Typed(plan, kept, subject, whole, made_of(plan, kept, (), conditions)), made[-1]


def is_last(plan, place, script):
    step = plan.at(place)[0]
    later = [p for p, _ in script if plan.at(p)[0] is step and not plan.at(p)[1].optional]
    return later[-1] == place


@settings(max_examples=2 * settings.default.max_examples)
@given(typed_whole())
def test_typing_the_last_reading_says_what_the_assessment_says(made):
    plan, subject, script = made
    for number, (place, _) in enumerate(script, 1):
        step, slot = plan.at(place)
        if step.kind not in KINDS or slot.act is Act.APPLY or not is_last(plan, place, script):
            continue
        typed, last = whole_of(plan, subject, script[:number])
        said = say_reading(typed, last, last.reading)
        result = typed.result(step)
        assert said is not None
        if step.kind not in HOLDS:
            assert said.verdict is result.verdict
            assert said.text.startswith(tuple(f.text for f in result.findings))
        elif said.verdict is Verdict.SOUND:
            assert result.verdict in (Verdict.SOUND, Verdict.WATCH)


@pytest.mark.parametrize(
    ("text", "verdict", "says"),
    [
        ("beep", Verdict.SOUND, "below 30 Ω, where this meter beeps"),
        ("0.41", Verdict.SOUND, "reads through."),
        ("no beep", Verdict.ACT, "is open: no beep"),
        ("OL", Verdict.ACT, "is open: OL"),
        ("1000", Verdict.ACT, "is open"),
        ("999", Verdict.SOUND, "reads through."),
    ],
)
def test_each_winding_is_said_to_read_through_or_not(text, verdict, says):
    plan, subject = (
        build(Brief("six-lead")),
        Subject(Plate(rated_voltage_v=(460.0,)), Winding("random", "thermosetting", "copper", "six-lead")),
    )
    script = [("continuity.1-4", text)]
    last = entry(1, *script[0], NOW, plan=plan)
    kept = situation(plan, [last], Site(subject.criteria, ZoneInfo("UTC")), NOW).kept
    meter = InstrumentRange("M9", "low-ohm", beep_below_ohm=30.0)
    whole = assess(to_record(plan, kept, subject, (), conditions_of(plan, kept)))
    said = say_reading(Typed(plan, kept, subject, whole, (), (meter,)), last, last.reading)
    assert said.verdict is verdict
    assert says in said.text
    assert said.text.startswith("1–4 ")
