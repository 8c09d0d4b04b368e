"""A motor's plate: checked as it is typed, changed with a reason, photographed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, File, Form, Request, UploadFile
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import Forbidden, FormRefused, Refusal, Unknown
from grimcoil.service import plates as verbs
from grimcoil.web.again import Again
from grimcoil.web.errors import status_of
from grimcoil.web.forms.motors import PlateForm
from grimcoil.web.forms.people import GoneForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.record import STAMPED, WINDING

router = APIRouter(route_class=Again)


@router.post(Urls.check_plate)
def check(request: Request, state: State, me: Me, form: Annotated[PlateForm, Form()]) -> Response:
    """What is typed so far, judged; nothing is kept."""
    typed = verbs.typed_plate(_texts(me, form), state.clock())
    return state.templates.TemplateResponse(request, "motors/_plate_says.html", {"typed": typed})


def _texts(me: Me, form: PlateForm) -> dict[str, str]:
    texts = form.texts()
    return texts | {"power": me.units.rating(texts.get("power", ""))}


@router.get("/motors/{tag:tag}/nameplate")
def plate(request: Request, state: State, tag: str) -> Response:
    """As on record."""
    return _page(request, state, tag, {}, {})


def _page(
    request: Request,
    state: AppState,
    tag: str,
    typed: Mapping[str, str],
    refused: Mapping[str, str],
    refusal: Refusal | None = None,
    note: str = "",
) -> Response:
    view = verbs.plate_view(state.store, tag)
    form = defaultdict(str, {**view.texts, **typed})
    context = {
        "place": "motors", "view": view, "form": form, "refused": refused, "refusal": refusal, "note": note,
        "cells": STAMPED, "winding": WINDING, "token": str(uuid4()), "typed": verbs.typed_plate(form, state.clock()),
    }  # fmt: skip
    status = 422 if refused else 200 if refusal is None else status_of(refusal)
    return state.templates.TemplateResponse(request, "motors/plate.html", context, status_code=status)


@router.post("/motors/{tag:tag}/nameplate")
def change(request: Request, state: State, me: Me, tag: str, form: Annotated[PlateForm, Form()]) -> Response:
    """Put what the metal really shows on record."""
    try:
        verbs.change_plate(state.store, me.actor, tag, _texts(me, form), form.why, form.seen, state.clock())
    except FormRefused as refused:
        return _page(request, state, tag, form.texts() | {"why": form.why}, refused.fields)
    return RedirectResponse(Urls.plate(tag), 303)


@router.post("/motors/{tag:tag}/nameplate/photo")
def photograph(
    request: Request,
    state: State,
    me: Me,
    tag: str,
    photo: Annotated[UploadFile, File()],
    token: Annotated[str, Form(min_length=8, max_length=40, pattern=r"^[A-Za-z0-9-]+$")],
    note: Annotated[str, Form(max_length=2000)] = "",
) -> Response:
    """A photo of it; its file name is never used."""
    try:
        verbs.keep_plate_photo(state.store, me.actor, tag, photo.file.read(), note, token, state.clock())
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _page(request, state, tag, {}, {}, refusal, note)
    return RedirectResponse(Urls.plate(tag), 303)


@router.post("/motors/{tag:tag}/nameplate/take-back")
def take_back(state: State, me: Me, tag: str, form: Annotated[GoneForm, Form()]) -> Response:
    """Mark a photo as taken back."""
    verbs.take_plate_photo_back(state.store, me.actor, tag, form.id, state.clock(), form.reason)
    return RedirectResponse(Urls.plate(tag), 303)
