"""Leads and Connection without a browser: their whole state stands in the address."""

import re
from html import unescape
from urllib.parse import parse_qs, urlsplit

import pytest
from sqlalchemy import select

from grimcoil.service.motors import check_registration, register_motor
from grimcoil.service.said_dead import DEAD, DESK, say
from grimcoil.store.tables import LifeEvent, WindingRow
from tests.service.conftest import PLATE
from tests.support import NOW

pytestmark = pytest.mark.usefixtures("at_desk")

SIX = "/leads?n=6&m=ohms~A-D~1.91&m=ohms~B-E~1.90&m=ohms~C-F~1.91&m=ohms~A-B~OL"
SOLVED = SIX + "&m=kick~A-D~B-E~up&m=kick~A-D~C-F~up"


def added(client, address, **more):
    return client.get(f"{address}&add=1&" + "&".join(f"{k}={v}" for k, v in more.items()))


def test_the_first_page_asks_for_a_pair(client):
    page = client.get("/leads").text
    assert "Put the probes on A and B." in page
    assert "5 schemes still fit" in page


def test_a_reading_goes_into_the_address_and_thins_the_schemes_out(client):
    answer = added(client, "/leads?n=6", text="1.91")
    assert answer.status_code == 303
    assert parse_qs(urlsplit(answer.headers["location"]).query)["m"] == ["ohms~A-B~1.91"]
    page = client.get(SIX).text
    assert "1 scheme still fits" in page
    assert "<s>Part winding, six leads</s>: out by" in page


def test_after_ohms_it_asks_for_coupling_and_then_names_the_leads(client):
    assert "Which way does the needle go" in client.get(SIX).text or "Low AC" in client.get(SIX).text
    page = client.get(SOLVED).text
    assert "Markings, up to what no test can tell" in page
    assert "Nothing more to be told by a reading" in page
    assert "starts and finishes, all exchanged at once" in page


@pytest.mark.parametrize(
    ("text", "says"), [("4..2", "4..2"), ("", "type the"), ("1,200", "decimal or a thousands"), ("410M", "mega")]
)
def test_what_cannot_be_read_stays_in_the_field(client, text, says):
    answer = added(client, "/leads?n=6&m=ohms~A-D~1.91", text=text)
    assert answer.status_code == 422
    assert says in answer.text
    assert f'value="{text}"' in answer.text
    assert "ohms~A-D~1.91" in answer.text


def test_two_leads_can_be_picked_and_any_test_asked_for(client):
    page = client.get("/leads?n=6&k=ohms&a=C&b=F").text
    assert "Put the probes on C and F." in page
    page = client.get(f"{SIX}&k=joined&a=A&b=D&c=A&d=B&j=D&i=E").text
    assert "Join D to E." in page
    answer = added(client, SIX, k="joined", a="A", b="D", c="A", d="B", j="D", i="E", text="17.1", v="12")
    assert "joined~A-D~A-B~12~17.1~D-E" in parse_qs(urlsplit(answer.headers["location"]).query)["m"]


@pytest.mark.parametrize(
    "address",
    [
        "/leads?n=6&m=nonsense",
        "/leads?n=6&m=ohms~A-Z~1",
        "/leads?n=99",
        "/leads?n=6&k=guess&a=A&b=B",
        "/leads?n=6&m=excite~A-D~B-E~0~1",
    ],
)
def test_addresses_this_page_never_made_are_refused(client, address):
    assert client.get(address).status_code == 422


def test_contradictions_and_faults_are_told(client):
    page = client.get("/leads?n=3&m=ohms~A-B~4.8&m=ohms~B-C~OL&m=ohms~A-C~OL").text
    assert "with a fault" in page
    twice = client.get(f"{SIX}&m=ohms~A-D~2.60").text
    assert "A–D reads 1.91 and again 2.60: poor contact" in twice
    assert "No scheme brings out 11 leads" in client.get("/leads?n=11").text


def test_what_was_found_is_kept_with_a_motor_once(client, store, electrician):
    tag = register_motor(store, electrician, check_registration(PLATE, NOW))
    tokens = parse_qs(urlsplit(SOLVED).query)["m"]
    form = {"n": "6", "m": tokens, "scheme": "six-lead", "tag": tag}
    for _ in range(2):
        answer = client.post("/leads", data=form)
        assert (answer.status_code, answer.headers["location"]) == (303, f"/motors/{tag}")
    with store() as session:
        assert session.scalars(select(WindingRow.lead_scheme)).all() == ["six-lead"]
        notes = session.scalars(select(LifeEvent.note).where(LifeEvent.kind == "marked")).all()
    assert len(notes) == 1
    assert "A is 1 U1" in notes[0]
    assert client.post("/leads", data={**form, "tag": "none"}).status_code == 404
    assert client.post("/leads", data={**form, "m": tokens[:3]}).status_code == 422


