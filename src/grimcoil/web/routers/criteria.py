"""The works' criteria: each with its limits, and a copy with one of them changed, tried on the signed jobs first."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Form, Request
from starlette.responses import JSONResponse, RedirectResponse, Response

from grimcoil.core.catalogue import Standing
from grimcoil.core.criteria import CRITERIA, Criteria
from grimcoil.core.errors import FormRefused, Unknown
from grimcoil.exchange.criteria import to_document
from grimcoil.service import criteria as verbs
from grimcoil.web.again import Again
from grimcoil.web.forms.works import CriteriaForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.criteria import SHORT, WORDS, figure_of, limit_rows

router = APIRouter(route_class=Again)
STANDINGS = (Standing.SITE, Standing.STANDARD, Standing.TRADE, Standing.COMPUTED)


@router.get("/plant/criteria/{name}")
def criteria(request: Request, state: State, name: str) -> Response:
    """One of the criteria, with all its limits."""
    return _page(request, state, _named(state, name), CriteriaForm(), {})


@router.get("/plant/criteria/{name}/file")
def as_file(state: State, name: str) -> Response:
    """The same as `grimcoil-criteria/1`, for the command line and for another works."""
    headers = {"content-disposition": f'attachment; filename="{_named(state, name).name}.json"'}
    return JSONResponse(to_document(_named(state, name)), headers=headers)


def _named(state: AppState, name: str) -> Criteria:
    known = verbs.known_criteria(state.store)
    if name not in known:
        raise Unknown("criteria", name[:40], "one of " + ", ".join(known))
    return known[name]


def _page(
    request: Request, state: AppState, one: Criteria, form: CriteriaForm, refused: dict[str, str], **more: Any
) -> Response:
    own = one.name not in CRITERIA
    context = {
        "place": "works",
        "one": one,
        "own": own,
        "rows": limit_rows(one),
        "form": form,
        "refused": refused,
        "limits": [(name, f"{words}, now {figure_of(getattr(one, name))}") for name, words in WORDS.items()],
        "standings": [(standing.value, SHORT[standing]) for standing in STANDINGS],
        "draft": None,
    }
    status = 422 if refused else 200
    return state.templates.TemplateResponse(request, "works/criteria.html", context | more, status_code=status)


@router.post("/plant/criteria/{name}")
def change(request: Request, state: State, me: Me, name: str, form: Annotated[CriteriaForm, Form()]) -> Response:
    """Try a changed limit on the signed jobs; with `keep`, keep it as a version."""
    one = _named(state, name)
    texts = form.model_dump(exclude={"csrf"}) | {"before": name}
    try:
        if form.keep:
            made = verbs.keep_criteria(state.store, me.actor, texts, state.clock())
            return RedirectResponse(Urls.criteria(made.name), 303)
        draft = verbs.drafted(state.store, texts)
    except FormRefused as refused:
        return _page(request, state, one, form, dict(refused.fields))
    changed = getattr(draft.made, draft.limit)
    before = getattr(draft.before, draft.limit)
    told = f"{WORDS[draft.limit]}: {figure_of(changed)} in place of {figure_of(before)}"
    found = verbs.preview(state.store, draft)
    return _page(request, state, one, form, {}, draft=draft, told=told, found=found)
