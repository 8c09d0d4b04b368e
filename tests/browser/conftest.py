"""The application in a thread on loopback, driven in the system's Chromium. Its clock is the test's."""

import os
import threading
from collections.abc import Iterator

import pytest
import uvicorn
from pydantic import SecretStr

from demo.scenario import seed
from demo.works import MOTORS
from grimcoil.settings import Settings
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.schema import upgrade
from grimcoil.web.app import create_app
from tests.conftest import fresh_database
from tests.support import NOW, Clock

SHOWN = ("BW-114", "LK-301", "DD-207", "PP-118", "PP-122", "PP-140", "BW-121", "ST-019", "LK-331", "SH-440")
ARGUMENTS = "--disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync"


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, object]:
    arguments = ARGUMENTS.split() + (["--no-sandbox"] if os.geteuid() == 0 else [])
    return {"executable_path": "/usr/bin/chromium", "args": arguments}


@pytest.fixture(scope="session")
def browser_context_args(base_url: str) -> dict[str, object]:
    return {"base_url": base_url, "reduced_motion": "reduce", "viewport": {"width": 1280, "height": 800}}


@pytest.fixture(scope="session")
def works_clock() -> Clock:
    return Clock()


@pytest.fixture(scope="session")
def base_url(works_clock: Clock) -> Iterator[str]:
    address = fresh_database("grimcoil_works")
    engine = make_engine(address)
    upgrade(engine)
    with make_store(engine).begin() as session:
        seed(session, NOW, [made for made in MOTORS if made.tag in SHOWN])
    engine.dispose()
    app = create_app(Settings(database_url=SecretStr(address)), works_clock)
    server = uvicorn.Server(
        uvicorn.Config(app, host="127.0.0.1", port=0, log_level="warning", timeout_graceful_shutdown=1)
    )
    listening = threading.Event()
    server.config.load()
    startup = server.startup

    async def tell(sockets=None) -> None:
        await startup(sockets)
        listening.set()

    server.startup = tell  # type: ignore[method-assign]
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    assert listening.wait(20)
    port = server.servers[0].sockets[0].getsockname()[1]
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join(10)
    app.state.grimcoil.engine.dispose()


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
