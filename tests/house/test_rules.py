"""Rules of the house that no linter knows."""

import ast
import re
from pathlib import Path
from typing import get_args

import pytest

from grimcoil.cli.__main__ import parser
from grimcoil.core.assessment import KINDS
from grimcoil.core.catalogue import CATALOGUE
from grimcoil.core.decision.rules import RULES
from grimcoil.core.people import MAY, Action, Role
from grimcoil.core.vocabulary import QUANTITIES
from grimcoil.exchange.histories import COLUMNS
from grimcoil.exchange.jobs import TestModel
from grimcoil.settings import Settings

ROOT = Path(__file__).parents[2]
CORE = sorted((ROOT / "src/grimcoil/core").rglob("*.py"))
TEMPLATES = sorted((ROOT / "src/grimcoil/web/templates").rglob("*.html"))
FORBIDDEN_CALLS = {"open", "print", "input", "exec", "eval"}
FORBIDDEN_ATTRIBUTES = {"now", "utcnow", "today"}


@pytest.mark.parametrize("path", CORE, ids=lambda p: p.stem)
def test_core_neither_reads_the_clock_nor_speaks_to_the_world(path):
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Call):
            name = node.func.id if isinstance(node.func, ast.Name) else ""
            assert name not in FORBIDDEN_CALLS, f"{path.name}:{node.lineno}"
            attribute = node.func.attr if isinstance(node.func, ast.Attribute) else ""
            assert attribute not in FORBIDDEN_ATTRIBUTES, f"{path.name}:{node.lineno}"


@pytest.mark.parametrize("path", TEMPLATES, ids=lambda p: p.stem)
def test_templates_hold_no_inline_style_or_script(path):
    text = path.read_text(encoding="utf-8")
    assert not re.search(r"\sstyle=|\son[a-z]+=|hx-on|javascript:", text)
    assert not re.search(r"<script(?![^>]*src=)", text)
    assert not re.search(r"""(?:src|href|action)=["']https?:""", text)


def test_only_drawings_and_marks_are_printed_unescaped():
    unescaped = {
        match for path in TEMPLATES for match in re.findall(r"\{\{\s*([^}]*?)\|safe", path.read_text(encoding="utf-8"))
    }
    drawn = {
        "marks",
        "scale",
        "spark",
        "v.drawing",
        "s.hookup",
        "s.wide",
        "s.small",
        "s.side",
        "curve",
        "shown.wide",
        "shown.small",
        "f.rule",
        "code",
        "wide",
        "small",
        "life[0]",
        "life[1]",
        "v.wide",
        "v.small",
        "v.box",
        "v.coils",
        "v.dial",
    }
    assert unescaped <= drawn | {"v.drawing.wide", "v.drawing.phone_box", "v.drawing.phone_circuit"}


ROWS_OF_MAY = {
    "read everything": {Action.READ, Action.READ_DUE, Action.READ_TRAIL, Action.KEEP_TOKENS},
    "start a job": {Action.START_JOB, Action.MARK_LEADS},
    "open tasks": {Action.KEEP_TASKS},
    "close a task": {Action.CLOSE_ANY_TASK},
    "save a reading": {Action.KEEP_ENTRY, Action.TAKE_BACK},
    "undo what someone": {Action.TAKE_BACK_OTHERS},
    "register a motor": {Action.REGISTER_MOTOR, Action.CHANGE_WINDING, Action.KEEP_INSTRUMENTS, Action.KEEP_WORKS},
    "skip a step": {Action.OVERRULE, Action.DECIDE, Action.SIGN, Action.AMEND},
    "manage people": {Action.MANAGE_PEOPLE, Action.ENROL_DEVICE, Action.TAKE_ARCHIVE},
}


def test_the_page_about_people_says_who_may_do_what():
    page = (ROOT / "docs/people.md").read_text(encoding="utf-8")
    roles = [cell.strip() for cell in re.search(r"^\| \|(.+)\|$", page, re.MULTILINE)[1].split("|")]
    assert roles == [role.value for role in Role]
    assert set().union(*ROWS_OF_MAY.values()) == set(Action)
    for start, actions in ROWS_OF_MAY.items():
        cells = re.search(rf"^\| {start}[^|]*\|(.+)\|$", page, re.MULTILINE)[1].split("|")
        for role, cell in zip(Role, cells, strict=True):
            assert {action in MAY[role] for action in actions} == {cell.strip() == "yes"}, (start, role)


