"""A repair by full-page forms: on Today until it is back, then the acceptance job is one key away."""

from html import unescape

from tests.service.conftest import PLATE

ORDER = {"stage": "ordered", "on": "2026-11-02", "what": "rewind", "whom": "Winder <at the lock>", "back": "2026-11-05"}


def test_from_order_to_acceptance(client):
    client.post("/motors/new", data=PLATE)
    page = client.get("/motors/BW-1/repair").text
    assert "Nothing is ordered" in page
    assert "Send for repair" in client.get("/motors/BW-1").text
    wrong = client.post("/motors/BW-1/repair", data=ORDER | {"token": "order-token-0", "ohm": "half"})
    assert wrong.status_code == 422
    assert 'value="half"' in wrong.text
    assert client.post("/motors/BW-1/repair", data=ORDER | {"token": "order-token-1"}).status_code == 303
    today = client.get("/").text
    assert "Ordered, or at the repair shop" in today
    assert "Rewind with Winder &lt;at the lock&gt;" in today
    assert "Overdue, " in today
    for stage, on in (("away", "2026-11-03"), ("back", "2026-11-06")):
        sent = client.post("/motors/BW-1/repair", data={"stage": stage, "on": on, "token": f"{stage}-token-1"})
        assert sent.status_code == 303
    assert "Ordered, or at the repair shop" not in client.get("/").text
    back = unescape(client.get("/motors/BW-1/repair").text)
    assert "occasion=acceptance" in back
    assert "Away" in client.get("/motors/BW-1/history-and-moves").text
