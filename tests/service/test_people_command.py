"""`grimcoil people` and `migrate`: the first administrator, and everyone after."""

import io

import pytest
from sqlalchemy import text

from grimcoil.cli.__main__ import main
from grimcoil.service.signing_in import sign_in
from grimcoil.store.engine import make_engine, make_store
from tests.conftest import fresh_database

GOOD = "lapwing over cut reed"


@pytest.fixture
def command(store, database_url, monkeypatch, capsys):
    monkeypatch.setenv("GRIMCOIL_DATABASE_URL", database_url)

    def run(*words, password=GOOD):
        monkeypatch.setattr("sys.stdin", io.StringIO(f"{password}\n"))
        status = main(["people", *words])
        said = capsys.readouterr()
        return status, said.out, said.err

    return run


def test_the_first_administrator_and_the_rest(command, store, clock):
    assert command("list")[1].startswith("nobody yet")
    add = ("add", "keeper", "--name", "K. Eeper", "--role", "administrator")
    assert command(*add) == (0, "keeper may sign in as administrator\n", "")
    assert sign_in(store, "keeper", GOOD, "here", clock()).actor.name == "K. Eeper"
    assert command("add", "rush", "--name", "L. Rush", "--role", "electrician")[0] == 0
    assert command("add", "reed", "--name", "S. Reed", "--role", "apprentice", "--under", "rush")[0] == 0
    assert "S. Reed, under rush" in command("list")[1]
    assert command("role", "reed", "reader") == (0, "reed is reader\n", "")
    assert command("password", "reed", password="heron on the far bank")[0] == 0
    assert sign_in(store, "reed", "heron on the far bank", "here", clock()).token
    assert command("remove", "reed")[0] == 0
    assert "S. Reed, removed" in command("list")[1]


@pytest.mark.parametrize(
    ("words", "password", "told"),
    [
        (("add", "rush", "--name", "L. Rush", "--role", "electrician"), "short", "10 to 200 characters"),
        (("add", "rush", "--name", "L. Rush", "--role", "electrician"), "", "10 to 200 characters"),
        (("add", "R!", "--name", "L. Rush", "--role", "electrician"), GOOD, "sign-in name"),
        (("add", "rush", "--name", "L. Rush", "--role", "apprentice"), GOOD, "of an electrician"),
        (("remove", "nobody"), GOOD, "someone on the list"),
        (("password", "nobody"), GOOD, "someone on the list"),
    ],
)
def test_refusals_are_one_line_and_never_the_password(command, words, password, told):
    status, out, err = command(*words, password=password)
    assert (status, out, err.count("\n")) == (2, "", 1)
    assert told in err
    assert not password or password not in err


def test_migrate_brings_an_empty_database_up_to_date(monkeypatch, capsys):
    address = fresh_database("grimcoil_migrated")
    monkeypatch.setenv("GRIMCOIL_DATABASE_URL", address)
    for _ in range(2):
        assert main(["migrate"]) == 0
        assert capsys.readouterr().out == "the tables are current\n"
    engine = make_engine(address)
    with make_store(engine)() as session:
        assert session.execute(text("SELECT COUNT(*) FROM person")).scalar_one() == 0
    engine.dispose()
