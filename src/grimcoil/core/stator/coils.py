"""Coils with a start and a finish, the joints made inside, and the leads that come out."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

Group = tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Coil:
    """A coil between two ends. `axis_deg`: its magnetic axis, electrical degrees, start to finish.

    part: which of several separate windings it belongs to (`low`, `high`), empty where there is one.
    """

    start: str
    finish: str
    axis_deg: float
    part: str = ""

    @property
    def name(self) -> str:
        """`1-4`: start, then finish; a finish that never comes out goes unnamed."""
        return f"{self.start}-{self.finish}" if self.finish.isdigit() else self.start


@dataclass(frozen=True, slots=True)
class Scheme:
    """A lead scheme: half-coils, joints made inside (groups of coil ends), and the ends led out.

    leads: (lead label, coil end) in the order of the terminal box.
    """

    name: str
    title: str
    coils: tuple[Coil, ...]
    joints: tuple[Group, ...]
    leads: tuple[tuple[str, str], ...]

    @property
    def labels(self) -> tuple[str, ...]:
        """Lead labels in order."""
        return tuple(label for label, _ in self.leads)

    def end_of(self, label: str) -> str:
        """The coil end behind a lead."""
        return dict(self.leads)[label]


def merged(names: Iterable[str], groups: Iterable[Iterable[str]]) -> dict[str, int]:
    """Number of the node each name lies on once the groups are joined; 0, 1, … in the order of the names.

    >>> merged(["1", "2", "3"], [("1", "3")])
    {'1': 0, '2': 1, '3': 0}
    """
    leader = {name: name for name in names}

    def find(name: str) -> str:
        while leader[name] != name:
            name = leader[name]
        return name

    for group in groups:
        first, *rest = group
        for other in rest:
            leader[find(other)] = find(first)
    numbers: dict[str, int] = {}
    return {name: numbers.setdefault(find(name), len(numbers)) for name in leader}
