"""The register, a motor's page, and registering one."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from datetime import date
from itertools import groupby
from typing import Annotated

from fastapi import APIRouter, Depends, Form, Query, Request
from starlette.responses import RedirectResponse, Response, StreamingResponse

from grimcoil.core.errors import FormRefused
from grimcoil.core.findings import Finding, Verdict, telling
from grimcoil.exchange.trails import READINGS, reading_documents, reading_lines
from grimcoil.exchange.workbooks import REGISTER, as_csv, as_xlsx, reading_row, register_row
from grimcoil.service import motors as verbs
from grimcoil.service import today, views
from grimcoil.service.details import Details, details, keep_details
from grimcoil.service.stores import RegisterRow
from grimcoil.web.again import Again
from grimcoil.web.forms.listing import MOST_TAGS, SORTED, STANDINGS, Filtered, Tags, filtered, plain_address
from grimcoil.web.forms.motors import MotorForm, RecordForm, ViewForm
from grimcoil.web.paper import answer as as_paper
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.motor import motor_life
from grimcoil.web.views.papers import history_paper
from grimcoil.web.views.record import BUILD, REGISTRATION, STAMPED, sections, told
from grimcoil.web.views.register import register_line

router = APIRouter(route_class=Again)
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
NEAREST = "Nearest first"
LISTED = (Verdict.ACT, Verdict.WATCH, Verdict.UNPROVEN, Verdict.SOUND)


@router.get(Urls.motors)
def register(
    request: Request,
    state: State,
    given: Annotated[Filtered, Depends(filtered)],
    me: Me,
    after: Annotated[str, Query(max_length=200)] = "",
    choose: bool = False,
    tag: Tags = (),
) -> Response:
    """The register, a page at a time. choose: each line with a box to tick; tag: those that are ticked."""
    day = state.clock().date()
    listed = today.register(state.store, given.asked(after), day)
    if given.q and len(listed.rows) == 1 and not listed.narrow and not choose:
        return RedirectResponse(Urls.nearest(listed.rows[0].tag, given.q), 303)
    ticked = frozenset(tag)
    lines = [
        (row.area or "No place yet", register_line(row, day, choose, row.tag in ticked)) for row in listed.rows
    ]  # fmt: skip
    by_area, heading = given.sort == "area" and not given.q, NEAREST if given.q else SORTED[given.sort]
    groups = [
        (area, [line for _, line in group])
        for area, group in groupby(lines, key=lambda pair: pair[0] if by_area else heading)
    ]
    context = {
        "place": "motors", "follow": listed.follow, "listed": listed, "groups": groups, "given": given,
        "verdicts": LISTED, "sorts": SORTED, "standings": STANDINGS, "today": day, "now": state.clock(),
        "more": given.address(after=listed.after) if listed.after else None, "after": listed.after,
        "views": me.views, "choose": choose, "elsewhere": sorted(ticked - {row.tag for row in listed.rows}),
    }  # fmt: skip
    return state.templates.TemplateResponse(request, "motors/list.html", context)


@router.get(Urls.found)
def found(request: Request, state: State, q: Annotated[str, Query(max_length=100)] = "") -> Response:
    """The motors nearest to what is being typed, to go to at once."""
    context = {"q": q.strip(), "near": today.near(state.store, q)}
    return state.templates.TemplateResponse(request, "motors/_found.html", context)


@router.post(Urls.views)
def keep_view(state: State, me: Me, form: Annotated[ViewForm, Form()]) -> Response:
    """Keep the list as it is narrowed under a name."""
    address = plain_address(form.address)
    views.keep_view(state.store, me.actor, form.name, address)
    return RedirectResponse(address, 303)


@router.post(Urls.drop_view)
def drop_view(state: State, me: Me, form: Annotated[ViewForm, Form()]) -> Response:
    """Take one away."""
    views.drop_view(state.store, me.actor, form.name)
    return RedirectResponse(Urls.motors, 303)


@router.get(Urls.new_motor)
def new_motor(request: Request, state: State, tag: Annotated[str, Query(max_length=40)] = "") -> Response:
    """The registration form; with a tag, of a motor that is known by it alone."""
    return _form_page(request, state, MotorForm.model_validate({"tag": tag}), {}, ())


def _form_page(
    request: Request,
    state: AppState,
    form: MotorForm,
    refused: dict[str, str],
    findings: tuple[Finding, ...],
    status: int = 200,
) -> Response:
    context = {
        "place": "motors",
        "form": defaultdict(str, form.model_dump()),
        "key": form.plate_key(),
        "refused": refused,
        "findings": findings,
        "sections": REGISTRATION,
        "more": BUILD,
        "cells": STAMPED,
    }
    return state.templates.TemplateResponse(request, "motors/new.html", context, status_code=status)


@router.post(Urls.new_motor)
def add_motor(request: Request, state: State, me: Me, form: Annotated[MotorForm, Form()]) -> Response:
    """Register; a plate that contradicts itself, or a tag spelled like another, is shown back once to confirm."""
    texts = form.plate() | {"power": me.units.rating(form.power)}
    try:
        checked = verbs.check_registration(texts, state.clock())
        doubts = (*telling(checked.findings), *verbs.spelled_alike(state.store, checked.motor.tag))
        if doubts and form.confirmed != form.plate_key():
            return _form_page(request, state, form, {}, doubts)
        tag = verbs.register_motor(state.store, me.actor, checked, told(form.texts()))
    except FormRefused as refused:
        return _form_page(request, state, form, refused.fields, (), 422)
    return RedirectResponse(Urls.motor(tag), 303)


def _record_page(
    request: Request, state: AppState, kept: Details, texts: dict[str, str], refused: dict[str, str]
) -> Response:
    shown = sections(kept)
    names = {field.name for section in shown for field in section.fields}
    context = {
        "place": "motors",
        "kept": kept,
        "sections": shown,
        "form": defaultdict(str, texts),
        "refused": refused,
        "elsewhere": [(name, sentence) for name, sentence in refused.items() if name not in names],
    }
    return state.templates.TemplateResponse(request, "motors/record.html", context, status_code=422 if refused else 200)


@router.get("/motors/{tag:tag}/data")
def record(request: Request, state: State, tag: str) -> Response:
    """What is on record beyond the plain plate, to be filled in."""
    kept = details(state.store, tag)
    return _record_page(request, state, kept, kept.texts, {})


@router.post("/motors/{tag:tag}/data")
def keep_record(request: Request, state: State, me: Me, tag: str, form: Annotated[RecordForm, Form()]) -> Response:
    """Keep it; what can't be used is shown back beside what was typed."""
    try:
        keep_details(state.store, me.actor, tag, form.texts(), state.clock())
    except FormRefused as refused:
        return _record_page(request, state, details(state.store, tag), form.texts(), refused.fields)
    return RedirectResponse(Urls.motor(tag), 303)


