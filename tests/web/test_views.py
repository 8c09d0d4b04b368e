"""Views that a person keeps of the list, and motors selected from it."""

import re
from urllib.parse import urlencode

import pytest

from demo.big import FIRST_ID, Size, fill
from grimcoil.core.people import Role
from grimcoil.service.register import link_register
from grimcoil.service.verifying import verify
from grimcoil.store.people_tables import Person
from grimcoil.store.tables import Motor
from tests.support import add_person
from tests.web.test_motors import register


def keep(client, name, address="/motors?verdict=act&sort=due"):
    return client.post("/motors/views", data={"name": name, "address": address})


def shown(client):
    return re.findall(r'href="([^"]+)">([^<]+)</a>', client.get("/motors").text.partition("Your views")[2])


def test_a_view_is_kept_under_its_name_and_taken_away(client):
    assert keep(client, "Worst  of the yard").headers["location"] == "/motors?verdict=act&sort=due"
    kept = {name: link for link, name in shown(client)}
    assert kept["Worst of the yard"] == "/motors?verdict=act&amp;sort=due"
    keep(client, "worst of the yard", "/motors?area=Yard")
    assert [name for _, name in shown(client)][:1] == ["worst of the yard"]
    client.post("/motors/views/drop", data={"name": "worst of the yard"})
    assert "Your views" not in client.get("/motors").text
    assert client.post("/motors/views/drop", data={"name": "worst of the yard"}).status_code == 303


@pytest.mark.parametrize(
    "address",
    ["//elsewhere.example/motors?area=Yard", "javascript:alert(1)?area=Yard", "/motors?area=Yard&next=/people&after=x"],
)
def test_a_view_is_never_anything_but_the_list(client, address):
    assert keep(client, "Yard", address).headers["location"] == "/motors?area=Yard"


def test_no_name_too_long_a_name_and_too_many(client):
    assert keep(client, "  ").status_code == 422
    assert keep(client, "x" * 41).status_code == 422
    assert [keep(client, f"View {n}").status_code for n in range(13)] == [303] * 12 + [422]
    assert keep(client, "view 3").status_code == 303


def test_a_view_is_its_persons_own(client, sign_in, store, clock):
    register(client)
    link_register(store, clock())
    keep(client, "<b>Mine</b>")
    other = sign_in(add_person(store, Role.PLANNER, "B. Other"))
    assert "Mine" not in other.get("/motors").text
    assert "<b>Mine" not in client.get("/motors").text
    assert verify(store).breaks == ()  # no part of the record: the chain says nothing of them
    with store() as session:
        assert [len(person.views or []) for person in session.query(Person).order_by(Person.id)] == [1, 0]


@pytest.fixture
def many(store):
    with store.begin() as session:
        fill(session, Size(60, 1, 0))
    with store() as session:
        return [session.get(Motor, FIRST_ID + n).tag for n in range(60)]


def test_those_selected_go_to_labels_plan_and_files(client, many):
    some = urlencode([("tag", tag) for tag in (many[3], many[40], "NO-1")])
    lines = client.get(f"/register.csv?{some}").text.splitlines()
    assert [line.split(",")[0] for line in lines[1:]] == [many[3], many[40]]
    assert client.get(f"/labels?{some}").text.count('class="label"') == 2
    plan = client.get(f"/outage?{some}").text
    assert "2 tests of the motors that were selected" in plan
    assert f"/outage.pdf?days=60&amp;area=&amp;{some.replace('&', '&amp;')}" in plan
    assert client.get("/register.xlsx?" + some).status_code == 200


def test_one_never_tested_is_planned_now(client):
    register(client)
    assert "1 test of the motors" in client.get("/outage?tag=BW-1").text


def test_what_was_ticked_on_one_page_stays_ticked_on_the_next(client, many):
    first = client.get("/motors?choose=1").text
    on_first = re.findall(r'type="checkbox" name="tag" value="([^"]+)"', first)
    after = re.search(r'name="after"\s+value="([^"]+)"', first).group(1)
    query = urlencode([("choose", "1"), ("after", after), ("tag", on_first[0])])
    second = client.get(f"/motors?{query}").text
    assert f'<input type="hidden" name="tag" value="{on_first[0]}">' in second
    assert "1 on other pages" in second
    assert not set(on_first) & set(re.findall(r'type="checkbox" name="tag" value="([^"]+)"', second))
    back = client.get("/motors?" + urlencode([("choose", "1"), ("tag", on_first[0])])).text
    assert back.count(" checked>") == 1


def test_more_than_two_hundred_are_refused(client):
    assert client.get("/register.csv?" + urlencode([("tag", f"M-{n}") for n in range(201)])).status_code == 422


def test_an_address_of_many_fields_is_no_fault_of_the_server(client):
    many = "/motors?" + "&".join(f"f{n}=1" for n in range(80)) + "&verdict=act"
    assert keep(client, "Many", many).status_code == 303
