"""Rewind or replace on the page: the address is the case, refusals stand at their field, the paper says it plainly."""

import pytest

from grimcoil.service.jobs import Start, start_job
from tests.service.conftest import PLATE

CASE = {
    "power": "50 hp", "rewind_price": "2400", "new_price": "5200", "energy_price_per_kwh": "0,12",
    "hours_per_year": "8000", "years": "10", "discount_rate_percent": "6", "fit_price": "600",
    "efficiency_now_percent": "93",
}  # fmt: skip


@pytest.fixture
def motor(client):
    client.post("/motors/new", data=PLATE)
    return "BW-1"


@pytest.fixture
def job(store, electrician, motor, clock):
    return start_job(store, electrician, Start(motor, "start-token-1"), clock())


@pytest.mark.usefixtures("motor")
def test_the_answer_stands_in_the_address(client):
    page = client.get("/motors/BW-1/money", params=CASE)
    assert page.status_code == 200
    assert "Rewind it." in page.text or "Replace it." in page.text
    assert "Rules of thumb beside it" in page.text
    assert 'value="0,12"' in page.text
    bare = client.get("/motors/BW-1/money")
    assert bare.status_code == 200
    assert "Rules of thumb beside it" not in bare.text


@pytest.mark.parametrize(
    ("name", "text", "said"),
    [
        ("years", "ten", "a whole number"), ("rewind_price", "cheap", "a figure"), ("power", "strong", "power"),
        ("efficiency_new_percent", "140", "efficiency_new_percent"), ("hours_per_year", "9000", "hours_per_year"),
        ("new_price", "", "new_price"), ("built_year", "2040", "built_year"), ("years", "1e400", "whole"),
        ("rewind_price", "1e400", "rewind_price"), ("rewind_price", "nan", "rewind_price"),
    ],
)  # fmt: skip
@pytest.mark.usefixtures("motor")
def test_what_can_not_be_reckoned_is_said_at_its_field(client, name, text, said):
    page = client.get("/motors/BW-1/money", params=CASE | {name: text})
    assert page.status_code == 422
    assert f'aria-describedby="e-{name}"' in page.text
    assert said in page.text
    assert 'value="2400"' in page.text or name == "rewind_price"


def test_kept_opened_again_and_printed(client, job):
    form = CASE | {"token": "money-0001", "job": str(job), "spare": "yes"}
    for _ in range(2):
        assert client.post("/motors/BW-1/money", data=form).status_code == 303
    page = client.get("/motors/BW-1/money").text
    assert page.count("Kept before") == 1
    assert page.count("money?power=50+hp") == 1
    address = page.split('href="/motors/BW-1/money?power')[1].split('"')[0].replace("&amp;", "&")
    again = client.get(f"/motors/BW-1/money?power{address}")
    assert f'name="job" value="{job}"' in again.text
    assert 'value="0.12"' in again.text
    paper = client.get("/motors/BW-1/money/paper", params=CASE)
    assert "In one sentence" in paper.text
    assert "Prices, energy and hours are asked first." in client.get("/motors/BW-1/money/paper").text
    assert client.post("/motors/BW-1/money", data=form | {"job": "99999", "token": "money-0002"}).status_code == 404