def test_every_command_is_told_of():
    page = " ".join(p.read_text(encoding="utf-8") for p in [ROOT / "README.md", *sorted((ROOT / "docs").rglob("*.md"))])
    for command in parser()._subparsers._group_actions[0].choices:
        assert f"grimcoil {command}" in page or f"bin/{command}" in page, command


def test_every_setting_has_its_line():
    page = (ROOT / "docs/settings.md").read_text(encoding="utf-8")
    for name in Settings.model_fields:
        assert f"`GRIMCOIL_{name.upper()}`" in page


def test_the_vocabulary_has_each_quantity_once_and_documented():
    names = [quantity.name for quantity in QUANTITIES]
    assert len(names) == len(set(names))
    page = (ROOT / "docs/vocabulary.md").read_text(encoding="utf-8")
    for name in names:
        assert f"`{name}`" in page


def test_built_files_come_with_their_licences():
    licences = {p.name for p in (ROOT / "src/grimcoil/web/static/licences").iterdir()}
    assert {"bootstrap.txt", "htmx.txt", "atkinson-hyperlegible-next.txt", "atkinson-hyperlegible-mono.txt"} <= licences


def test_locked_packages_have_hashes():
    for lock in ("requirements.lock", "requirements-dev.lock"):
        text = (ROOT / lock).read_text(encoding="utf-8")
        pins = re.findall(r"^[a-z0-9-]+(?:\[[a-z,]+\])?==", text, re.MULTILINE)
        assert len(pins) > 10
        assert text.count("--hash=sha256:") >= len(pins)


def test_pictures_in_the_readme_exist():
    readme = (ROOT / "README.md").read_text(encoding="utf-8")
    pictures = re.findall(r"\((docs/screenshots/[^)]+\.png)\)", readme)
    assert pictures
    for picture in pictures:
        assert (ROOT / picture).is_file()


SOURCES = sorted((ROOT / "src/grimcoil/core").rglob("*.py"))
SEVERITIES = {"sound", "watch", "act", "unproven", "Finding", "severity"}


def _codes_written(only=SEVERITIES):
    """First arguments of the calls that make a finding, over the whole core."""
    for path in SOURCES:
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in only and node.args:
                yield from (n.value for n in ast.walk(node.args[0]) if isinstance(n, ast.Constant))


def _strings_written():
    return {
        node.value
        for path in SOURCES
        if path.stem not in ("catalogue", "rules")
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
        if isinstance(node, ast.Constant) and isinstance(node.value, str)
    }


def test_every_code_of_a_finding_is_in_the_catalogue_and_none_lies_idle():
    told = {code for code in _codes_written() if isinstance(code, str) and re.fullmatch(r"[a-z]+(-[a-z0-9]+)+", code)}
    assert told <= set(CATALOGUE)
    written = _strings_written() | {f"{kind}-{end}" for kind in ("rtd", "accessory") for end in ("sound", "off")}
    assert set(CATALOGUE) - written == set()


def test_whatever_asks_for_action_has_a_rule_that_names_one():
    ruled = set().union(*(rule.any_of | rule.needs for rule in RULES))
    # comes beside the pattern of the open pair; of a drying, which is no job and decides nothing
    alone = {"kilohm-open", "drying-too-hot"}
    assert {code for code in _codes_written({"act"}) if isinstance(code, str)} - ruled - alone == set()


def test_every_kind_key_and_command_of_the_open_formats_has_its_line():
    page = (ROOT / "docs/formats/README.md").read_text(encoding="utf-8")
    for kind in KINDS:
        assert f"| `{kind.name}` |" in page
    for command in (
        "assess",
        "plan",
        "walk",
        "money",
        "drying",
        "trend",
        "identify",
        "connect",
        "criteria",
        "schemas",
        "map",
    ):
        assert command in page
    for model in get_args(get_args(TestModel)[0]):
        for key in set(model.model_fields) - {"kind"}:
            assert f"`{model.model_fields[key].alias or key}`" in page, f"{model.__name__}: {key}"
    for column in COLUMNS:
        assert column in page


@pytest.mark.parametrize("path", TEMPLATES, ids=lambda p: f"{p.parent.name}-{p.stem}")
def test_template_lines_can_be_read(path):
    long = [i for i, line in enumerate(path.read_text(encoding="utf-8").splitlines(), 1) if len(line) > 140]
    assert long == []
