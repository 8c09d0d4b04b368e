"""One line of the register as HTML. A line depends on nothing but its row and the day, so it is kept once made."""

from __future__ import annotations

import json
import math
from datetime import date
from functools import lru_cache

from markupsafe import Markup

from grimcoil.core.amount import Amount
from grimcoil.draw.spark import spark
from grimcoil.service.stores import RegisterRow
from grimcoil.web.templating import environment


@lru_cache(maxsize=8192)
def register_line(row: RegisterRow, today: date, choose: bool = False, chosen: bool = False) -> Markup:
    """The line of a motor, escaped by its template; choose: with a box to tick."""
    line = environment().get_template("motors/_line.html")
    return Markup(line.render(m=row, today=today, spark=_spark(row), choose=choose, chosen=chosen))  # noqa: S704


def _spark(row: RegisterRow) -> str:
    """The small trend, drawn from the kept figures."""
    if not row.spark or not row.minimum_mohm:
        return ""
    return spark(
        [
            (date.fromisoformat(day), None if low is None else Amount(low, math.inf if high is None else high), winding)
            for day, low, high, winding in json.loads(row.spark)
        ],
        row.minimum_mohm,
    )
