"""The shape of core and drawings: a test beside each module, unit and source at each figure."""

import ast
import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
PACKAGE = ROOT / "src/grimcoil"
CORE = sorted((PACKAGE / "core").rglob("*.py"))
MODULES = [path for path in (*CORE, *sorted((PACKAGE / "draw").rglob("*.py"))) if path.name != "__init__.py"]

FIGURE = re.compile(r"\bfloat\b|\bAmount\b|\bNDArray\b|\bArray\b|\bThree\b")
WORDS = re.compile(
    r"units?\b|\bSI\b|seconds|minutes|hours|months|ohms?\b|volts\b|percent|half-coils|\bbits\b|decades|shares?\b"
    r"|no unit|parts of|times|days?\b|megohms|radians|degrees|kelvin|theta|per year|100 x"
    r"|Ω|°C|%|µA|µF|kWh|\bkW\b|\bHz\b|r/min|\bmm\b|in the case's money|0 to 1",
    re.IGNORECASE,
)
SYMBOL = re.compile(
    r"(?:\b(?:in|and|or|below|above|to)|,|:|\d)\s(?:V|A|W|K|s|g|h)\b|`\d+ V`|\b(?:V|A|W)[,;.:)]|\bV(?: DC)?$"
)
SOURCE = re.compile(
    r"source|standard|common practice|computed|as read|nothing computed|\b(?:IEC|IEEE|NEMA|NEC|NETA|EASA)\b",
    re.IGNORECASE,
)


def test_every_module_of_core_and_drawings_has_its_test():
    missing = []
    for path in MODULES:
        beside = path.relative_to(PACKAGE)
        if not (ROOT / "tests" / beside.parent / f"test_{beside.name}").exists():
            missing.append(str(beside))
    assert missing == []


def _public(body, outer=""):
    for node in body:
        if isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
            yield from _public(node.body, f"{outer}{node.name}: {ast.get_docstring(node)} ")
        elif isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
            yield outer, node


def _takes_or_returns_a_figure(node):
    annotations = [a.annotation for a in (*node.args.args, *node.args.kwonlyargs)] + [node.returns]
    return any(a is not None and FIGURE.search(ast.unparse(a)) for a in annotations)


@pytest.mark.parametrize("path", CORE, ids=lambda path: str(path.relative_to(PACKAGE)))
def test_every_public_function_with_a_figure_says_unit_and_source(path):
    tree = ast.parse(path.read_text(encoding="utf-8"))
    whole = ast.get_docstring(tree) or ""
    for outer, node in _public(tree.body):
        if _takes_or_returns_a_figure(node):
            said = ast.get_docstring(node) or ""
            name = f"{path.name}:{node.lineno} {node.name}"
            assert WORDS.search(said) or SYMBOL.search(said), f"{name}: no unit"
            assert SOURCE.search(said) or SOURCE.search(outer) or SOURCE.search(whole), f"{name}: no source"
