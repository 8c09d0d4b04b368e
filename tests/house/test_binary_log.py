"""A server that keeps a binary log, an ordinary user: said before the first table is made, and what to set."""

import subprocess

import pytest
from sqlalchemy import inspect, text

from grimcoil.core.errors import RecordRefusal
from grimcoil.service.health import bring_up_to_date, check_tables
from grimcoil.store.engine import make_engine
from tests.house.test_killed import ROOT, Database

LOGGED = """
. bin/_common.sh; . bin/_database.sh
eval "own_$(declare -f write_settings)"
write_settings() { own_write_settings "$@"; printf '%s\\n' log-bin server-id=1 >>"$1/my.cnf"; }
start_database "$1" throwaway; echo "$database_url"
"""


class Logged(Database):
    """One with a binary log."""

    def start(self):
        words = ["bash", "-c", LOGGED, "bin/x", str(self.folder)]
        done = subprocess.run(words, cwd=ROOT, capture_output=True, text=True, check=True, timeout=120)
        self.url = done.stdout.split()[-1]

    def as_root(self, statement):
        words = ["mariadb", "--no-defaults", f"--socket={self.folder}/db.sock", "-e", statement]
        subprocess.run(words, check=True, timeout=60)


@pytest.fixture
def server(tmp_path):
    made = Logged(tmp_path / "db")
    made.start()
    yield made
    made.kill(15)


def test_what_must_be_set_is_named_before_anything_is_made(server):
    engine = make_engine(server.url)
    with pytest.raises(RecordRefusal, match="log_bin_trust_function_creators=1"):
        bring_up_to_date(engine)
    assert set(inspect(engine).get_table_names()) <= {"alembic_version"}
    server.as_root("SET GLOBAL log_bin_trust_function_creators = 1")
    bring_up_to_date(engine)
    check_tables(engine)
    with engine.begin() as connection:
        connection.execute(text("CREATE TABLE odd (n INT) ENGINE=InnoDB"))
        connection.execute(text("CREATE TABLE old (n INT PRIMARY KEY) ENGINE=Aria"))
    with pytest.raises(RecordRefusal, match="odd: no primary key, old: engine Aria"):
        check_tables(engine)
    engine.dispose()


def test_a_user_who_may_do_everything_needs_nothing_set(server):
    server.as_root("GRANT SUPER ON *.* TO 'grimcoil'@'127.0.0.1'")
    engine = make_engine(server.url)
    bring_up_to_date(engine)
    engine.dispose()
