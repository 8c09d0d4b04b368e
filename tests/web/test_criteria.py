"""A copy of criteria by full-page forms: tried, kept, offered; what can't be used keeps what was typed."""

from html import unescape

from grimcoil.core.people import Role
from grimcoil.exchange.criteria import read_criteria
from tests.support import add_person

COPY = {
    "name": "sugar-works", "title": "Sugar <works>", "limit": "voltage_unbalance_sound", "value": "2",
    "source": "Works engineer", "standing": "set by the site",
}  # fmt: skip


def test_tried_kept_and_offered(client):
    page = client.get("/plant/criteria/field-general").text
    assert "Ships with the rules" in page
    tried = client.post("/plant/criteria/field-general", data=COPY)
    assert tried.status_code == 200
    assert "Voltage unbalance, sound to: 2 % in place of 1 %" in unescape(tried.text)
    assert "nothing to try it on" in " ".join(tried.text.split())
    assert client.get("/plant/criteria/sugar-works").status_code == 404
    kept = client.post("/plant/criteria/field-general", data=COPY | {"version": "1", "keep": "yes"})
    assert (kept.status_code, kept.headers["location"]) == (303, "/plant/criteria/sugar-works")
    own = client.get("/plant/criteria/sugar-works").text
    assert "Sugar &lt;works&gt;" in own
    assert "Works engineer" in own
    file = client.get("/plant/criteria/sugar-works/file")
    assert read_criteria(file.content).voltage_unbalance_sound.value == 2
    assert "sugar-works.json" in file.headers["content-disposition"]
    for address in ("/plant", "/jobs/start"):
        assert 'value="sugar-works"' in client.get(address).text
    site = {"works_name": "Fen", "zone": "UTC", "criteria": "sugar-works"}
    assert client.post("/plant/site", data=site).status_code == 303


def test_a_wrong_figure_is_told_at_its_field_with_what_was_typed(client, sign_in, store, electrician):
    answer = client.post("/plant/criteria/field-general", data=COPY | {"value": "9", "keep": "yes"})
    assert answer.status_code == 422
    assert "no more than voltage_unbalance_act" in unescape(answer.text)
    assert 'value="Works engineer"' in answer.text
    reader = sign_in(add_person(store, Role.READER, "R. Eader", electrician))
    assert "See what changes" not in reader.get("/plant/criteria/field-general").text
    assert reader.post("/plant/criteria/field-general", data=COPY | {"keep": "yes"}).status_code == 403
