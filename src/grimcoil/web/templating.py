"""The template environment: escaping everywhere, no silent blanks. One per process."""

from __future__ import annotations

import json
from collections.abc import Hashable
from datetime import datetime
from functools import cache, lru_cache
from pathlib import Path

from jinja2 import Environment, FileSystemLoader, StrictUndefined, pass_context, select_autoescape
from jinja2.runtime import Context
from markupsafe import Markup

from grimcoil.core.glossary import VERDICTS, terms
from grimcoil.core.people import MAY, ROLE_WORDS, Action, Actor, who_may
from grimcoil.core.plan.danger import Stage
from grimcoil.core.version import VERSION
from grimcoil.service.today import Shorted
from grimcoil.web.filters import FILTERS
from grimcoil.web.glossed import glossed
from grimcoil.web.static_files import address
from grimcoil.web.urls import Urls

HERE = Path(__file__).parent
MARK_NAMES = {
    "sound": "Sound",
    "watch": "Watch",
    "act": "Act",
    "unproven": "Unproven",
    "open": "Open",
    "note": "Note",
    "locked": "Made safe",
    "live": "Danger",
}


@lru_cache(maxsize=64)
def mark(verdict: str, css: str = "") -> Markup:
    """The mark of a verdict or a gate, named for those who don't see it."""
    frame = Markup('<svg class="vm {}" role="img" aria-label="{}"><use href="#gc-{}"/></svg>')
    return frame.format(css or verdict, MARK_NAMES[verdict], verdict)


@lru_cache(maxsize=1024)
def _word(csrf: str) -> Markup:
    return Markup('<input type="hidden" name="csrf" value="{}">').format(csrf)


@lru_cache(maxsize=4096)
def fragment(template: str, macro: str, *values: Hashable) -> Markup:
    """What a macro makes of plain values and of nothing else: the same every time, so it is made once."""
    made: Markup = getattr(environment().get_template(template).module, macro)(*values)
    return made


@pass_context
def csrf(context: Context) -> Markup:
    """The hidden field that proves a form is one of this sign-in's."""
    signed = getattr(context["request"].state, "signed", None)
    if signed is None:
        return Markup("")
    return _word(signed.csrf)


@pass_context
def me(context: Context) -> Actor | None:
    """Who is signed in on this page."""
    signed = getattr(context["request"].state, "signed", None)
    return None if signed is None else signed.actor


@pass_context
def clock_now(context: Context) -> datetime:
    """The server's time, which the page's clocks count from."""
    now: datetime = context["request"].app.state.grimcoil.clock()
    return now


@pass_context
def shorted(context: Context) -> Shorted:
    """Windings that stand shorted to frame, on pages that don't list them for themselves."""
    if me(context) is None:
        return ()
    running: Shorted = context["request"].app.state.grimcoil.running()
    return running


DANGER = frozenset({Stage.ON_TEST.value, Stage.LIVE.value, Stage.CHARGED.value})
# 204 changes nothing; refusals that hold what was typed are shown like pages; everything else is an error.
_ANSWERS = [
    {"code": "204", "swap": False},
    {"code": "[23]..", "swap": True},
    {"code": "4(09|22)", "swap": True, "error": False},
    {"code": "[45]..", "swap": False, "error": True},
]
HTMX = {
    "includeIndicatorStyles": False, "allowEval": False, "selfRequestsOnly": True, "historyCacheSize": 0,
    "responseHandling": _ANSWERS,
}  # fmt: skip


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
    made.filters.update(FILTERS, glossed=glossed)
    made.globals.update(
        urls=Urls,
        version=VERSION,
        static=address(),
        vm=mark,
        marks=marks,
        csrf=csrf,
        fragment=fragment,
        me=me,
        may=Action,
        role_words=ROLE_WORDS,
        mays=MAY,
        who_may=who_may,
        clock_now=clock_now,
        shorted=shorted,
        DANGER=DANGER,
        verdict_terms=[terms()[key] for key in VERDICTS],
        htmx_config=json.dumps(HTMX, separators=(",", ":")),
    )
    return made