@router.get("/motors/{tag:tag}")
def motor(
    request: Request,
    state: State,
    tag: str,
    before: date | None = None,
    job: Annotated[int, Query(ge=0, le=2**31 - 1)] = 0,
    near: Annotated[str, Query(max_length=100)] = "",
) -> Response:
    """A motor's page; `before` and `job`: the tests before that one; `near`: it was the only one near these words."""
    view = verbs.motor_view(state.store, tag, (before, job) if before else None)
    wide, small = motor_life(view, state.clock().date())
    context = {
        "place": "motors",
        "follow": view.follow,
        "view": view,
        "near": near,
        "wide": wide,
        "small": small,
        "today": state.clock().date(),
        "now": state.clock(),
    }
    return state.templates.TemplateResponse(request, "motors/page.html", context)


def _rows(state: AppState, tags: Sequence[str]) -> Iterable[RegisterRow]:
    return (
        today.of_tags(state.store, tags, MOST_TAGS).rows
        if tags
        else today.every_motor(state.store, state.clock().date())
    )


@router.get(Urls.register_csv)
def register_csv(state: State, tag: Tags = ()) -> Response:
    """The whole register as a file, line by line, or the motors of these tags."""
    rows = (register_row(row) for row in _rows(state, tag))
    headers = {"content-disposition": 'attachment; filename="register.csv"'}
    return StreamingResponse(as_csv(REGISTER, rows), media_type="text/csv; charset=utf-8", headers=headers)


@router.get(Urls.register_xlsx)
def register_xlsx(state: State, tag: Tags = ()) -> Response:
    """The same as a workbook."""
    rows = (register_row(row) for row in _rows(state, tag))
    return _workbook("register", as_xlsx("Register", REGISTER, rows))


def _workbook(name: str, content: bytes) -> Response:
    headers = {"content-disposition": f'attachment; filename="{name}.xlsx"'}
    return Response(content, media_type=XLSX, headers=headers)


@router.get(Urls.every_reading + ".csv")
def every_reading_csv(state: State) -> Response:
    """Every reading of the works, line by line."""
    lines = reading_lines(verbs.readings_of_all(state.store))
    headers = {"content-disposition": 'attachment; filename="readings.csv"'}
    return StreamingResponse(lines, media_type="text/csv; charset=utf-8", headers=headers)


@router.get(Urls.every_reading + ".jsonl")
def every_reading_jsonl(state: State) -> Response:
    """The same as JSON, one a line."""
    lines = reading_documents(verbs.readings_of_all(state.store))
    headers = {"content-disposition": 'attachment; filename="readings.jsonl"'}
    return StreamingResponse(lines, media_type="application/x-ndjson; charset=utf-8", headers=headers)


@router.get("/motors/{tag:tag}/history")
def history(request: Request, state: State, tag: str) -> Response:
    """Its life and its tests on paper."""
    return history_paper(request, state, tag)


@router.get("/motors/{tag:tag}/history.pdf")
def history_pdf(request: Request, state: State, tag: str) -> Response:
    """The same as PDF."""
    return as_paper(history_paper(request, state, tag), f"{tag}-history")


@router.get("/motors/{tag:tag}/readings.xlsx")
def readings_xlsx(state: State, tag: str) -> Response:
    """Every kept reading of the motor as a workbook."""
    rows = (reading_row(tag, row) for row in verbs.every_reading(state.store, tag))
    return _workbook("readings", as_xlsx("Readings", READINGS, rows))


@router.get("/motors/{tag:tag}/readings.csv")
def readings(state: State, tag: str) -> Response:
    """Every kept reading of the motor as a file."""
    lines = reading_lines((tag, row) for row in verbs.every_reading(state.store, tag))
    headers = {"content-disposition": 'attachment; filename="readings.csv"'}
    return StreamingResponse(lines, media_type="text/csv; charset=utf-8", headers=headers)
