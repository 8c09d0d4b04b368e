"""Opens that another reading contradicts: taken out of their test, and said."""

import pytest

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.fields import WINDING
from grimcoil.core.measured import Hookup, ResistanceTest
from grimcoil.core.plate import Plate
from grimcoil.core.readings import parse_reading
from grimcoil.core.resistance.opens import settled_opens
from grimcoil.core.subject import Subject

BOX, STARTER = Hookup("motor-box"), Hookup("starter", None, None, "motor+cable")


def read(hookup=BOX, hot=False, **texts):
    pairs = {name.replace("_", "-").lstrip("p"): parse_reading(text, WINDING) for name, text in texts.items()}
    return ResistanceTest(pairs, hookup=hookup, hot=hot)


def settled(*tests):
    out, findings = settled_opens(tests, Subject(Plate(())))
    return [{pair: reading.text for pair, reading in test.readings.items()} for test in out], [f.code for f in findings]


@pytest.mark.parametrize(
    ("tests", "codes"),
    [
        ((read(p1_4="OL"),), []),
        ((read(p1_4="OL"), read(p1_4="OL")), []),
        ((read(p1_4="0.84"), read(p1_4="0.85")), []),
        ((read(p1_4="OL"), read(p1_4="0.84")), ["open-once"]),
        ((read(p1_4="2k"), read(p1_4="0.84")), ["open-once"]),
        ((read(p1_4="OL"), read(p4_1="0.84")), ["open-once"]),
        ((read(p1_4="OL"), read(p1_4="beep")), ["open-once"]),
        ((read(p1_4="OL"), read(p1_4="no beep")), []),
        ((read(p1_4="OL"), read(STARTER, p1_4="0.9")), ["open-once"]),
        ((read(STARTER, p1_4="OL"), read(p1_4="0.84")), []),  # the cable's
        ((read(STARTER, p1_4="OL"), read(STARTER, p1_4="0.84")), ["open-once"]),
        ((read(p1_4="OL"), read(Hookup("cable"), p1_4="0.1")), []),
        ((read(p1_4="OL"), read(hot=True, p1_4="0.9")), []),
        (
            (
                read(Hookup("motor-box", links="opened"), p1_4="OL"),
                read(Hookup("motor-box", links="as-found"), p1_4="1"),
            ),
            [],
        ),
        ((read(p1_4="OL"), read(p1_4="0.84"), read(p1_4="0.84")), ["contact-lost"]),
        ((read(p1_4="OL"), read(p1_4="OL"), read(p1_4="0.84"), read(p1_4="0.84")), ["open-once"]),
    ],
)
def test_two_readings_that_agree_decide(tests, codes):
    assert settled(*tests)[1] == codes


def test_the_open_is_taken_out_and_the_one_that_agrees_stands_for_it():
    left, _ = settled(read(p1_4="OL", p2_5="0.84"), read(p1_4="0.85"))
    assert left == [{"2-5": "0.84"}, {"1-4": "0.85"}]
    left, _ = settled(read(p1_4="OL", p2_5="0.84"), read(p1_4="0.85"), read(p1_4="0.86"))
    assert left[0] == {"1-4": "0.85", "2-5": "0.84"}


def test_the_limit_of_an_open_is_the_criterias():
    at = FIELD_GENERAL.open_above_ohm.value
    assert settled(read(p1_4=f"{at:g}"), read(p1_4="0.84"))[1] == ["open-once"]
    assert settled(read(p1_4=f"{at - 1:g}"), read(p1_4="0.84"))[1] == []
