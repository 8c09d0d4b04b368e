"""The Job pages over HTTP: full-page forms (no script) and fragments, bad input, query counts."""

import itertools
import re
from html import unescape

import pytest

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.service.instruments import instruments
from tests.service.conftest import PLATE
from tests.support import MADE_SAFE, PROVED_DEAD, SECRET, TO_HOLD, TO_RESISTANCE, WHOLE_JOB, walk

HTMX = {"hx-request": "true"}


@pytest.fixture
def job(client):
    client.post("/motors/new", data=PLATE)
    start = {"tag": "BW-1", "token": "start-token-1"}
    return client.post("/jobs/start", data=start).headers["location"]


@pytest.fixture
def put(client, job):
    tokens = iter(range(10_000))

    def post(place, text, **headers):
        data = {"place": place, "text": text, "token": f"web-token-{next(tokens)}"}
        return client.post(f"{job}/keep", data=data, headers=headers)

    return post


def put_all(put, clock, script):
    walk(put, clock, [(place, text, 5) for place, text in script])


def test_a_tester_with_lamps_has_a_key_for_each_band(client, clock, store):
    client.post("/motors/new", data=PLATE)
    client.post("/plant/instruments", data={"name": "T9", "function": "insulation", "lamps": "0.5 10 100"})
    start = {"tag": "BW-1", "token": "start-token-1", "insulation_range_id": instruments(store)[0].ranges[0].id}
    job = client.post("/jobs/start", data=start).headers["location"]

    tokens = itertools.count()

    def post(place, text, quick=""):
        form = {"place": place, "text": text, "quick": quick, "token": f"lamps-{next(tokens):05}"}
        return client.post(f"{job}/keep", data=form)

    walk(post, clock, [(place, text, 5) for place, text in TO_HOLD])
    clock.pass_(60)
    page = client.get(f"{job}?at=insulation.1-2-3.60").text
    keys = re.findall(r'name="quick"\s+value="([^"]*)"', page)
    assert [unescape(key) for key in keys] == ["<0.5 MΩ", "0.5–10 MΩ", "10–100 MΩ", ">100 MΩ"]
    assert post("insulation.1-2-3.60", "", "10–100 MΩ").status_code == 303
    assert "10–100 MΩ" in client.get(f"{job}?at=insulation.1-2-3.60").text


def test_the_whole_job_by_full_page_forms(client, job, put, clock):
    for place, text, seconds in WHOLE_JOB:
        clock.pass_(seconds)
        answer = put(place, text)
        assert (answer.status_code, answer.headers["location"]) == (303, job), place
    decision = client.get(job).text
    assert "Return to service" in decision
    assert client.post(f"{job}/decide", data={"action": "return"}).status_code == 303
    assert client.post(f"{job}/sign", data={"secret": SECRET}).status_code == 303
    assert "Signed by A. Tester" in client.get(job).text
    sheet = client.get(f"{job}/report").text
    for shown in (
        "0.5344",
        "520M",
        f"Field, general, version {FIELD_GENERAL.version}",
        "Signed",
        "IEEE 43",
        "× 0.7622",
    ):
        assert shown in sheet
    assert "396" in client.get("/motors").text
    assert "/report" in client.get("/jobs").text


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("abc", "no winding resistance that can be read"),
        ("4..2", "one decimal sign"),
        ("OLL", "no winding resistance that can be read"),
        ("-3", "never below zero"),
        ("410M", "makes no sense here"),
        ("1,200", "decimal or a thousands sign"),
        ("", "type the winding resistance"),
        ("9" * 500, "at most 40 characters"),
    ],
)
@pytest.mark.parametrize("headers", [{}, HTMX])
def test_unreadable_readings_are_told_at_the_field_with_what_was_typed(put, clock, text, says, headers):
    put_all(put, clock, TO_RESISTANCE)
    answer = put("winding_resistance.1-2", text, **headers)
    body = unescape(answer.text)
    assert answer.status_code == 422
    assert says in body
    assert 'aria-invalid="true"' in body
    assert f'value="{text}"' in body
    assert ("<!doctype html>" in body) == (not headers)


