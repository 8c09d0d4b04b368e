"""Signing in and out, and what each person keeps of their own: password, PIN, sign-ins, API tokens."""

from __future__ import annotations

import hmac
from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import RecordRefusal, Refusal, WrongSecret
from grimcoil.service import people, signing_in
from grimcoil.service.secrets import new_token
from grimcoil.web.again import Again
from grimcoil.web.errors import status_of
from grimcoil.web.forms.people import IdForm, OutForm, PasswordForm, PinForm, SignInForm, TokenForm
from grimcoil.web.signed import Me, cookie_name, local, origin_of, set_cookie
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls

public = APIRouter(route_class=Again)
router = APIRouter(route_class=Again)


@public.get(Urls.sign_in)
def sign_in_form(
    request: Request, state: State, next: Annotated[str, Query(max_length=300)] = "/"  # noqa: A002
) -> Response:  # fmt: skip
    """By password; on an enrolled device also by name and PIN."""
    return _sign_in_page(request, state, SignInForm(next=local(next)), None)


@public.get(Urls.sign_in_here)
def sign_in_here(request: Request, state: State) -> Response:
    """The same over the page at which a session ended; without a PIN it says why there is none."""
    return _sign_in_page(request, state, SignInForm(next=Urls.today), None, "signing/_here.html")


def _sign_in_page(
    request: Request,
    state: AppState,
    form: SignInForm,
    refusal: Refusal | None,
    template: str = "signing/sign_in.html",
) -> Response:
    device_token = request.cookies.get(cookie_name(state.settings, "device"), "")
    device, here = people.pin_people(state.store, device_token)
    word = request.cookies.get(cookie_name(state.settings, "form"), "") or new_token()
    context = {
        "place": "",
        "form": form,
        "refusal": refusal,
        "device": device,
        "here": here,
        "word": word,
        "demo": state.settings.demo,
    }
    status = 200 if refusal is None else status_of(refusal)
    answer = state.templates.TemplateResponse(request, template, context, status_code=status)
    set_cookie(answer, state.settings, "form", word, 3600)
    return answer


@public.post(Urls.sign_in)
def sign_in(request: Request, state: State, form: Annotated[SignInForm, Form()]) -> Response:
    """A new sign-in; the one before on this browser ends."""
    settings, now, origin = state.settings, state.clock(), origin_of(request)
    word = request.cookies.get(cookie_name(settings, "form"), "")
    if not word or not hmac.compare_digest(word.encode(), form.page_word.encode()):
        return _sign_in_page(request, state, form, WrongSecret("Sign in", "", "this page was open too long: once more"))
    try:
        if form.pin:
            device = request.cookies.get(cookie_name(settings, "device"), "")
            opened = signing_in.switch_in(state.store, form.login, form.pin, device, origin, now)
        else:
            opened = signing_in.sign_in(state.store, form.login, form.password, origin, now)
    except Refusal as refusal:
        return _sign_in_page(request, state, form, refusal)
    old = signing_in.who_is(
        state.engine, state.store, request.cookies.get(cookie_name(settings, "session"), ""), origin, now
    )  # fmt: skip
    if old is not None:
        signing_in.sign_out(state.store, old, now)
    answer = RedirectResponse(local(form.next), 303)
    set_cookie(answer, settings, "session", opened.token)
    return answer


@router.post(Urls.sign_out)
def sign_out(state: State, me: Me, form: Annotated[OutForm, Form()]) -> Response:
    """Here, or everywhere."""
    signing_in.sign_out(state.store, me, state.clock(), form.everywhere == "yes")
    answer = RedirectResponse(Urls.sign_in, 303)
    set_cookie(answer, state.settings, "session", "", 0)
    return answer


@router.get(Urls.me)
def own(request: Request, state: State, me: Me) -> Response:
    """What is theirs."""
    return _own_page(request, state, me, None)


def _own_page(
    request: Request, state: AppState, me: Me, refusal: Refusal | None, made: str = "", at: str = ""
) -> Response:  # fmt: skip
    now = state.clock()
    context = {
        "place": "",
        "own": people.own(state.store, me.actor, now),
        "signed": me,
        "refusal": refusal,
        "made": made,
        "at": at,
        "now": now,
    }
    status = 200 if refusal is None else status_of(refusal)
    return state.templates.TemplateResponse(request, "signing/me.html", context, status_code=status)


@router.post(Urls.own("password"))
def password(request: Request, state: State, me: Me, form: Annotated[PasswordForm, Form()]) -> Response:
    """A new password; every sign-in ends, this one too."""
    try:
        signing_in.confirm(state.store, me.actor, form.secret, state.clock())
        if form.password != form.again:
            raise RecordRefusal("password", "", "the same new password twice")
        if people.own(state.store, me.actor, state.clock()).has_keys and form.keys not in ("end", "stay"):
            raise RecordRefusal("keys", "", "whether your API tokens and your PIN end too")
        people.change_own_password(state.store, me.actor, form.password, state.clock(), form.keys == "end")
    except Refusal as refusal:
        return _own_page(request, state, me, refusal, at="password")
    return RedirectResponse(Urls.sign_in, 303)


@router.post(Urls.own("pin"))
def pin(request: Request, state: State, me: Me, form: Annotated[PinForm, Form()]) -> Response:
    """A PIN for shared devices."""
    try:
        if signing_in.confirm(state.store, me.actor, form.secret, state.clock()) != "password":
            raise WrongSecret("PIN", "", "your password: a PIN can't change a PIN")
        people.set_own_pin(state.store, me.actor, form.pin.strip(), state.clock())
    except Refusal as refusal:
        return _own_page(request, state, me, refusal, at="pin")
    return RedirectResponse(Urls.me, 303)


@router.post(Urls.own("tokens"))
def make_token(request: Request, state: State, me: Me, form: Annotated[TokenForm, Form()]) -> Response:
    """A new token, shown once."""
    given = {"read": form.read, "record": form.record, "register": form.register_}
    given["calendar"] = form.calendar
    scopes = [scope for scope, ticked in given.items() if ticked]
    try:
        made = people.make_token(state.store, me.actor, form.name, scopes, state.clock())
    except Refusal as refusal:
        return _own_page(request, state, me, refusal, at="tokens")
    return _own_page(request, state, me, None, made)


@router.post(Urls.own("tokens/revoke"))
def revoke_token(state: State, me: Me, form: Annotated[IdForm, Form()]) -> Response:
    """One's own token ends."""
    people.revoke_token(state.store, me.actor, form.id, state.clock())
    return RedirectResponse(Urls.me, 303)
