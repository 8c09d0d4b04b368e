"""The application in a thread on loopback, driven in the system's Chromium. Its clock is the test's."""

import os
from collections.abc import Iterator

import pytest
from playwright.sync_api import expect
from pydantic import SecretStr

from demo.drying import seed_drying
from demo.rounds import seed_rounds
from demo.scenario import seed
from demo.works import MOTORS
from grimcoil.core.people import Actor, Role
from grimcoil.service.importing import Source
from grimcoil.service.said_dead import DESK, say
from grimcoil.service.sheet_drafts import begin
from grimcoil.settings import Settings
from grimcoil.store.engine import Store, make_engine, make_store
from grimcoil.store.schema import upgrade
from grimcoil.web.app import create_app
from tests.conftest import fresh_database
from tests.served import browser_state, served
from tests.support import NOW, Clock, add_person

SHOWN = ("BW-114", "LK-301", "DD-207", "PP-118", "PP-122", "PP-140", "BW-121", "ST-019", "LK-331", "SH-440")
# A disk that stalls for some seconds is the machine's matter; what never comes is red all the same.
expect.set_options(timeout=20_000)

ARGUMENTS = "--disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync"


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, object]:
    arguments = ARGUMENTS.split() + (["--no-sandbox"] if os.geteuid() == 0 else [])
    return {"executable_path": "/usr/bin/chromium-headless-shell", "args": arguments}


@pytest.fixture(scope="session")
def works_clock() -> Clock:
    return Clock()


@pytest.fixture(scope="session")
def works() -> Iterator[str]:
    """A database with some of the demo's motors; its address."""
    address = fresh_database("grimcoil_works")
    engine = make_engine(address)
    upgrade(engine)
    with make_store(engine).begin() as session:
        seed(session, NOW, [made for made in MOTORS if made.tag in SHOWN])
    seed_drying(make_store(engine), NOW)
    seed_rounds(make_store(engine), NOW, ("DD-207", "LK-301"))
    engine.dispose()
    return address


@pytest.fixture(scope="session")
def works_store(works: str) -> Iterator[Store]:
    engine = make_engine(works)
    yield make_store(engine)
    engine.dispose()


@pytest.fixture(scope="session")
def tester(works_store: Store) -> Actor:
    return add_person(works_store, Role.ELECTRICIAN)


@pytest.fixture(scope="session")
def base_url(works: str, works_clock: Clock) -> Iterator[str]:
    with served(create_app(Settings(database_url=SecretStr(works)), works_clock)) as address:
        yield address


@pytest.fixture(scope="session")
def browser_context_args(base_url: str, works_store: Store, tester: Actor, works_clock: Clock) -> dict[str, object]:
    return {
        "base_url": base_url,
        "reduced_motion": "reduce",
        "viewport": {"width": 1280, "height": 800},
        "storage_state": browser_state(works_store, tester, works_clock),
    }


@pytest.fixture(scope="session")
def waiting_sheet(works_store: Store, tester: Actor, works_clock: Clock) -> str:
    """The page of a sheet on its way in, with a cell of every kind."""
    raw = b"Motor,Date,IR,1-2,Value\nBW-114,2024-03-14,>550,0.84,3\nBW-114,2025-03-14,0,x,4\nZZ-9,3/4/24,480,0.84,5\n"
    number = begin(works_store, tester, Source("kept so far.csv", raw), "waiting-sheet", works_clock())
    return f"/import/{number}"


@pytest.fixture(autouse=True)
def at_desk(works_store: Store, tester: Actor, works_clock: Clock) -> None:
    """Leads and Connection ask once a day whether a lead is touched."""
    say(works_store, tester, DESK, "", works_clock())


@pytest.fixture(autouse=True)
def quiet(page) -> Iterator[list[str]]:
    """No page may complain on its console, and none may ask another address than its own."""
    said: list[str] = []
    page.on("console", lambda message: said.append(message.text) if message.type in ("error", "warning") else None)
    page.on("pageerror", lambda error: said.append(str(error)))
    strangers: list[str] = []
    page.on("request", lambda request: strangers.append(request.url) if "//127.0.0.1:" not in request.url else None)
    yield said
    assert strangers == []
    assert [line for line in said if "status of 4" not in line] == []
