"""Keeping people and shared devices: for administrators."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Form, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import Forbidden, Refusal
from grimcoil.core.people import Role
from grimcoil.service import people as verbs
from grimcoil.web.again import Again
from grimcoil.web.errors import status_of
from grimcoil.web.forms.people import DeviceForm, IdForm, LoginForm, PersonForm
from grimcoil.web.signed import DEVICE_LASTS_S, Me, set_cookie
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)
_PAGE_ROLES = tuple(role.value for role in Role if role is not Role.ADMINISTRATOR)


@router.get(Urls.people)
def everyone(request: Request, state: State, me: Me) -> Response:
    """The list."""
    return _page(request, state, me, PersonForm(), None)


def _page(request: Request, state: AppState, me: Me, form: PersonForm, refusal: Refusal | None) -> Response:
    if isinstance(refusal, Forbidden):
        raise refusal
    listed = verbs.people(state.store, me.actor)
    context = {"place": "works", "listed": listed, "form": form, "refusal": refusal, "roles": _PAGE_ROLES}
    status = 200 if refusal is None else status_of(refusal)
    return state.templates.TemplateResponse(request, "people/list.html", context, status_code=status)


def _changed(
    request: Request, state: AppState, me: Me, change: Callable[[], object], form: PersonForm | None = None
) -> Response:
    """Back to the list after a change; the list with the refusal where it was refused."""
    try:
        change()
    except Refusal as refusal:
        return _page(request, state, me, form or PersonForm(), refusal)
    return RedirectResponse(Urls.people, 303)


@router.post(Urls.keeping("add"))
def add(request: Request, state: State, me: Me, form: Annotated[PersonForm, Form()]) -> Response:
    """Someone new."""
    new = verbs.NewPerson(form.login, form.name, form.role, form.password, form.under)
    return _changed(
        request, state, me, lambda: verbs.add_person(state.store, me.actor, new, state.clock()), form
    )  # fmt: skip


@router.post(Urls.keeping("remove"))
def remove(request: Request, state: State, me: Me, form: Annotated[LoginForm, Form()]) -> Response:
    """Someone leaves: their sign-ins and tokens end at once."""
    store, now = state.store, state.clock()
    return _changed(request, state, me, lambda: verbs.remove_person(store, me.actor, form.login, now))


@router.post(Urls.keeping("role"))
def role(request: Request, state: State, me: Me, form: Annotated[LoginForm, Form()]) -> Response:
    """Another role."""
    store, now = state.store, state.clock()
    return _changed(
        request, state, me, lambda: verbs.change_role(store, me.actor, form.login, form.role, form.under, now)
    )  # fmt: skip


@router.post(Urls.keeping("password"))
def password(request: Request, state: State, me: Me, form: Annotated[LoginForm, Form()]) -> Response:
    """A new password for someone who forgot theirs."""
    store, now = state.store, state.clock()
    return _changed(
        request, state, me, lambda: verbs.reset_password(store, me.actor, form.login, form.password, now)
    )  # fmt: skip


@router.post(Urls.keeping("devices"))
def enrol(request: Request, state: State, me: Me, form: Annotated[DeviceForm, Form()]) -> Response:
    """The browser that asks becomes a shared device."""
    try:
        token = verbs.enrol_device(state.store, me.actor, form.name, state.clock())
    except Refusal as refusal:
        return _page(request, state, me, PersonForm(), refusal)
    answer = RedirectResponse(Urls.people, 303)
    set_cookie(answer, state.settings, "device", token, DEVICE_LASTS_S)
    return answer


@router.post(Urls.keeping("devices/revoke"))
def revoke(state: State, me: Me, form: Annotated[IdForm, Form()]) -> Response:
    """PINs stop working there."""
    verbs.revoke_device(state.store, me.actor, form.id, state.clock())
    return RedirectResponse(Urls.people, 303)
