"""Side sheets of a motor, and the notes of machines that have a rotor or a field of their own."""

from __future__ import annotations

from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Form, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import FormRefused, Unknown
from grimcoil.core.findings import Result
from grimcoil.core.side.notes import NOTES, Machine
from grimcoil.service import side_sheets as verbs
from grimcoil.web.again import Again
from grimcoil.web.forms.people import GoneForm
from grimcoil.web.forms.side import SideForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.side import SHEETS, WORDS, figures_of

router = APIRouter(route_class=Again)


@router.get("/motors/{tag:tag}/other-tests")
def listed(request: Request, state: State, tag: str, kind: str = "", notes: str = "") -> Response:
    """The sheets that were kept, and the one that is asked for."""
    if kind and kind not in SHEETS:
        raise Unknown("other test", kind[:40], "one of " + ", ".join(SHEETS))
    if notes and notes not in set(Machine):
        raise Unknown("notes", notes[:40], "one of " + ", ".join(Machine))
    return _page(request, state, tag, kind, notes=notes)


@router.post("/motors/{tag:tag}/other-tests/take-back")
def take_back(state: State, me: Me, tag: str, form: Annotated[GoneForm, Form()]) -> Response:
    """What was kept goes again."""
    verbs.take_back_side(state.store, me.actor, tag, form.id, state.clock(), form.reason)
    return RedirectResponse(Urls.side(tag), 303)


@router.post("/motors/{tag:tag}/other-tests/{kind}")
def sheet(request: Request, state: State, me: Me, tag: str, kind: str, form: Annotated[SideForm, Form()]) -> Response:
    """Judge what was typed, or keep it."""
    texts = form.texts()
    try:
        if form.keep:
            verbs.keep_side(state.store, me.actor, tag, kind, texts, form.words, form.token, state.clock())
            return RedirectResponse(Urls.side(tag), 303)
        _, result = verbs.judge_side(kind, texts, form.words)
    except FormRefused as refused:
        return _page(request, state, tag, kind, form, dict(refused.fields))
    return _page(request, state, tag, kind, form, result=result)


def _page(
    request: Request,
    state: AppState,
    tag: str,
    kind: str,
    form: SideForm | None = None,
    refused: dict[str, str] | None = None,
    result: Result | None = None,
    notes: str = "",
) -> Response:
    section = SHEETS.get(kind)
    typed = {field.name: "" for field in (section.fields if section else ())} | (form.texts() if form else {})
    context = {
        "place": "motors", "view": verbs.side_view(state.store, tag), "kind": kind, "section": section, "form": typed,
        "chosen": form.words if form else [], "words": WORDS.get(kind, ()), "refused": refused or {}, "result": result,
        "sheets": SHEETS, "notes": NOTES.get(Machine(notes)) if notes else None, "notes_of": notes,
        "machines": list(Machine), "figures_of": figures_of, "token": form.token if form else str(uuid4()),
    }  # fmt: skip
    return state.templates.TemplateResponse(request, "motors/side.html", context, status_code=422 if refused else 200)
