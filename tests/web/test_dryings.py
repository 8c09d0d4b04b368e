"""The page of a drying: its newest lines, all of them where they are asked for, and what others kept meanwhile."""

import re

import pytest

from demo.drying import seed_drying
from demo.scenario import seed
from demo.works import MOTORS
from grimcoil.service.signing_in import actor_of
from grimcoil.store.people import by_login


@pytest.fixture
def electrician(store, clock):
    with store.begin() as session:
        seed(session, clock(), [made for made in MOTORS if made.tag == "LK-331"])
    with store() as session:
        return actor_of(by_login(session, "rohrdommel"))


@pytest.fixture
def drying(store, clock, electrician):
    return f"/dryings/{seed_drying(store, clock())}"


def lines(page):
    return page.partition('class="drying-lines"')[2].partition("</ol>")[0].count("<li")


def test_the_newest_lines_stand_there_and_the_earlier_ones_behind_a_link(client, drying):
    page = client.get(drying).text
    earlier = int(re.search(r">(\d+) earlier ones<", page).group(1))
    assert lines(page) == 60
    whole = client.get(f"{drying}?every=1").text
    assert lines(whole) == 60 + earlier
    assert "earlier ones" not in whole
    assert f'start="{60 + earlier}"' in page


def test_what_is_kept_shows_at_once_though_the_rest_was_worked_out_before(client, clock, drying):
    before = client.get(drying).text
    assert client.get(drying).text.count("3.1") == before.count("3.1")
    clock.pass_(60)
    kept = {"act": "heat", "amps": "3.25", "volts": "5.1", "token": "drying-late-1"}
    assert client.post(f"{drying}/keep", data=kept).status_code == 303
    after = client.get(drying).text
    assert after.count("3.25") > before.count("3.25")
    number = re.search(r'name="id"\s+value="(\d+)"', after).group(1)
    assert client.post(f"{drying}/take-back", data={"id": number}).status_code == 303
    assert 'class="gone"' in client.get(drying).text


def test_a_cycle_that_is_over_counts_up_and_heat_off_is_its_first_and_largest_key(client, clock, drying):
    kept = {"act": "heat", "amps": "3.25", "volts": "5.1", "token": "drying-over-1"}
    assert client.post(f"{drying}/keep", data=kept).status_code == 303
    running = client.get(drying).text
    assert 'data-over="d-heat-off"' in running
    assert "data-rings" not in running
    clock.pass_(31 * 60)
    over = client.get(drying).text
    assert "This cycle is over by" in over
    assert "data-rings" in over
    keys = re.findall(r'class="(key[^"]*)"[^>]*>([^<]+)</button>', over.partition('class="drying-forms"')[2])
    assert keys[0] == ("key keep", "Heat off, run down")
    assert [words for css, words in keys if "keep" in css.split()] == ["Heat off, run down"]
