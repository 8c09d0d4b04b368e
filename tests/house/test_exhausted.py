"""A full disk, no connection to be had: an answer in words, what was typed is held, nothing is acknowledged that isn't
kept.
"""

import subprocess
from contextlib import ExitStack

import pytest
from fastapi.testclient import TestClient
from pydantic import SecretStr
from sqlalchemy import create_engine, text
from sqlalchemy.exc import OperationalError

from grimcoil.settings import Settings
from grimcoil.web.app import create_app
from tests.house.test_killed import ROOT, Database, job_with_cookie, stored

FORM = {"place": "isolate.tag", "text": "BW-1", "token": "keep-token-1"}
FILLER = text("CREATE TABLE filler (n INT AUTO_INCREMENT PRIMARY KEY, x VARCHAR(7000) CHARACTER SET ascii)")
FILL = text("INSERT INTO filler (x) VALUES (REPEAT('x', :size))")

SMALL = """
. bin/_common.sh; . bin/_database.sh
eval "own_$(declare -f write_settings)"
write_settings() { own_write_settings "$@"; printf '%s\\n' "$limits" >>"$1/my.cnf"; }
limits=$'innodb-data-file-path=ibdata1:12M:autoextend:max:48M\\ninnodb-file-per-table=0\\ninnodb-undo-tablespaces=2'
start_database "$1" throwaway; echo "$database_url"
"""


class Small(Database):
    """One whose file of tables can't grow past a bound, as on a disk that fills.

    What it takes back by has files of its own: a server that can't write there may end itself, and rows that go over
    a page may too; neither is what is asked here.
    """

    def start(self):
        words = ["bash", "-c", SMALL, "bin/x", str(self.folder)]
        done = subprocess.run(words, cwd=ROOT, capture_output=True, text=True, check=True)
        self.url = done.stdout.split()[-1]


@pytest.fixture
def database(tmp_path):
    made = Small(tmp_path / "db")
    made.start()
    yield made
    made.kill(15)


@pytest.fixture
def job(database):
    return job_with_cookie(database.url)


@pytest.fixture
def client(database, job):
    _, token, word = job
    app = create_app(Settings(database_url=SecretStr(database.url), allowed_hosts=["testserver"]))
    # Not started: what it does beside requests would take a connection that is counted here.
    return TestClient(app, cookies={"gc_session": token}, headers={"x-csrf-token": word})


def fill(database):
    """Until nothing more goes in, ever smaller."""
    engine = create_engine(database.url)
    with engine.begin() as connection:
        connection.execute(FILLER)
    with engine.connect() as connection:
        for size, rows in ((7000, 400), (7000, 1), (500, 1), (10, 1)):
            for _ in range(4000):
                try:
                    connection.execute(FILL, [{"size": size}] * rows)
                    connection.commit()
                except OperationalError as error:
                    connection.rollback()
                    assert error.orig.args[0] == 1114, (database.folder / "mariadb.log").read_text()[-4000:]
                    break
            else:
                raise AssertionError(f"{size}: never full")
    engine.dispose()


def test_a_full_disk_is_said_and_nothing_is_acknowledged(database, job, client):
    number = job[0]
    fill(database)
    kept = []
    for n in range(400):  # an entry is small: what room is left takes some
        answer = client.post(f"/jobs/{number}/keep", data=FORM | {"token": f"keep-token-{n}"}, follow_redirects=False)
        if answer.status_code != 303:
            break
        kept.append(f"keep-token-{n}")
        assert client.post(f"/jobs/{number}/take-back", data={"seq": n + 1}).status_code in (200, 303, 503)
    assert answer.status_code == 503
    assert "is full" in answer.text
    assert 'value="BW-1"' in answer.text
    assert set(stored(database.url, number)) == set(kept)
    assert client.get(f"/jobs/{number}").status_code == 200


def test_no_connection_left_is_said_and_the_form_is_held(database, job, client):
    number = job[0]
    engine = client.app.state.grimcoil.engine
    with ExitStack() as all_lent:
        for _ in range(engine.pool.size() + engine.pool._max_overflow):
            all_lent.enter_context(engine.connect())
        answer = client.post(f"/jobs/{number}/keep", data=FORM)
        assert client.get("/healthz").status_code == 200
    assert answer.status_code == 503
    assert "Too many" in answer.text
    assert 'value="BW-1"' in answer.text
    assert stored(database.url, number) == {}
    assert client.post(f"/jobs/{number}/keep", data=FORM, follow_redirects=False).status_code == 303


def test_a_server_that_takes_no_more_is_said(database, job, client):
    number = job[0]
    client.app.state.grimcoil.engine.dispose()
    root = ["mariadb", "--no-defaults", f"--socket={database.folder}/db.sock", "-e", "SET GLOBAL max_connections=10"]
    subprocess.run(root, check=True)
    engine = create_engine(database.url, pool_size=20)
    with ExitStack() as all_taken:
        for _ in range(10):
            all_taken.enter_context(engine.connect())
        answer = client.post(f"/jobs/{number}/keep", data=FORM)
    engine.dispose()
    assert answer.status_code == 503
    assert "Too many" in answer.text
    assert 'value="BW-1"' in answer.text
