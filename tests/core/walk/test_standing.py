"""Cleared means tested: struck through only by an entry that would have shown it bad."""

from tests.core.walk.given import DEAD, LOOK, OUTGOING, POLES, TRYING, WALKS, answer, pairs


def suspects(symptom, *done, **position):
    told = answer(symptom, list(done), **position)
    return {(one["suspect"], one["line"]): one for one in told["suspects"]}, told


def test_an_open_motor_says_nothing_of_the_coil_or_of_the_shaft():
    """OL on two pairs has one good reason; what it doesn't reach isn't struck through for that."""
    known, told = suspects("hums", LOOK, TRYING, POLES, DEAD, OUTGOING)
    assert known["winding-open", "L2"]["state"] == "cleared"  # L2 and L3 are joined through: 1.1
    assert any("overload-T2~overload-T3 1.1" in by for by in known["winding-open", "L2"]["by"])
    for name in ("bearing-seized", "load-jammed", "control-fuse-blown"):
        by = known[name, None]["by"]
        assert not any("OL" in words for words in by), (name, by)
    shaft = next(one for one in told["elements"] if one["element"] == "shaft")
    assert shaft["state"] != "cleared"


def test_three_equal_low_ohms_clear_the_winding_of_an_open_and_of_nothing_else():
    known, _ = suspects(
        "hums", LOOK, DEAD, {"test": "ohms-overload-out", "readings": pairs("overload-T", "1", "1", "1")}
    )
    assert {known["winding-open", line]["state"] for line in ("L1", "L2", "L3")} == {"cleared"}
    assert known["winding-turn-short", "L1"]["state"] == "open"  # never by equal ohms at 0.1 Ω
    assert known["bearing-seized", None]["state"] == "open"


def test_no_current_with_the_contactor_out_clears_nothing_behind_it():
    out = {"supply": "on", "contactor": "out", "at": "start"}
    none = {"quantity": "amps", "state": out, "readings": {"L1": "0", "L2": "0", "L3": "0"}}
    known, _ = suspects("hums", LOOK, none)
    for name in ("winding-open", "cable-open", "overload-pole-open", "contactor-pole-open"):
        assert {one["state"] for (suspect, _), one in known.items() if suspect == name} == {"open"}, name


def test_a_look_at_the_brake_clears_the_brake_and_names_itself():
    brake = {"brake": "two-lines", "brake_lines": "L1-L2"}
    known, _ = suspects("hums", LOOK, {"test": "brake-look", "answer": "lifts"}, **brake)
    assert known["brake-not-lifting", None]["state"] == "cleared"
    assert known["brake-not-lifting", None]["by"] == ["brake-look: lifts"]


def test_the_verdict_names_first_what_decided_it():
    told = answer("hums", WALKS["hums, 416 V across one pole"][1])
    assert "line-L3~load-L3 416" in told["verdict"]["by"][0]