def test_what_is_on_a_lead_is_told_with_it_and_kept_as_its_colour(client, store, electrician):
    named = SOLVED + "&wA=brown&wD=grey%20%3Cb%3E"
    page = unescape(client.get(named).text)
    assert "A (brown)" in page
    assert "D (grey <b>)" in page
    assert "<b>)" not in client.get(named).text
    assert "A (brown) to D" in unescape(client.get(SIX + "&k=ohms&a=A&b=D&wA=brown").text)
    assert "wA=brown" in added(client, SIX + "&wA=brown&k=ohms&a=A&b=C", text="OL").headers["location"]
    tag = register_motor(store, electrician, check_registration(PLATE, NOW))
    tokens = parse_qs(urlsplit(SOLVED).query)["m"]
    form = {"n": "6", "m": tokens, "scheme": "six-lead", "tag": tag, "w": ["A~brown", "D~grey", "Z~none"]}
    assert client.post("/leads", data=form).status_code == 303
    with store() as session:
        own, note = (
            session.scalar(select(WindingRow.own)),
            session.scalar(select(LifeEvent.note).where(LifeEvent.kind == "marked")),
        )
    assert own["lead_colours"] == {"1": "brown", "4": "grey"}
    assert "A (brown) is 1 U1" in note


def test_a_connection_opened_from_a_motor_has_its_plate_and_its_own_names(client):
    client.post("/motors/new", data=PLATE | {"lead_scheme": "nine-lead-wye", "rated_voltage_v": "230/460"})
    page = client.get("/motors/BW-1/data").text
    field = re.search(r'name="(motor\.lead_names\.1)"', page)[1]
    kept = client.post("/motors/BW-1/data", data={field: "T1 <i>", "motor.lead_colours.1": "brown"})
    assert kept.status_code == 303
    assert "/connection?tag=BW-1" in unescape(client.get("/motors/BW-1").text)
    page = client.get("/connection?tag=BW-1").text
    assert 'value="230Y/460Y"' in page
    assert "T1 &lt;i&gt; brown" in page
    assert 'name="tag" value="BW-1"' in page
    other = client.get("/connection?tag=BW-1&scheme=six-lead").text
    assert "T1 &lt;i&gt;" not in other
    assert client.get("/connection?tag=NONE-1").status_code == 404


NINE = "/connection?scheme=nine-lead-wye&rated=230Y%2F460Y&supply=460"


HIGH = "&found-1=L1&found-2=L2&found-3=L3&found-4=a&found-7=a&found-5=b&found-8=b&found-6=c&found-9=c"


@pytest.mark.parametrize("address", ["/connection", NINE, f"{NINE}&state=left", "/connection?scheme=six-lead"])
def test_a_connection_opens_with_nothing_joined_and_no_verdict(client, address):
    page = client.get(address).text
    assert "Nothing joined yet" in page
    assert "Right:" not in page
    assert 'class="vm sound"' not in page
    assert page.count("selected>L") == page.count("selected>joint") == 0


def test_a_connection_is_judged_as_it_is_placed(client):
    page = " ".join(client.get(NINE + HIGH).text.split())
    assert "Right: every coil" in page
    assert "132.8 V" in page


def test_moving_a_lead_changes_the_verdict(client):
    page = client.get(f"{NINE}&found-1=L1&found-2=L2&found-3=L3&found-4=a&found-7=a&found-5=b&found-8=b").text
    assert "left without current" in page
    page = client.get(f"{NINE}&found-1=L1&found-2=L1&found-3=L3&found-4=L2").text
    assert "Coil" in page


def test_as_left_starts_from_as_found_and_both_are_kept(client):
    page = " ".join(
        client.get(f"{NINE}&state=left&left-1=L1&left-2=L2&left-3=L3&found-1=L2&found-2=L1&found-3=L3").text.split()
    )
    assert "Each lead, as left" in page
    assert '<input type="hidden" name="found-1" value="L2">' in page


