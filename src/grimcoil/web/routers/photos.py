"""Photos of a job."""

from __future__ import annotations

from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, File, Form, Path, Request, UploadFile
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import Forbidden, Refusal, Unknown
from grimcoil.service import photos as verbs
from grimcoil.web.again import Again
from grimcoil.web.errors import status_of
from grimcoil.web.forms.people import IdForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)
Number = Annotated[int, Path(ge=1, le=2**31 - 1)]


@router.get("/jobs/{job_id}/photos")
def listed(request: Request, state: State, job_id: Number) -> Response:
    """All of them, and the form for one more."""
    return _page(request, state, job_id, "", None)


def _page(request: Request, state: AppState, job_id: int, note: str, refusal: Refusal | None) -> Response:
    bench, photos = verbs.photos_of(state.store, job_id, state.clock())
    context = {
        "place": "job",
        "bench": bench,
        "photos": photos,
        "note": note,
        "refusal": refusal,
        "token": str(uuid4()),
    }
    status = 200 if refusal is None else status_of(refusal)
    return state.templates.TemplateResponse(request, "jobs/photos.html", context, status_code=status)


@router.post("/jobs/{job_id}/photos")
def keep(
    request: Request,
    state: State,
    me: Me,
    job_id: Number,
    photo: Annotated[UploadFile, File()],
    token: Annotated[str, Form(min_length=8, max_length=40, pattern=r"^[A-Za-z0-9-]+$")],
    note: Annotated[str, Form(max_length=2000)] = "",
) -> Response:
    """One more; its file name is never used."""
    try:
        verbs.keep_photo(state.store, me.actor, job_id, photo.file.read(), note, token, state.clock())
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _page(request, state, job_id, note, refusal)
    return RedirectResponse(Urls.act(job_id, "photos"), 303)


@router.post("/jobs/{job_id}/photos/take-back")
def take_back(state: State, me: Me, job_id: Number, form: Annotated[IdForm, Form()]) -> Response:
    """Mark one as taken back."""
    verbs.take_photo_back(state.store, me.actor, job_id, form.id, state.clock())
    return RedirectResponse(Urls.act(job_id, "photos"), 303)


@router.get("/photos/{photo_id}.jpg")
def picture(state: State, photo_id: Number) -> Response:
    """The picture. It never changes, so the browser may keep it; nobody between may."""
    data = verbs.picture(state.store, photo_id)
    return Response(data, media_type="image/jpeg", headers={"cache-control": "private, max-age=86400, immutable"})
