"""The template environment: escaping everywhere, no silent blanks. One per process."""

from __future__ import annotations

from functools import cache, lru_cache
from pathlib import Path

from jinja2 import Environment, FileSystemLoader, StrictUndefined, select_autoescape
from markupsafe import Markup

from grimcoil.core.version import VERSION
from grimcoil.web.filters import FILTERS
from grimcoil.web.urls import Urls

HERE = Path(__file__).parent
MARK_NAMES = {
    "sound": "Sound",
    "watch": "Watch",
    "act": "Act",
    "unproven": "Unproven",
    "locked": "Made safe",
    "live": "Danger",
}


@lru_cache(maxsize=64)
def mark(verdict: str, css: str = "") -> Markup:
    """The mark of a verdict or a gate, named for those who don't see it."""
    frame = Markup('<svg class="vm {}" role="img" aria-label="{}"><use href="#gc-{}"/></svg>')
    return frame.format(css or verdict, MARK_NAMES[verdict], verdict)


@cache
def environment() -> Environment:
    """Jinja, set up once."""
    made = Environment(
        loader=FileSystemLoader(HERE / "templates"),
        autoescape=select_autoescape(default=True, default_for_string=True),
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
        auto_reload=False,
    )
    marks = (HERE / "static" / "marks.svg").read_text("utf-8")
    made.filters.update(FILTERS)
    made.globals.update(urls=Urls, version=VERSION, vm=mark, marks=marks)
    return made
