"""The works' own page: instruments, and the way to people, trail and criteria."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from starlette.responses import RedirectResponse, Response, StreamingResponse

from grimcoil.core.errors import FormRefused, Refusal
from grimcoil.core.instruments import MICROAMPS
from grimcoil.core.units import CHOICES
from grimcoil.service import instruments as verbs
from grimcoil.service.archiving import archive_pieces
from grimcoil.service.criteria import known_criteria
from grimcoil.service.site import areas_in_order, keep_site, site_of
from grimcoil.web.again import Again
from grimcoil.web.errors import status_of
from grimcoil.web.forms.works import CalibratedForm, RangeForm, SiteForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.record import SYSTEMS

router = APIRouter(route_class=Again)


@router.get(Urls.works)
def works(request: Request, state: State) -> Response:
    """What the works keeps for every job."""
    return _page(request, state, RangeForm(), {}, None)


def _page(
    request: Request,
    state: AppState,
    form: RangeForm,
    refused: dict[str, str],
    refusal: Refusal | None,
    site: SiteForm | None = None,
) -> Response:
    kept, known = site_of(state.store), known_criteria(state.store)
    context = {
        "place": "works",
        "kept": verbs.instruments(state.store),
        "functions": [(name, words) for name, (words, _) in verbs.FUNCTIONS.items()],
        "corrections": (("", "No"), ("yes", "Yes: never corrected twice")),
        "shown_as": (("", "Megohms"), (MICROAMPS, "Microamps")),
        "function_words": {name: words for name, (words, _) in verbs.FUNCTIONS.items()},
        "criteria": known.values(),
        "form": form,
        "site": site
        or SiteForm(
            works_name=kept.name,
            zone=kept.zone,
            criteria=kept.criteria,
            phase_colours=kept.phase_colours,
            supply_system=kept.supply_system or "",
            system_voltage_v=f"{float(kept.system_voltage_v):g}" if kept.system_voltage_v else "",
            units=kept.units,
            areas="\n".join(areas_in_order(state.store)),
        ),
        "schools": [(one.name, one.title) for one in known.values()],
        "systems": [("", "Not the same everywhere"), *SYSTEMS.items()],
        "units": [(one, f"{one} where none is said") for one in CHOICES],
        "refused": refused,
        "refusal": refusal,
        "today": state.clock().date(),
        "now": state.clock(),
        "backed_up_at": kept.backed_up_at,
    }
    status = 422 if refused else 200 if refusal is None else status_of(refusal)
    return state.templates.TemplateResponse(request, "works/page.html", context, status_code=status)


@router.post(Urls.instruments)
def add_range(request: Request, state: State, me: Me, form: Annotated[RangeForm, Form()]) -> Response:
    """A range of a new instrument, or of one on the list."""
    try:
        verbs.add_range(state.store, me.actor, form.model_dump(exclude={"csrf"}), state.clock())
    except FormRefused as refused:
        return _page(request, state, form, dict(refused.fields), None)
    return RedirectResponse(Urls.works, 303)


@router.post(Urls.site)
def settings(request: Request, state: State, me: Me, form: Annotated[SiteForm, Form()]) -> Response:
    """The works' name, time zone and criteria."""
    try:
        keep_site(state.store, me.actor, form.model_dump(exclude={"csrf"}), state.clock())
    except FormRefused as refused:
        return _page(request, state, RangeForm(), dict(refused.fields), None, form)
    return RedirectResponse(Urls.works, 303)


@router.post(Urls.calibrated)
def calibrated(request: Request, state: State, me: Me, form: Annotated[CalibratedForm, Form()]) -> Response:
    """When an instrument's calibration is due next."""
    try:
        verbs.calibrated(state.store, me.actor, form.id, form.due, state.clock())
    except Refusal as refusal:
        if status_of(refusal) != 422:
            raise
        return _page(request, state, RangeForm(), {}, refusal)
    return RedirectResponse(Urls.works, 303)


@router.post(Urls.archive)
def archive(state: State, me: Me) -> Response:
    """The whole works as one file, packed while it goes out."""
    now = state.clock()
    pieces = archive_pieces(state.store, state.engine, me.actor, now)
    headers = {"content-disposition": f'attachment; filename="works-{now:%Y-%m-%d}.zip"'}
    return StreamingResponse(pieces, media_type="application/zip", headers=headers)