def test_choices_are_keys_that_keep(client, job, put, clock):
    put_all(put, clock, TO_RESISTANCE)
    body = put("winding_resistance.1-2", "410M").text
    assert 'name="quick" value="410 mΩ"' in body
    data = {"place": "winding_resistance.1-2", "text": "410M", "quick": "410 mΩ", "token": "quick-token"}
    assert client.post(f"{job}/keep", data=data).status_code == 303
    assert "410 mΩ" in client.get(f"{job}?at=winding_resistance").text


def test_out_of_order_is_told_and_nothing_kept(put):
    answer = put("line_current.L1", "17.2")
    assert answer.status_code == 409
    assert "ower is not restored" in answer.text
    assert "17.2" in answer.text  # nothing typed is lost
    assert 'id="entry"' not in answer.text


@pytest.mark.parametrize(
    "place", ["winding_resistance.1-2", "insulation.1-2-3.on", "restore.restored", "line_current.L1", "separate.apart"]
)
def test_a_step_out_of_turn_shows_its_stop_instead_of_box_and_probes(client, job, put, clock, place):
    """Forward, by its address, by its step: what was found, what opens it, one key to go there."""
    put_all(put, clock, MADE_SAFE)
    for at in (place, place.rpartition(".")[0]):
        page = client.get(job, params={"at": at}).text
        assert 'id="entry"' not in page
        assert 'id="keep-form"' not in page
        assert "Go to Prove dead" in page


def test_a_live_motor_has_no_dead_box(client, job, put, clock):
    walk(put, clock, WHOLE_JOB[: [place for place, _, _ in WHOLE_JOB].index("supply_voltage.L1-L2")])
    assert "Power is on" in client.get(job).text
    page = client.get(job, params={"at": "insulation.1-2-3"}).text
    assert 'id="keep-form"' not in page


def test_a_failed_motor_goes_to_its_decision_with_nothing_live_asked(client, job, put, clock):
    put_all(put, clock, (*TO_RESISTANCE, ("winding_resistance.1-2", "0.5344"), ("winding_resistance.2-3", "0.7")))
    put("winding_resistance.3-1", "0.9")
    page = client.get(job).text
    assert "Don&#39;t reconnect: decide" in page
    for at in ("restore", "supply_voltage", "line_current.L2"):
        stopped = client.get(job, params={"at": at}).text
        assert 'id="keep-form"' not in stopped
    live = put("line_current.L1", "40")
    assert live.status_code == 409
    assert put("not-reconnected", "confirmed").status_code == 303
    closing = client.get(job).text
    assert "Decision" in closing
    assert "supply volts" not in closing


def test_a_stop_offers_a_reason_field_a_gate_does_not(put, clock):
    put_all(put, clock, MADE_SAFE)
    gate = put("winding_resistance.1-2", "0.5")
    assert gate.status_code == 409
    assert "cannot be overridden" in gate.text
    put_all(put, clock, PROVED_DEAD)
    order = put("temperature.winding", "20")
    assert "Override with a reason" in order.text


def test_posting_the_same_form_twice_is_harmless(client, job):
    data = {"place": "isolate.tag", "text": "BW-1", "token": "same-token"}
    assert [client.post(f"{job}/keep", data=data).status_code for _ in range(2)] == [303, 303]
    assert client.get(f"{job}/report").text.count(">BW-1\n") == 1


def test_the_fragment_for_htmx_is_part_of_the_page(put):
    answer = put("isolate.tag", "BW-1", **HTMX)
    assert answer.status_code == 200
    assert answer.text.lstrip().startswith("<div")
    assert 'id="live"' in answer.text


