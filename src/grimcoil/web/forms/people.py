"""Form bodies of signing in and of keeping people."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from grimcoil.web.forms.base import Form, Token

Secret = Annotated[str, Field(max_length=200)]
Line = Annotated[str, Field(max_length=200)]


class SignInForm(Form):
    """By password, or on an enrolled device by PIN."""

    login: Line = ""
    password: Secret = ""
    pin: Annotated[str, Field(max_length=20)] = ""
    next: Annotated[str, Field(max_length=300)] = "/"
    page_word: Annotated[str, Field(max_length=60)] = ""


class OutForm(Form):
    """Here, or everywhere."""

    everywhere: Annotated[str, Field(max_length=3)] = ""


class PasswordForm(Form):
    """The old one, and the new one twice."""

    secret: Secret = ""
    password: Secret = ""
    again: Secret = ""
    keys: str = ""


class PinForm(Form):
    """The password, and the PIN; an empty one takes it away."""

    secret: Secret = ""
    pin: Annotated[str, Field(max_length=20)] = ""


class TokenForm(Form):
    """A new API token."""

    name: Line = ""
    read: Annotated[str, Field(max_length=3)] = ""
    record: Annotated[str, Field(max_length=3)] = ""
    register_: Annotated[str, Field(max_length=3, alias="register")] = ""
    calendar: Annotated[str, Field(max_length=3)] = ""


class IdForm(Form):
    """One of a list."""

    id: int


class GoneForm(IdForm):
    """One of a list that goes, with the reason where somebody else kept it."""

    reason: str = ""


class PersonForm(Form):
    """Someone to add."""

    login: Line = ""
    name: Line = ""
    role: Line = "electrician"
    under: Line = ""
    password: Secret = ""


class LoginForm(Form):
    """Someone on the list; with a role or a password, what is to become of them."""

    login: Line
    role: Line = ""
    under: Line = ""
    password: Secret = ""


class DeviceForm(Form):
    """A name for this device."""

    name: Line = ""


class AmendForm(Form):
    """What is to be put right in a signed job, and the secret that signs it."""

    place: Annotated[str, Field(max_length=60)] = ""
    text: Annotated[str, Field(max_length=500)] = ""
    reason: Annotated[str, Field(max_length=2000)] = ""
    secret: Secret = ""
    token: Token
