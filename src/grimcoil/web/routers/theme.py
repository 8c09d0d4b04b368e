"""Day or night, kept in a cookie."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Form
from starlette.responses import RedirectResponse

from grimcoil.web.again import Again
from grimcoil.web.forms.base import Form as Base
from grimcoil.web.signed import local
from grimcoil.web.urls import Urls

router = APIRouter(route_class=Again)


class ThemeForm(Base):
    """What was picked, and where to go back to."""

    theme: Literal["light", "dark"]
    back: str = "/"


@router.post(Urls.theme)
def set_theme(form: Annotated[ThemeForm, Form()]) -> RedirectResponse:
    """Keep the choice for a year and go back."""
    answer = RedirectResponse(local(form.back), 303)
    answer.set_cookie("theme", form.theme, max_age=31_536_000, httponly=True, samesite="strict")
    return answer
