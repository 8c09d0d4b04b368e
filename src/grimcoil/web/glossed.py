"""Help where a term stands: the first time in a view a term is a key that opens its meaning beside it."""

from __future__ import annotations

from jinja2 import pass_context
from jinja2.runtime import Context
from markupsafe import Markup, escape

from grimcoil.core.glossary import Term, found, terms
from grimcoil.web.urls import Urls

_KEY = Markup(
    '<button type="button" class="term" popovertarget="term-{key}" aria-describedby="term-{key}-says">{word}</button>'
    '<span class="meaning" id="term-{key}" popover role="note"><b>{name}</b> <span id="term-{key}-says">{text}</span>'
    ' <a href="{page}">All terms</a></span>'
)


MOST = 2  # a sentence full of dots is no help


def _seen(context: Context) -> set[str]:
    """The terms that were opened in this view."""
    state = context["request"].state
    if not hasattr(state, "terms"):
        state.terms = set()
    seen: set[str] = state.terms
    return seen


@pass_context
def glossed(context: Context, text: str) -> Markup:
    """A sentence whose terms open; each term once in a view, two in a sentence at most."""
    seen = _seen(context)
    out, at, here = Markup(), 0, 0
    for begin, end, term in found(text):
        if term.key in seen or here == MOST:
            continue
        seen.add(term.key)
        here += 1
        out += escape(text[at:begin]) + opened(term, text[begin:end])
        at = end
    return out + escape(text[at:])


def opened(term: Term, word: str) -> Markup:
    """One term as a key with its meaning."""
    return _KEY.format(key=term.key, word=word, name=term.name, text=term.text, page=Urls.term(term.key))


@pass_context
def term(context: Context, key: str, word: str = "") -> Markup:
    """A term by its key, where a heading or a label has it; plain where it was opened in this view before."""
    seen = _seen(context)
    one = terms()[key]
    if key in seen:
        return escape(word or one.name)
    seen.add(key)
    return opened(one, word or one.name)
