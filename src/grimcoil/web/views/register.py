"""One line of the register as HTML. A line depends on nothing but its row and the day, so it is kept once made."""

from __future__ import annotations

from datetime import date
from functools import lru_cache

from markupsafe import Markup

from grimcoil.service.stores import RegisterRow
from grimcoil.web.templating import environment


@lru_cache(maxsize=8192)
def register_line(row: RegisterRow, today: date) -> Markup:
    """The line of a motor, escaped by its template."""
    return Markup(environment().get_template("motors/_line.html").render(m=row, today=today))  # noqa: S704
