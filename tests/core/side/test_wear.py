"""What wears: words of round and sheet, each with what follows."""

import pytest

from grimcoil.core.side.wear import (
    OBSERVATIONS,
    VIBRATIONS,
    GreaseTest,
    VibrationTest,
    judge_grease,
    judge_vibration,
)


def test_every_word_says_what_to_do_next():
    for words in (VIBRATIONS, OBSERVATIONS):
        assert all(following and severity in ("sound", "watch", "act") for severity, following in words.values())


@pytest.mark.parametrize(
    ("mm_s", "zone", "verdict"),
    # ISO 20816-3, 15 to 300 kW, rigid foundation: 1.4, 2.8, 4.5 mm/s r.m.s. (standard, from memory)
    [(0, "A", "sound"), (1.4, "A", "sound"), (1.41, "B", "sound"), (2.8, "B", "sound"), (2.81, "C", "watch"),
     (4.5, "C", "watch"), (4.51, "D", "act"), (200, "D", "act"), (201, "?", "unproven")],
)  # fmt: skip
def test_velocity_stands_in_its_zone(mm_s, zone, verdict):
    result = judge_vibration(VibrationTest(mm_s={"DE-H": mm_s, "NDE-A": 0.5}))
    assert result.verdict.value == verdict
    assert f"zone {zone}" in result.findings[0].text or zone == "?"


@pytest.mark.parametrize(
    ("word", "verdict"), [("even", "sound"), ("rough", "watch"), ("rumbling", "watch"), ("rubbing", "act")]
)
def test_a_bearing_listened_to_says_what_follows(word, verdict):
    (found,) = judge_vibration(VibrationTest(listening={"DE": word})).findings
    assert (found.severity.value, found.text.partition(":")[0]) == (verdict, f"DE {word}")
    assert judge_vibration(VibrationTest()).findings[0].code == "reading-missing"


def test_a_greasing_names_its_grease_and_warns_of_another():
    assert "never mixed with another" in judge_grease(GreaseTest(85, 19, "lithium complex")).findings[0].text
    assert "mixed" not in judge_grease(GreaseTest(85, 19)).findings[0].text