@pytest.mark.parametrize(
    ("query", "says"),
    [
        ("rated=hello&supply=460", "230Y/460Y"),
        ("rated=230Y%2F460Y&supply=many", "478,471,482"),
        ("rated=230Y%2F460Y&supply=480,200,200", "triangle"),
        ("rated=230Y%2F460Y&supply=460&hz=fast", "frequency"),
        ("rated=&supply=460", "Type the plate"),
    ],
)
def test_what_cannot_be_used_is_told_at_its_field(client, query, says):
    answer = client.get(f"/connection?scheme=nine-lead-wye&{query}&found-1=L1")
    assert answer.status_code == 200
    assert says in answer.text


def test_drawings_go_out_as_files_in_one_colour_and_escape(client):
    for part in ("box", "coils"):
        answer = client.get(f"{NINE.replace('/connection', '/connection.svg')}{HIGH}&part={part}")
        assert answer.headers["content-type"] == "image/svg+xml"
        assert "attachment" in answer.headers["content-disposition"]
        assert answer.text.startswith("<svg xmlns=")
    sly = client.get("/leads?n=6&m=" + "ohms~A-D~%3Cscript%3E")
    assert "<script>" not in sly.text.replace("<script src", "")
    assert client.get("/connection?scheme=%3Cb%3E").status_code == 422


@pytest.mark.parametrize(
    "scheme", ["six-lead", "part-winding", "two-speed-two-winding", "twelve-lead", "two-speed-one-winding-delta"]
)
def test_every_kind_of_box_is_drawn(client, scheme):
    page = client.get(f"/connection?scheme={scheme}&supply=400&rated=400").text
    page = client.get(unescape(re.findall(r'href="([^"]*)">Set: ', page)[0])).text
    assert page.count("Terminal box.") == 1
    assert "Coils drawn to their volts" in page


def test_a_change_of_scheme_is_told_and_starts_a_new_winding_once(sign_in, store, clock, electrician):
    tag = register_motor(store, electrician, check_registration(PLATE, NOW))
    clock.pass_(86400)
    say(store, electrician, DESK, "", clock())
    client = sign_in(electrician)
    page = client.get("/connection?scheme=three-lead-wye&to=six-lead").text
    assert "Open inside: 10-11-12" in page
    assert "Bring out 4 U2, 5 V2, 6 W2" in page
    for _ in range(2):
        answer = client.post("/connection/winding", data={"tag": tag, "to": "six-lead"})
        assert (answer.status_code, answer.headers["location"]) == (303, f"/motors/{tag}")
    with store() as session:
        rows = session.execute(select(WindingRow.lead_scheme, WindingRow.reason).order_by(WindingRow.since)).all()
    assert [row[0] for row in rows][1:] == ["six-lead"]
    assert rows[1][1] == "leads changed"
    assert client.post("/connection/winding", data={"tag": tag, "to": "twelve-lead"}).status_code == 422
    assert client.post("/connection/winding", data={"tag": tag, "to": "none"}).status_code == 422
    assert client.post("/connection/winding", data={"tag": "none", "to": "six-lead"}).status_code == 404
    assert client.get(f"/motors/{tag}").status_code == 200


@pytest.mark.parametrize("address", ["/leads?n=6&tag=BW-1", "/connection?scheme=six-lead"])
def test_before_a_lead_is_touched_it_is_asked_whether_it_is_dead(sign_in, clock, address, store, electrician):
    clock.pass_(86400)  # what was said yesterday doesn't count
    client = sign_in(electrician)
    asked = client.get(address).text
    assert "Locked? Proved dead here?" in asked
    assert 'id="keep-form"' not in asked
    assert 'id="conn"' not in asked
    back = unescape(re.findall(r'name="back" value="([^"]*)"', asked)[-1])
    assert back == address
    nowhere = client.post("/leads/said", data={"answer": DEAD, "where": " ", "back": back})
    assert nowhere.status_code == 422
    assert "the motor or box it was proved dead at" in nowhere.text
    kept = client.post("/leads/said", data={"answer": DEAD, "where": "BW-1", "back": back})
    assert (kept.status_code, kept.headers["location"]) == (303, address)
    assert "locked, proved dead at BW-1" in client.get(address).text
    assert "locked, proved dead here" in client.get("/audit-trail").text
    clock.pass_(2 * 3600 + 1)
    assert "Locked? Proved dead here?" in client.get(address).text
    say(store, electrician, DESK, "", clock())
    assert "At a desk: no lead is touched" in client.get(address).text
    assert client.post("/leads/said", data={"answer": DESK, "back": "//evil"}).headers["location"] == "/leads"
    assert client.post("/leads/said", data={"answer": "perhaps", "back": back}).status_code == 422
