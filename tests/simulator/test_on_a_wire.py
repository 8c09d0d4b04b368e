"""A simulated instrument by the client of others (PyVISA), and our own reading of what hurt instruments answer."""

import pytest
import pyvisa

from grimcoil.core.errors import Refusal
from grimcoil.exchange.scpi import NoReading, address_of, take
from grimcoil.simulator.meter import Meter


@pytest.fixture
def visa():
    manager = pyvisa.ResourceManager("@py")
    yield lambda port: manager.open_resource(
        f"TCPIP::127.0.0.1::{port}::SOCKET", read_termination="\n", write_termination="\n", timeout=2000
    )
    manager.close()


def test_the_client_of_others_reads_identity_figure_and_errors(visa, served):
    meter, port = served("low-ohm")
    instrument = visa(port)
    assert instrument.query("*IDN?") == meter.identity
    assert float(instrument.query("MEAS:FRES?")) == pytest.approx(0.5007, abs=2e-4)
    instrument.write("GARBAGE \x01\x02")
    assert instrument.query("SYST:ERR?") == '-113,"Undefined header"'
    instrument.close()


def sent_for_ever(instrument):
    for _ in range(64):
        instrument.write_raw(b"A" * 16384)
    instrument.query("*IDN?")


def test_a_line_without_end_is_cut_and_its_connection_closed(visa, served):
    _, port = served("clamp")
    instrument = visa(port)
    with pytest.raises((pyvisa.errors.VisaIOError, ConnectionError)):
        sent_for_ever(instrument)
    instrument.close()
    after = visa(port)
    assert after.query("SYST:ERR?") == '-113,"Undefined header"'
    after.close()


def test_the_ninth_connection_waits_until_one_goes(visa, served):
    _, port = served("thermometer")
    eight = [visa(port) for _ in range(8)]
    assert [one.query("*OPC?") for one in eight] == ["1"] * 8
    ninth = visa(port)
    ninth.timeout = 200
    with pytest.raises(pyvisa.errors.VisaIOError):
        ninth.query("*OPC?")
    eight[0].close()
    ninth.timeout = 2000
    assert ninth.read() == "1"
    for one in (*eight[1:], ninth):
        one.close()


def test_fifty_connections_one_after_the_other_are_all_answered(served):
    _, port = served("multimeter")
    lines = ("SIM:PROBES L1,L2",)
    assert {take(f"127.0.0.1:{port}", "volt-ac", placed=lines).text for _ in range(50)} == {"480.5"}


@pytest.mark.parametrize(
    ("kind", "function", "placed", "text"),
    [
        ("low-ohm", "low-ohm", (), "0.5007 Ω"),
        ("multimeter", "ohm", (), "0.7 Ω"),
        ("insulation", "insulation", ("SIM:PROBES 1+2+3,frame,60",), "1.00 GΩ"),
        ("clamp", "amp-clamp", ("SIM:PROBES L1,-",), "15.80 A"),
        ("thermometer", "temperature", (), "22.0 °C"),
        ("low-ohm", "low-ohm", ("SIM:MOTOR six-lead,480,20,0.5",), "OL Ω"),
    ],
)
def test_each_instrument_gives_text_and_unit_as_its_display_has_them(served, kind, function, placed, text):
    meter, port = served(kind)
    taken = take(f"127.0.0.1:{port}", function, placed=placed)
    assert (f"{taken.text} {taken.unit}", taken.identity, taken.simulated) == (text, meter.identity, True)


def says(act):
    """An instrument that answers `*IDN?`, then does as told."""

    def work(wire):
        wire.recv(4096)
        wire.sendall(b"Someone,Meter 1,7,1.0\n")
        wire.recv(4096)
        act(wire)

    return work


def late(wire):
    wire.recv(4096)  # the other side gives up and closes: only then there is more


@pytest.mark.parametrize(
    ("act", "found"),
    [
        (lambda wire: wire.sendall(b"4.86"), "closed in mid-answer"),
        (lambda wire: None, "closed in mid-answer"),
        (late, "no whole answer within 0.3 s"),
        (lambda wire: wire.sendall(b"x" * 5000), "more was sent than one answer"),
        (lambda wire: wire.sendall(b"1.0E+00\n2.0E+00\n"), "more was sent than one answer"),
        (lambda wire: wire.sendall(b"nan\n"), "no figure"),
        (lambda wire: wire.sendall(b"9.91E37\n"), "no figure"),
        (lambda wire: wire.sendall(b"\xff\xfe\n"), "no figure"),
        (lambda wire: wire.sendall(b"1E999999999\n"), "no figure"),
        (lambda wire: wire.sendall(b"1e-30\n"), "that an instrument can show"),
        (lambda wire: wire.sendall(b"4.8E+02 V\n"), "set to measure something else"),
    ],
)
def test_what_is_no_whole_figure_is_said_and_nothing_taken(hurt, act, found):
    with pytest.raises(NoReading, match=found):
        take(hurt(says(act)), "low-ohm", limit_s=0.3)


def test_the_unit_is_taken_as_told(hurt):
    taken = take(hurt(says(lambda wire: wire.sendall(b"4.862E-01 OHM\n"))), "low-ohm")
    assert (taken.text, taken.unit, taken.simulated) == ("0.4862", "Ω", False)


def test_another_instrument_at_the_address_is_not_read(served):
    _, port = served("clamp")
    with pytest.raises(NoReading, match="the instrument of the register, Someone,M1,7,1"):
        take(f"127.0.0.1:{port}", "amp-clamp", known="Someone,M1,7,1")


def test_nothing_of_a_stand_in_is_told_to_an_instrument(hurt):
    got = []

    def act(wire):
        got.append(wire.recv(4096))
        wire.sendall(b"Someone,Meter 1,7,1.0\n")
        got.append(wire.recv(4096))
        wire.sendall(b"1.0\n")

    take(hurt(act), "low-ohm", placed=("SIM:PROBES 1,2",))
    assert got == [b"*IDN?\n", b"MEAS:FRES?\n"]


def test_a_cable_that_is_out_is_said_at_once():
    with pytest.raises(NoReading, match="is its cable in"):
        take("127.0.0.1:1", "ohm")


@pytest.mark.parametrize(
    "text", ["", "127.0.0.1", "127.0.0.1:0", "127.0.0.1:99999", "a b:1", "10.0.0.7:5025", "localhost:5025"]
)
def test_no_address_but_a_host_that_is_allowed_is_asked(text):
    with pytest.raises(Refusal, match="address"):
        address_of(text)
    assert address_of("TCPIP::10.0.0.7::5025::SOCKET", ("10.0.0.7",)) == ("10.0.0.7", 5025)


def test_an_instruments_own_text_is_what_the_display_shows():
    assert Meter("thermometer").answer("MEAS:TEMP?") == "2.20E+01"
