"""The fleet on one page: what fell most, what is worst where it matters, the oldest, the most rewound."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from grimcoil.core.fleet import Area, Margin, areas_of, by_need
from grimcoil.store import fleet as rows
from grimcoil.store.engine import Store
from grimcoil.store.fleet import FleetLine

SHOWN = 10


@dataclass(frozen=True, slots=True)
class Fleet:
    """The heads of the four orders. matter: act and watch, critical places first; fell: R40 to half or less of the test
    before.
    """

    matter: Sequence[FleetLine]
    fell: Sequence[FleetLine]
    oldest: Sequence[FleetLine]
    rewound: Sequence[FleetLine]


@dataclass(frozen=True, slots=True)
class Margins:
    """Every motor in the order of need, its areas, and the one chosen."""

    motors: Sequence[Margin]
    areas: Sequence[Area]
    chosen: Margin | None

    @property
    def counted(self) -> Counter[str]:
        """How many have each verdict."""
        return Counter(one.verdict for one in self.motors)


def margins(store: Store, today: date, stop: date | None = None, chosen: str = "") -> Margins:
    """One query, whatever the number of motors. chosen: a tag; one that isn't there chooses none."""
    with store() as session:
        lines = rows.margins(session)
    found = [_margin(line) for line in lines]
    return Margins(
        by_need(found, today, stop), areas_of(found), next((one for one in found if one.tag == chosen), None)
    )


def _margin(line: rows.MarginLine) -> Margin:
    def day(text: str | None) -> date | None:
        return date.fromisoformat(text) if text else None

    return Margin(
        line.tag, line.place or "", line.area or "", line.verdict, line.criticality == "critical", line.r40_low_mohm,
        line.r40_high_mohm, line.minimum_mohm, line.slope is not None, day(line.earliest), day(line.on),
        day(line.latest), line.due, line.why or "",
    )  # fmt: skip


def fleet(store: Store) -> Fleet:
    """Four queries, whatever the number of motors."""
    with store() as session:
        found = rows.heads(session, SHOWN)
    return Fleet(found["by_matter"], found["by_fall"], found["by_age"], found["by_rewinds"])
