"""A list of motors with their plates and places: proposed, read as plates print it, asked where it differs, taken."""

import json
from datetime import date
from decimal import Decimal
from typing import get_args

import pytest

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.plate_fields import FIELDS
from grimcoil.exchange.sheets.grid import read_book
from grimcoil.exchange.sheets.mapping import As, read_map
from grimcoil.exchange.sheets.propose import propose
from grimcoil.exchange.sheets.taken import Register
from grimcoil.exchange.sheets.understand import understand
from grimcoil.exchange.workbooks import REGISTER, as_csv, as_xlsx, register_row
from grimcoil.service.importing import Source, register_of, take_in
from grimcoil.service.motors import motor_view
from grimcoil.service.places import listed
from grimcoil.service.today import every_motor
from grimcoil.service.undoing import undo
from grimcoil.service.verifying import verify

LIST = """Tag;Serial no.;Power [kW];Volts;Amps;rpm;Hz;Class;Year;Leads;Position;Area;Criticality
PL-1;S 12;11;400D/690Y;21/12,1;1 455;50;F;1998;6;Lime kiln fan;Kiln;critical
PL-2;;15 PS;0,38 kV;;1450 r/min;50 c/s;;58;9;;Kiln;
BW-1;;11;460;;;;;;;;;
"""
TODAY = date(2026, 11, 24)


def given(text, **answers):
    made = propose(read_book(text.encode(), "list.csv"), TODAY)
    return made, read_map(json.dumps(made | {"answers": answers}))


def read(store, text, **answers):
    return understand(read_book(text.encode(), "list.csv"), given(text, **answers)[1], TODAY, register_of(store))


def take(store, actor, text, now, **answers):
    return take_in(store, actor, Source("list.csv", text.encode()), read(store, text, **answers), now)


def test_a_list_of_motors_is_proposed_as_one():
    made, _ = given(LIST)
    assert made["ask"] == []
    held = {name: one["as"] for name, one in made["columns"].items()}
    assert held == {
        "Tag": "tag", "Serial no.": "plate.serial", "Power [kW]": "plate.power", "Volts": "plate.rated_voltage_v",
        "Amps": "plate.full_load_current_a", "rpm": "plate.speed_rpm", "Hz": "plate.frequency_hz",
        "Class": "plate.insulation_class", "Year": "plate.built_year", "Leads": "plate.lead_scheme",
        "Position": "position.name", "Area": "position.area", "Criticality": "position.criticality",
    }  # fmt: skip
    assert made["columns"]["Power [kW]"]["unit"] == "kW"


def test_it_is_read_as_plates_print_it_and_what_is_open_is_asked(store, motor):
    done = read(store, LIST)
    told = {(one.tag, one.field): one.value for one in done.plates}
    assert told["PL-1", "plate.rated_voltage_v"] == "400"
    assert told["PL-1", "plate.rated_voltage_2_v"] == "690"
    assert told["PL-1", "plate.full_load_current_2_a"] == "12.1"
    assert (told["PL-1", "plate.power"], told["PL-2", "plate.power"]) == ("11 kW", "15 PS")
    assert (told["PL-1", "plate.speed_rpm"], told["PL-2", "plate.speed_rpm"]) == ("1455", "1450")
    assert told["PL-2", "plate.rated_voltage_v"] == "380"
    assert [(one["cell"], one["choices"][:2]) for one in done.asked if one["tag"] == "PL-2"] == [
        ("J3", ["nine-lead-wye", "nine-lead-delta"])
    ]
    refused = {one["cell"]: one["accepted"] for one in done.refused}
    assert refused["I3"] == "a year of four digits"
    assert refused["L3"] == "the name of its position with it"
    assert done.new_motors == ["PL-1", "PL-2"]
    document = done.document()
    assert document["taken"] == len(document["understood"]) == done.count
    assert json.loads("".join(done.text())) == document


def test_it_goes_in_is_there_then_and_the_chain_holds(store, electrician, clock, motor):
    number = take(store, electrician, LIST, clock())
    view = motor_view(store, "PL-1").motor
    assert (view.rated_voltage_v, view.rated_voltage_2_v, view.power_text) == (Decimal(400), Decimal(690), "11 kW")
    assert (view.position.name, view.position.area, view.position.criticality) == ("Lime kiln fan", "Kiln", "critical")
    again = read(store, LIST)
    assert (again.plates, again.new_motors) == ([], [])
    assert verify(store).breaks == ()
    gone = undo(store, electrician, number, clock())
    assert gone.document() == {"withdrawn": ["PL-1", "PL-2"], "stays": []}
    assert verify(store).breaks == ()


