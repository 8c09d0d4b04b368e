"""A motor's trend over a span of its life, as a page and as a file."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Query, Request
from starlette.responses import Response, StreamingResponse

from grimcoil.exchange.workbooks import as_csv
from grimcoil.service.plotting import BESIDE_MOST, TrendView, trend_view
from grimcoil.web.again import Again
from grimcoil.web.state import AppState, State
from grimcoil.web.views.plotting import COLUMNS, shown, signed, trend_pictures, trend_rows

router = APIRouter(route_class=Again)
Year = Annotated[int | None, Query(ge=1900, le=2200)]
Tags = Annotated[Sequence[str], Query(max_length=20)]


def _view(state: AppState, tag: str, years: tuple[int | None, int | None], beside: Sequence[str]) -> TrendView:
    return trend_view(state.store, tag, years, beside, state.clock().date())


@router.get("/motors/{tag:tag}/trend")
def trend(
    request: Request, state: State, tag: str, since: Year = None, until: Year = None, beside: Tags = ()
) -> Response:
    """since, until: years; beside: tags of sisters whose insulation is drawn along."""
    view, today = _view(state, tag, (since, until), beside), state.clock().date()
    wide, small = trend_pictures(view, today)
    context = {
        "place": "motors", "follow": view.follow, "now": state.clock(), "view": view, "wide": wide, "small": small,
        "shown": shown, "signed": signed,
        "since": since, "until": until, "beside": [t for t in beside if t in view.beside.sisters],
        "years": list(range((view.first or today).year, today.year + 1)), "most": BESIDE_MOST,
        "spans": _spans(view, today.year),
    }  # fmt: skip
    return state.templates.TemplateResponse(request, "motors/trend.html", context)


def _spans(view: TrendView, year: int) -> list[tuple[str, int | None]]:
    """The whole life, and the last years where that is less."""
    begun = (view.first or view.since).year
    return [("Whole life", None), *((f"{n} years", year - n + 1) for n in (10, 5, 2) if year - n + 1 > begun)]


@router.get("/motors/{tag:tag}/trend.csv")
def trend_csv(state: State, tag: str, since: Year = None, until: Year = None) -> Response:
    """The tests that are plotted, unrounded; an open end is empty."""
    view = _view(state, tag, (since, until), [])
    headers = {"content-disposition": 'attachment; filename="trend.csv"'}
    return StreamingResponse(as_csv(COLUMNS, trend_rows(view)), media_type="text/csv; charset=utf-8", headers=headers)
