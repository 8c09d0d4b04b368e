"""The fleet on one page: what fell most, what is worst where it matters, the oldest, the most rewound."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

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


def fleet(store: Store) -> Fleet:
    """Four queries, whatever the number of motors."""
    with store() as session:
        found = rows.heads(session, SHOWN)
    return Fleet(found["by_matter"], found["by_fall"], found["by_age"], found["by_rewinds"])