def test_our_own_register_comes_back_in_the_same(store, electrician, clock, motor):
    """As CSV and as a workbook: nothing new, nothing asked; into an empty register what it says of plates."""
    take(store, electrician, LIST, clock())
    rows = [register_row(row) for row in every_motor(store, clock().date())]
    lines, book = "".join(as_csv(REGISTER, rows)), as_xlsx("Register", REGISTER, rows)
    for raw, name in ((lines.encode(), "register.csv"), (book, "register.xlsx")):
        made = propose(read_book(raw, name), TODAY)
        assert made["ask"] == []
        given = read_map(json.dumps(made))
        known = understand(read_book(raw, name), given, TODAY, register_of(store))
        assert (known.plates, known.asked, known.refused, known.new_motors) == ([], [], [], [])
        fresh = understand(read_book(raw, name), given, TODAY, Register())
        told = {(one.tag, one.field): one.value for one in fresh.plates}
        assert (fresh.asked, fresh.refused) == ([], [])
        assert (told["PL-1", "position.area"], told["PL-1", "plate.rated_voltage_v"]) == ("Kiln", "400")
        assert sorted(fresh.new_motors) == ["BW-1", "PL-1", "PL-2"]


def test_another_value_than_the_stored_one_is_asked(store, electrician, clock, motor):
    text = "Tag;Volts;Position\nBW-1;575;Beet wash 2\n"
    done = read(store, text)
    stood = motor_view(store, motor).motor.rated_voltage_v
    assert [(one["found"], one["choices"]) for one in done.asked] == [
        ("575", ["stored", "file"]), ("Beet wash 2", ["stored", "leave out"]),
    ]  # fmt: skip
    take(store, electrician, text, clock(), B2="stored", C2="leave out")
    assert motor_view(store, motor).motor.rated_voltage_v == stood
    number = take(store, electrician, text, clock(), B2="file", C2="stored")
    assert motor_view(store, motor).motor.rated_voltage_v == Decimal(575)
    assert verify(store).breaks == ()
    stays = undo(store, electrician, number, clock()).document()["stays"]
    assert stays == [{"tag": "BW-1", "why": "the spreadsheet filled in its nameplate"}]


def test_one_field_with_two_values_is_asked_and_an_unknown_field_refused(store, motor):
    done = read(store, "Tag;Volts\nPL-1;400\nPL-1;690\n")
    assert {(one["cell"], tuple(one["choices"])) for one in done.asked} == {
        ("B2", ("400", "690", "leave out")), ("B3", ("400", "690", "leave out")),
    }  # fmt: skip
    assert set(FIELDS) == {name for name in get_args(As) if "." in name}
    with pytest.raises(RecordRefusal, match=r"columns\.X\.as"):
        read_map(json.dumps({"format": "grimcoil-map/1", "columns": {"X": {"as": "plate.colour"}}}))


PLACES = "Position;Area;Criticality;Volts\nLime kiln fan;Kiln;critical;\nAsh belt;Boiler;;400\nBeet-wash;Hall 2;;\n"


def test_a_list_of_positions_alone_comes_in_and_is_asked_like_values(store, electrician, clock, motor):
    """One that stands by another spelling is that one; new ones are made; a differing field is asked."""
    columns = {
        "Position": {"as": "position.name"}, "Area": {"as": "position.area"},
        "Criticality": {"as": "position.criticality"}, "Volts": {"as": "position.system_voltage_v"},
    }  # fmt: skip
    proposed = propose(read_book(PLACES.encode(), "places.csv"), TODAY)
    assert [proposed["columns"][name]["as"] for name in ("Position", "Area", "Criticality")] == [
        "position.name", "position.area", "position.criticality",
    ]  # fmt: skip
    given = read_map(json.dumps({"format": "grimcoil-map/1", "columns": columns}))
    done = understand(read_book(PLACES.encode(), "places.csv"), given, TODAY, register_of(store))
    assert (done.new_motors, done.refused) == ([], [])
    assert {one["cell"]: one["choices"] for one in done.asked} == {"B4": ["stored", "file"]}
    number = take_in(store, electrician, Source("places.csv", PLACES.encode()), done, clock())
    rows = {one.name: one for one in listed(store).rows}
    assert (rows["Lime kiln fan"].area, rows["Lime kiln fan"].criticality) == ("Kiln", "critical")
    assert rows["Ash belt"].system_voltage_v == Decimal(400)
    assert "Beet-wash" not in rows
    again = understand(read_book(PLACES.encode(), "places.csv"), given, TODAY, register_of(store))
    assert again.plates == []
    assert verify(store).breaks == ()
    stays = {one["tag"] for one in undo(store, electrician, number, clock()).document()["stays"]}
    assert {"Lime kiln fan", "Ash belt"} <= stays
    assert verify(store).breaks == ()
