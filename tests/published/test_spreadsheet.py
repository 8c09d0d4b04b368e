"""Against the outside: another office program (LibreOffice Calc, headless) opens the workbooks written here and shows
the same values, computes none of their texts, and what it writes itself is understood like the file it came from.
"""

import csv
import io
import json
import os
import signal
import subprocess
from contextlib import suppress
from datetime import UTC, date, datetime
from decimal import Decimal
from pathlib import Path

import pytest

from grimcoil.exchange.sheets.grid import read_book
from grimcoil.exchange.sheets.mapping import read_map
from grimcoil.exchange.sheets.propose import propose
from grimcoil.exchange.sheets.taken import Register
from grimcoil.exchange.sheets.understand import understand
from grimcoil.exchange.workbooks import as_xlsx

TODAY = date(2026, 11, 26)
HEADER = ("motor", "on", "at", "low", "volts", "none", "words")
ROWS = [
    ("=1+1", date(2026, 11, 24), datetime(2026, 11, 24, 8, 12, tzinfo=UTC), 0.1, Decimal("460.5"), None, "Ω, \"µ\" ä"),
    ("+49 PP-122", date(1999, 12, 31), datetime(2026, 1, 1, tzinfo=UTC), 1.2345678901234e-05, Decimal(690), None, "@x"),
    ("-", date(2024, 2, 29), datetime(2026, 6, 30, 23, 59, 59, tzinfo=UTC), 2e9, Decimal("0.05"), None, "two\nlines"),
]  # fmt: skip


TRIES, PATIENCE_S = 3, 80


def ended(command, environment):
    """Whether the program came to its end. It may wait for itself in a new profile, and what it starts holds its
    output: all of it is ended then, and nothing of it is read.
    """
    silent = {"stdin": subprocess.DEVNULL, "stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL}
    running = subprocess.Popen(command, env=environment, start_new_session=True, **silent)
    try:
        return running.wait(PATIENCE_S) == 0
    except subprocess.TimeoutExpired:
        return False
    finally:
        with suppress(ProcessLookupError):
            os.killpg(running.pid, signal.SIGKILL)
        running.wait()


@pytest.fixture(scope="module")
def office(tmp_path_factory):
    """A file turned into another kind by the office program, with a profile of its own."""
    home = tmp_path_factory.mktemp("office")

    def turned(raw, name, into, *more):
        (home / name).write_bytes(raw)
        for profile in range(TRIES):
            command = [
                "soffice", f"-env:UserInstallation=file://{home}/profile-{profile}", "--headless", *more,
                "--convert-to", into, "--outdir", str(home / "out"), str(home / name),
            ]  # fmt: skip
            if ended(command, {"HOME": str(home), "PATH": "/usr/bin:/bin"}):
                break
        made = (home / "out" / name).with_suffix("." + into.partition(":")[0])
        return made.read_bytes()

    return turned


# comma, double quote, UTF-8, from the first row, no column formats, then: the values as they are, not as they're shown
AS_THEY_ARE = "csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,false"


def test_a_workbook_of_ours_says_the_same_there(office):
    raw = office(as_xlsx("Readings", HEADER, ROWS), "ours.xlsx", AS_THEY_ARE)
    header, *lines = csv.reader(io.StringIO(raw.decode("utf-8")))
    assert tuple(header) == HEADER
    for line, (tag, _, _, low, volts, _, words) in zip(lines, ROWS, strict=True):
        assert line[0] == tag  # a text that begins with = is no formula there either
        assert float(line[3]) == pytest.approx(low, rel=1e-14)
        assert float(line[4]) == float(volts)
        assert (line[5], line[6]) == ("", words)


def test_its_days_are_days_there(office):
    shown = office(
        as_xlsx("Readings", HEADER, ROWS), "days.xlsx", "csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,true"
    )
    _, *lines = csv.reader(io.StringIO(shown.decode("utf-8")))
    assert [line[1] for line in lines] == ["2026-11-24", "1999-12-31", "2024-02-29"]
    moments = [datetime.strptime(line[2], "%Y-%m-%d %H:%M:%S").replace(tzinfo=UTC) for line in lines]
    assert moments == [row[2] for row in ROWS]


def test_what_it_writes_is_understood_like_the_file_it_came_from(office):
    kept = (Path(__file__).parents[2] / "docs" / "formats" / "example-sheet.csv").read_bytes()
    theirs = office(kept, "sheet.csv", "xlsx", "--infilter=CSV:59,34,76,1")

    def understood(raw, name):
        book = read_book(raw, name)
        made = understand(book, read_map(json.dumps(propose(book, TODAY))), TODAY, Register())
        return [(one.tag, one.on, one.one.as_, one.one.pair, one.read and one.read.amount) for one in made.taken]

    assert len(understood(kept, "sheet.csv")) > 6
    assert understood(theirs, "sheet.xlsx") == understood(kept, "sheet.csv")
