"""One version: of the rules, of the package, of the newest heading in the changes."""

import re
import tomllib
from pathlib import Path

from grimcoil.core.version import VERSION

ROOT = Path(__file__).parents[2]


def test_it_stands_alike_everywhere():
    package = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    newest = re.search(r"^## (\S+)", (ROOT / "CHANGELOG.md").read_text(), re.MULTILINE)
    assert newest is not None
    assert newest[1] == VERSION
    assert package.get("version", VERSION) == VERSION
