"""Help where a term stands: the first time in a view a term is a key that opens its meaning beside it."""

from __future__ import annotations

from jinja2 import pass_context
from jinja2.runtime import Context
from markupsafe import Markup, escape

from grimcoil.core.glossary import found
from grimcoil.draw.terms import term_figure
from grimcoil.web.urls import Urls

_KEY = Markup(
    '<button type="button" class="term" popovertarget="term-{key}" aria-describedby="term-{key}-says">{word}</button>'
)
_MEANING = Markup(
    '<span class="meaning" id="term-{key}" popover role="note"><b>{name}</b> <span id="term-{key}-says">{text}</span>'
    '{figure} <a href="{page}">All terms</a></span>'
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
    out, meanings, at = Markup(), list[Markup](), 0
    for begin, end, one in found(text):
        if one.key in seen or len(meanings) >= MOST:
            continue
        seen.add(one.key)
        out += escape(text[at:begin]) + _KEY.format(key=one.key, word=text[begin:end])
        meanings.append(
            _MEANING.format(
                key=one.key,
                name=one.name,
                text=one.text,
                page=Urls.term(one.key),
                figure=Markup(term_figure(one.key)),  # noqa: S704  drawn here, of nothing that anybody typed
            )
        )
        at = end
    return out + escape(text[at:]) + Markup().join(meanings)
