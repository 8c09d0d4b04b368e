"""Every tag that a motor may have has its page, its papers and its forms."""

import re

import pytest

from tests.service.conftest import PLATE

GETS = (
    "", "/data", "/history-and-moves", "/trend", "/money", "/other-tests", "/nameplate", "/history",
    "/history.pdf", "/readings.csv",
    "/dry", "/repair",
)  # fmt: skip


@pytest.mark.parametrize("tag", ["A/../B", "1/etc", "LÜ 7", "P_1.2/A"])
def test_a_motor_with_this_tag_is_registered_found_and_opened(client, tag):
    made = client.post("/motors/new", data=PLATE | {"tag": tag})
    assert made.status_code == 303
    there = made.headers["location"]
    assert there.count("/") == 2
    for part in GETS:
        page = client.get(there + part)
        assert page.status_code == 200, part
    assert tag in client.get(there).text
    assert f'href="{there}"' in client.get("/motors").text
    moved = client.post(
        f"{there}/history-and-moves/move", data={"to": "Store", "on": "2026-01-02", "token": "move-token-1"}
    )
    assert moved.status_code in (303, 422)
    key = re.search(r'href="([^"]*/start[^"]*|[^"]*jobs/new[^"]*)"', client.get(there).text)
    assert key is None or client.get(key[1].replace("&amp;", "&")).status_code == 200


@pytest.mark.parametrize("tag", ["new", "Views", "a~b", "../x", "BW\u200b-1"])
def test_a_tag_without_a_page_is_refused_at_its_field(client, tag):
    refused = client.post("/motors/new", data=PLATE | {"tag": tag})
    assert refused.status_code == 422
    assert "\u200b" not in refused.text.replace('value="BW\u200b-1"', "")
