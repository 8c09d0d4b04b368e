"""`grimcoil sentences`: every sentence a person can be shown, with sample figures, where it stands."""

from __future__ import annotations

import argparse
import ast
import re
import tomllib
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import grimcoil

ROOT = Path(grimcoil.__file__).parent
SPOKEN = ("core", "draw", "service", "web/views", "web/routers", "exchange")
LEAST_WORDS = 3
_TEXT = re.compile(r">([^<>{}%]*[a-z][^<>{}%]*)<")
# What a figure is shown as where the code has only its name: enough to read the sentence by.
SAMPLES = (
    ("percent", "2.4"), ("mohm", "610"), ("ohm", "0.412"), ("temperature", "22"), ("celsius", "22"), ("volts", "500"),
    ("voltage", "460"), ("rpm", "1765"), ("amps", "21.3"), ("lead", "1"), ("pair", "1-2"), ("line", "L2"),
    ("phase", "2"), ("unit", " %"), ("tag", "DD-207"), ("who", "I. Rohrdommel"), ("what", "to frame"),
    ("year", "2026"), ("hours", "2"), ("seconds", "60"), ("count", "3"), ("number", "12"),
)  # fmt: skip


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("sentences")
    command.add_argument("--under", default="", metavar="FOLDER", help="only those of one folder, such as core/walk")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """File by file, each with its line."""
    shown = ""
    for path, line, sentence in sentences():
        if not path.startswith(arguments.under):
            continue
        if path != shown:
            print(f"\n{path}")
            shown = path
        print(f"{line:5}  {sentence}")
    return 0


def sentences() -> Iterator[tuple[str, int, str]]:
    """File, line and sentence: of the code, of its data, of the pages."""
    for folder in SPOKEN:
        for path in sorted((ROOT / folder).rglob("*.py")):
            yield from ((_short(path), line, text) for line, text in _of_code(path))
    for path in sorted((ROOT / "core").rglob("*.toml")):
        yield from ((_short(path), 0, text) for text in _of_data(tomllib.loads(path.read_text(encoding="utf-8"))))
    for path in sorted((ROOT / "web" / "templates").rglob("*.html")):
        for number, text in enumerate(path.read_text(encoding="utf-8").splitlines(), start=1):
            yield from ((_short(path), number, one) for one in map(_plain, _TEXT.findall(text)) if _is_sentence(one))


def _short(path: Path) -> str:
    return path.relative_to(ROOT).as_posix()


def _of_code(path: Path) -> Iterator[tuple[int, str]]:
    """The strings of a file that read as sentences; docstrings are for who works on it."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    told = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    told |= {id(part) for node in ast.walk(tree) if isinstance(node, ast.JoinedStr) for part in node.values}
    spoken = [node for node in ast.walk(tree) if isinstance(node, ast.Constant | ast.JoinedStr)]
    for node in sorted(spoken, key=lambda one: (one.lineno, one.col_offset)):
        if id(node) in told:
            continue
        if (text := _said(node)) and _is_sentence(text):
            yield node.lineno, _plain(text)


def _said(node: ast.expr) -> str:
    if isinstance(node, ast.JoinedStr):
        return "".join(map(_said, node.values))
    if isinstance(node, ast.FormattedValue):
        figure = "12.3" if node.format_spec is not None else ""
        return _sample(ast.unparse(node.value), figure)
    return node.value if isinstance(node, ast.Constant) and isinstance(node.value, str) else ""


def _sample(name: str, figure: str = "") -> str:
    """What stands for a figure, by the words in its name.

    >>> _sample("judged.lowest_percent"), _sample("finding")
    ('2.4', '⟨finding⟩')
    """
    found = next((sample for word, sample in SAMPLES if word in name.casefold()), None)
    return found or figure or f"⟨{name.rpartition('(')[2].strip(')').rpartition('.')[2]}⟩"


def _of_data(read: Any) -> Iterator[str]:
    if isinstance(read, str):
        if _is_sentence(read):
            yield _plain(read)
    elif isinstance(read, dict | list):
        for one in read.values() if isinstance(read, dict) else read:
            yield from _of_data(one)


def _plain(text: str) -> str:
    return " ".join(text.split())


def _is_sentence(text: str) -> bool:
    """Several words of a language, not an expression, a query or an address."""
    if any(sign in text for sign in ("SELECT ", " FROM ", "://", "</", "\\d", "==")):
        return False
    return len(re.findall(r"[A-Za-z]{2,}", text)) >= LEAST_WORDS and " " in text.strip()
