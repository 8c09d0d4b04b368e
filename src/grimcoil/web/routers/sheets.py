"""A sheet that was kept so far comes in: handed over, its columns told, its open cells answered, taken, undone."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any
from uuid import uuid4

from fastapi import APIRouter, File, Form, Path, Query, Request, UploadFile
from starlette.responses import RedirectResponse, Response, StreamingResponse

from grimcoil.core.errors import Forbidden, RecordRefusal, Refusal, Unknown
from grimcoil.exchange.sheets.returned import returned_lines
from grimcoil.service import sheet_drafts as verbs
from grimcoil.service.importing import Source, Told
from grimcoil.service.signing_in import Signed
from grimcoil.service.undoing import Undone, undo
from grimcoil.web.again import Again
from grimcoil.web.errors import status_of
from grimcoil.web.forms.base import Token
from grimcoil.web.forms.sheets import CellForm, ColumnForm, HeadForm, RowForm, SheetForm, TakeForm
from grimcoil.web.long_work import told_meanwhile
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.sheet import ALL_UNITS, HOLDS, ORDERS, sheet_shown

router = APIRouter(route_class=Again)
Number = Annotated[int, Path(ge=1, le=2**31 - 1)]
TabName = Annotated[str, Query(max_length=100)]
LARGE = 2000  # values; what takes longer than a page may
First = Annotated[int, Query(ge=0, le=2_000_000)]


@router.get(Urls.sheets)
def listed(request: Request, state: State, me: Me) -> Response:
    """Hand a sheet over; those under way and those that came in."""
    return _list(request, state, me, None)


def _list(request: Request, state: AppState, me: Signed, refusal: Refusal | None) -> Response:
    drafts, imports = verbs.listed(state.store, me.actor)
    context = {"place": "works", "drafts": drafts, "imports": imports, "refusal": refusal, "token": str(uuid4())}
    status = 200 if refusal is None else status_of(refusal)
    return state.templates.TemplateResponse(request, "sheets/list.html", context, status_code=status)


@router.post(Urls.sheets)
def begin(
    request: Request,
    state: State,
    me: Me,
    sheet: Annotated[UploadFile, File()],
    token: Annotated[Token, Form()],
) -> Response:
    """A file is handed over."""
    name = (sheet.filename or "sheet").replace("\\", "/").rpartition("/")[2][:200] or "sheet"
    try:
        number = verbs.begin(state.store, me.actor, Source(name, sheet.file.read()), token, state.clock())
    except Forbidden:
        raise
    except Refusal as refusal:
        return _list(request, state, me, refusal)
    return RedirectResponse(Urls.sheet_draft(number), 303)


@router.get("/import/{draft_id}")
def page(request: Request, state: State, me: Me, draft_id: Number, tab: TabName = "", first: First = 0) -> Response:
    """Every cell as it was typed and as it is understood."""
    return _page(request, state, me, draft_id, tab, first, None)


def _page(
    request: Request, state: AppState, me: Signed, draft_id: int, tab: str, first: int, refusal: Refusal | None
) -> Response:
    draft = verbs.look(state.store, me.actor, draft_id, state.clock())
    context = {
        "place": "works", "draft": draft, "shown": sheet_shown(draft, tab, first), "refusal": refusal, "holds": HOLDS,
        "units": ALL_UNITS, "orders": ORDERS,
    }  # fmt: skip
    status = 200 if refusal is None else status_of(refusal)
    return state.templates.TemplateResponse(request, "sheets/page.html", context, status_code=status)


def _changed(
    request: Request, state: AppState, me: Signed, draft_id: int, to: Callable[[dict[str, Any]], dict[str, Any]]
) -> Response:
    tab, first = request.query_params.get("tab", ""), request.query_params.get("first", "")
    start = int(first) if first.isascii() and first.isdigit() and len(first) < 8 else 0
    try:
        verbs.change(state.store, me.actor, draft_id, state.clock(), to)
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _page(request, state, me, draft_id, tab, start, refusal)
    return _back(request, draft_id)


def _back(request: Request, draft_id: int) -> Response:
    query = request.url.query
    return RedirectResponse(Urls.sheet_draft(draft_id) + (f"?{query}" if query else ""), 303)


@router.post("/import/{draft_id}/column")
def column(request: Request, state: State, me: Me, draft_id: Number, form: Annotated[ColumnForm, Form()]) -> Response:
    """What a column holds, or several of them."""
    try:
        meaning = column_meaning(form)
    except RecordRefusal as refusal:
        return _page(request, state, me, draft_id, "", 0, refusal)
    return _changed(request, state, me, draft_id, verbs.columns_mean(form.name, meaning))


def column_meaning(form: ColumnForm) -> dict[str, Any]:
    """The column of a map out of its form. Raises RecordRefusal at the hold."""
    out: dict[str, Any] = {"as": form.holds or "leave_out"}
    first, _, second = (part.strip() for part in form.points.partition(" to "))
    if form.holds == "insulation":
        out |= {"from": first or "1-2-3", "to": second or "frame"}
        if form.hold_s.strip():
            out["t_s"] = _seconds(form.hold_s, ", ".join(form.name))
    elif form.holds == "winding_resistance" and first:
        out["pair"] = first
    if form.holds == "date" and form.order:
        out["order"] = form.order
    if form.unit and form.holds not in ("tag", "date", "note", "leave_out"):
        out["unit"] = form.unit
    return out


def _seconds(text: str, name: str) -> float:
    try:
        return float(text.strip().replace(",", "."))
    except ValueError:
        raise RecordRefusal(f"held, of {name}", text, "seconds", "60") from None


@router.post("/import/{draft_id}/whole")
def whole(request: Request, state: State, me: Me, draft_id: Number, form: Annotated[SheetForm, Form()]) -> Response:
    """What holds for the whole sheet."""
    keys: dict[str, Any] = {}
    if form.decimal:
        keys["decimal"] = form.decimal
    if form.incomplete_dates:
        keys["incomplete_dates"] = form.incomplete_dates
    if form.motor.strip():
        keys["tag"] = {"is": form.motor.strip()}
    return _changed(request, state, me, draft_id, verbs.sheet_says(**keys))


@router.post("/import/{draft_id}/headings")
def headings(request: Request, state: State, me: Me, draft_id: Number, form: Annotated[HeadForm, Form()]) -> Response:
    """Which rows are its headings."""
    try:
        verbs.head(state.store, me.actor, draft_id, state.clock(), form.rows)
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _page(request, state, me, draft_id, "", 0, refusal)
    return _back(request, draft_id)


@router.post("/import/{draft_id}/cell")
def cell(request: Request, state: State, me: Me, draft_id: Number, form: Annotated[CellForm, Form()]) -> Response:
    """What one cell means."""
    return _changed(request, state, me, draft_id, verbs.cell_says(form.key, form.text.strip()))


@router.post("/import/{draft_id}/row")
def row(request: Request, state: State, me: Me, draft_id: Number, form: Annotated[RowForm, Form()]) -> Response:
    """A row left out by choice, or taken in again."""
    verbs.leave_row(state.store, me.actor, draft_id, form.key, form.leave == "yes")
    return _back(request, draft_id)


@router.post("/import/{draft_id}/take")
def take(request: Request, state: State, me: Me, draft_id: Number, form: Annotated[TakeForm, Form()]) -> Response:
    """All that is understood goes in; of a large sheet the page says how far it is."""
    if form.expected > LARGE:
        now, context = state.clock(), {"place": "works", "count": form.expected}
        page = bytes(state.templates.TemplateResponse(request, "sheets/importing.html", context).body).decode("utf-8")

        def work(told: Told) -> object:
            return verbs.take(state.store, me.actor, draft_id, now, form.expected, told)

        return told_meanwhile(page, "tests", Urls.sheets, work)
    try:
        number = verbs.take(state.store, me.actor, draft_id, state.clock(), form.expected)
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _page(request, state, me, draft_id, "", 0, refusal)
    return RedirectResponse(Urls.sheet_in(number), 303)


@router.post("/import/{draft_id}/drop")
def drop(state: State, me: Me, draft_id: Number) -> Response:
    """Throw it away."""
    verbs.drop(state.store, me.actor, draft_id)
    return RedirectResponse(Urls.sheets, 303)


@router.get("/import/{draft_id}/outside.csv")
def outside(state: State, me: Me, draft_id: Number) -> Response:
    """What stays outside, each with its reason, as a file of its own."""
    draft = verbs.look(state.store, me.actor, draft_id, state.clock())
    headers = {"content-disposition": 'attachment; filename="outside.csv"'}
    return StreamingResponse(returned_lines(draft.done), media_type="text/csv; charset=utf-8", headers=headers)


@router.get("/import/in/{import_id}")
def came_in(request: Request, state: State, import_id: Number) -> Response:
    """What a sheet brought, motor by motor."""
    return _brought(request, state, import_id, None)


def _brought(request: Request, state: AppState, import_id: int, undone: Undone | None) -> Response:
    made, lines = verbs.brought(state.store, import_id)
    context = {"place": "works", "made": made, "lines": lines, "undone": undone, "most": verbs.MOST_BROUGHT}
    return state.templates.TemplateResponse(request, "sheets/came_in.html", context)


@router.post("/import/in/{import_id}/undo")
def take_back(request: Request, state: State, me: Me, import_id: Number) -> Response:
    """A whole import goes again."""
    try:
        undone = undo(state.store, me.actor, import_id, state.clock())
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _list(request, state, me, refusal)
    return _brought(request, state, import_id, undone)
