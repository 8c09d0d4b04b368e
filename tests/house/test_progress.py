"""How far a long work is: on a terminal alone, not oftener than it can be read, and the end always."""

import io
import sys

import pytest

from grimcoil.cli.progress import Counting


class Terminal(io.StringIO):
    def isatty(self):
        return True


@pytest.fixture
def ticks():
    at = [0.0]
    return at, lambda: at[0]


def test_a_line_is_written_over_twice_a_second_and_ended_with_the_last(monkeypatch, ticks):
    at, clock = ticks
    monkeypatch.setattr(sys, "stderr", Terminal())
    told = Counting("tests", clock)
    for number in range(1, 2001):
        at[0] += 0.001
        told(number, 2000)
    lines = sys.stderr.getvalue().split("\r")[1:]
    assert 3 <= len(lines) <= 6
    assert lines[-1] == "grimcoil: 2 000 of 2 000 tests\n"
    assert not any(line.endswith("\n") for line in lines[:-1])


def test_nobody_is_told_where_nobody_looks(monkeypatch):
    monkeypatch.setattr(sys, "stderr", io.StringIO())
    Counting("tests")(5, 5)
    assert sys.stderr.getvalue() == ""


def test_of_how_many_may_not_be_known(monkeypatch, ticks):
    monkeypatch.setattr(sys, "stderr", Terminal())
    Counting("links", ticks[1])(12345)
    assert sys.stderr.getvalue() == "\rgrimcoil: 12 345 links"