def test_echo_says_back_and_stores_nothing(client, job, put, clock):
    put_all(put, clock, TO_RESISTANCE)
    page = client.get(f"{job}/_echo", params={"place": "winding_resistance.1-2", "text": "0.534"})
    assert "0.534 ohms" in page.text
    assert "sc-needle" not in page.text  # nothing is known to draw a scale from
    put("winding_resistance.1-2", "0.534")
    second = client.get(f"{job}/_echo", params={"place": "winding_resistance.2-3", "text": "0.535"})
    assert "sc-needle" in second.text
    assert "no winding resistance" in client.get(f"{job}/_echo?place=winding_resistance.1-2&text=abc").text
    assert client.get(f"{job}/_echo?place=winding_resistance.1-2").status_code == 200
    assert "1 of 3" in client.get(job).text


def test_take_back_and_skip_by_form(client, job, put, clock):
    put("isolate.tag", "BW-1")
    assert client.post(f"{job}/take-back", data={"seq": "1"}).status_code == 303
    assert "0 of 3" in client.get(job).text
    walk(put, clock, [(place, text, 5) for place, text in (*MADE_SAFE, *PROVED_DEAD)])
    skip = {"key": "as_found", "reason": "Open jobs", "token": "skip-token-1"}
    assert client.post(f"{job}/overrule", data=skip).status_code == 303
    for hard in ("prove_dead", "isolate"):
        refused = client.post(f"{job}/overrule", data=skip | {"key": hard, "token": f"skip-token-{len(hard)}"})
        assert refused.status_code == 409
    assert "4 Separate" in client.get(job).text


@pytest.mark.parametrize("extra", [{"surprise": "1"}, {"token": "x"}])
def test_fields_no_form_has_are_refused(client, job, extra):
    data = {"place": "isolate.tag", "text": "BW-1", "token": "some-token"} | extra
    assert client.post(f"{job}/keep", data=data).status_code == 422


def test_the_discharge_follows_to_every_page(client, job, put, clock):
    walk(put, clock, WHOLE_JOB[: [p for p, _, _ in WHOLE_JOB].index("discharge.1-2-3.volts")])
    for page in ("/", "/motors", "/jobs", "/motors/BW-1"):
        assert "shorted to frame" in client.get(page).text
    early = put("discharge.1-2-3.volts", "0")
    assert early.status_code == 409
    assert "left shorted to frame" in early.text


def test_start_says_that_a_banned_motor_is_read_by_the_ohmmeter(client):
    client.post("/motors/new", data=PLATE | {"tag": "BW-7", "insulation_test_forbidden": "yes"})
    client.post("/motors/new", data=PLATE | {"tag": "BW-8"})
    assert "The maker forbids insulation tests on this motor" in client.get("/jobs/start?tag=BW-7").text
    assert "The maker forbids insulation tests on this motor" not in client.get("/jobs/start?tag=BW-8").text


def test_a_bad_start_keeps_what_was_typed(client):
    answer = client.post("/jobs/start", data={"tag": "NO-9", "token": "start-token-7"})
    assert answer.status_code == 404
    assert 'value="NO-9"' in answer.text


@pytest.mark.parametrize(
    "path",
    [
        "/",
        "/motors",
        "/jobs",
        "/motors/BW-1",
        "JOB",
        "JOB/report",
        "/me",
        "/audit-trail",
        "/leads",
        "/connection",
        "/jobs/start",
    ],
)
@pytest.mark.usefixtures("at_desk")
def test_no_page_asks_the_database_often(client, job, path, engine_queries):
    engine_queries.clear()
    assert client.get(path.replace("JOB", job)).status_code == 200
    assert 0 < len(engine_queries) <= 6


def test_decision_and_signature_ask_the_database_at_most_six_times(client, job, put, clock, engine_queries):
    walk(put, clock, WHOLE_JOB)
    for verb, data in (("", {}), ("decide", {"action": "return"}), ("sign", {"secret": SECRET})):
        if verb:
            assert client.post(f"{job}/{verb}", data=data).status_code == 303
        engine_queries.clear()
        assert "Field, general" in client.get(job).text
        assert len(engine_queries) <= 6


def test_keeping_a_reading_asks_the_database_at_most_six_times(put, clock, engine_queries):
    put_all(put, clock, TO_RESISTANCE)
    engine_queries.clear()
    assert put("winding_resistance.1-2", "0.534", **HTMX).status_code == 200
    assert len(engine_queries) <= 6
