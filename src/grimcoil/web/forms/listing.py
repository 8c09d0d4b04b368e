"""What the list of motors is narrowed to and how it is sorted, as it lives in the address."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, fields
from typing import Annotated, Literal
from urllib.parse import parse_qsl, urlencode

from fastapi import Query

from grimcoil.core.findings import Verdict
from grimcoil.service import today
from grimcoil.web.urls import Urls

SORTED = {
    "area": "By area",
    "worst": "Worst first",
    "due": "Longest due first",
    "insulation": "Lowest insulation first",
}
STANDINGS = {"open": "Job open", "untested": "Never tested", "tested": "Tested"}
MOST_TAGS = 200  # that are ticked at once
Tags = Annotated[Sequence[Annotated[str, Query(max_length=60)]], Query(max_length=MOST_TAGS)]
Word = Annotated[str, Query(max_length=100)]


@dataclass(frozen=True, slots=True)
class Filtered:
    """What the list is narrowed to, as it lives in the address."""

    q: str
    area: str
    verdict: str
    standing: str
    scheme: str
    due: str
    sort: str

    def asked(self, after: str) -> today.Asked:
        """For the service."""
        named = {"area": self.area, "verdict": self.verdict, "standing": self.standing, "scheme": self.scheme}
        named["due_month"] = "" if self.due == "overdue" else self.due
        filters = {name: value for name, value in named.items() if value}
        return today.Asked(self.q, filters, self.due == "overdue", f"by_{self.sort}", after)

    def address(self, **changed: str) -> str:
        """The list with something changed; a new choice begins at its first page."""
        given = {name: value for name, value in (asdict(self) | changed).items() if value}
        if given.get("sort") == "area":
            del given["sort"]
        return Urls.motors + (f"?{urlencode(given)}" if given else "")

    @property
    def fields(self) -> list[tuple[str, str]]:
        """The same as a form sends it."""
        return [(name, value) for name, value in asdict(self).items() if value]

    @property
    def narrowed(self) -> bool:
        """Whether anything is left out."""
        return any((self.q, self.area, self.verdict, self.standing, self.scheme, self.due))


MOST_FIELDS = 50


def plain_address(query: str) -> str:
    """The address of a list from what a form says it is: the names of its filters alone, whatever else stands there."""
    names = {field.name for field in fields(Filtered)}
    asked = query.partition("?")[2]
    given = dict(parse_qsl(asked)) if asked.count("&") <= MOST_FIELDS else {}  # no form of ours sends so many
    kept = {name: value[:100] for name, value in given.items() if name in names and value}
    return Urls.motors + (f"?{urlencode(kept)}" if kept else "")


def filtered(
    q: Word = "",
    area: Word = "",
    verdict: Literal[""] | Verdict = "",
    standing: Literal["", "open", "untested", "tested"] = "",
    scheme: Word = "",
    due: Annotated[str, Query(pattern=r"^(|overdue|\d{4}-\d{2})$")] = "",
    sort: Literal["area", "worst", "due", "insulation"] = "area",
) -> Filtered:
    """Out of the address."""
    return Filtered(q, area, str(verdict), standing, scheme, due, sort)
