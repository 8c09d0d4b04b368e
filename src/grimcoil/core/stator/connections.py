"""How leads are joined for a voltage, a speed or a start (NEMA MG-1 part 2, IEC 60034-8; standards, from memory)."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.stator.coils import Group


@dataclass(frozen=True, slots=True)
class Connection:
    """One right way to join the leads of a scheme.

    purpose: what for, in words. letter: `Y` or `D` as the lines see it. level: `high` or `low` voltage of those
    with this letter. lines: leads on L1, L2, L3. joined: leads joined with one another. speed, mode (`start`,
    `run`) and duty (`constant-torque`, `constant-power`, `variable-torque`) where they choose. open: leads left open.
    """

    scheme: str
    purpose: str
    letter: str
    level: str
    lines: tuple[Group, Group, Group]
    joined: tuple[Group, ...] = ()
    speed: str | None = None
    mode: str = "run"
    duty: str | None = None

    @property
    def lines_text(self) -> str:
        """`1-7 2-8 3-9`."""
        return " ".join("-".join(group) for group in self.lines)

    @property
    def joined_text(self) -> str:
        """`4-5-6`."""
        return " ".join("-".join(group) for group in self.joined)


def groups(text: str) -> tuple[Group, ...]:
    """`1-7 2-8` to groups of leads."""
    return tuple(tuple(group.split("-")) for group in text.split())


_RING, _TAPPED = "two-speed-one-winding-delta", "two-speed-one-winding-wye"
_TORQUE, _POWER, _VARIABLE = "constant-torque", "constant-power", "variable-torque"

# scheme, purpose, letter, level, lines, joined, speed, mode, duty
_TABLE: tuple[tuple[str, str, str, str, str, str, str | None, str, str | None], ...] = (
    ("three-lead-wye", "run", "Y", "high", "1 2 3", "", None, "run", None),
    ("three-lead-delta", "run", "D", "high", "1 2 3", "", None, "run", None),
    ("six-lead", "star", "Y", "high", "1 2 3", "4-5-6", None, "run", None),
    ("six-lead", "delta", "D", "high", "1-6 2-4 3-5", "", None, "run", None),
    ("six-lead", "star to start", "D", "high", "1 2 3", "4-5-6", None, "start", None),
    ("nine-lead-wye", "high voltage", "Y", "high", "1 2 3", "4-7 5-8 6-9", None, "run", None),
    ("nine-lead-wye", "low voltage", "Y", "low", "1-7 2-8 3-9", "4-5-6", None, "run", None),
    ("nine-lead-delta", "high voltage", "D", "high", "1 2 3", "4-7 5-8 6-9", None, "run", None),
    ("nine-lead-delta", "low voltage", "D", "low", "1-6-7 2-4-8 3-5-9", "", None, "run", None),
    ("twelve-lead", "high star", "Y", "high", "1 2 3", "4-7 5-8 6-9 10-11-12", None, "run", None),
    ("twelve-lead", "high delta", "D", "high", "1-12 2-10 3-11", "4-7 5-8 6-9", None, "run", None),
    ("twelve-lead", "low star", "Y", "low", "1-7 2-8 3-9", "4-5-6 10-11-12", None, "run", None),
    ("twelve-lead", "low delta", "D", "low", "1-6-7-12 2-4-8-10 3-5-9-11", "", None, "run", None),
    ("part-winding", "both windings", "Y", "low", "1-7 2-8 3-9", "", None, "run", None),
    ("part-winding", "one winding to start", "Y", "low", "1 2 3", "", None, "start", None),
    ("two-speed-two-winding", "low speed", "Y", "high", "1 2 3", "", "low", "run", None),
    ("two-speed-two-winding", "high speed", "Y", "high", "11 12 13", "", "high", "run", None),
    (_RING, "low speed, delta", "D", "high", "1 2 3", "", "low", "run", _TORQUE),
    (_RING, "high speed, two stars", "Y", "low", "6 4 5", "1-2-3", "high", "run", _TORQUE),
    (_RING, "low speed, two stars", "Y", "low", "1 2 3", "4-5-6", "low", "run", _POWER),
    (_RING, "high speed, delta", "D", "high", "6 4 5", "", "high", "run", _POWER),
    (_TAPPED, "low speed, star", "Y", "high", "1 2 3", "", "low", "run", _VARIABLE),
    (_TAPPED, "high speed, two stars", "Y", "low", "6 4 5", "1-2-3", "high", "run", _VARIABLE),
)


def _made(row: tuple[str, str, str, str, str, str, str | None, str, str | None]) -> Connection:
    scheme, purpose, letter, level, lines, joined, speed, mode, duty = row
    first, second, third = groups(lines)
    return Connection(scheme, purpose, letter, level, (first, second, third), groups(joined), speed, mode, duty)


CONNECTIONS: tuple[Connection, ...] = tuple(_made(row) for row in _TABLE)


def connections_of(
    scheme: str, speed: str | None = None, mode: str = "run", duty: str | None = None
) -> list[Connection]:
    """The right connections of a scheme for a speed, a start or a duty; None leaves that open."""
    return [
        one
        for one in CONNECTIONS
        if one.scheme == scheme
        and one.mode == mode
        and (speed is None or one.speed in (None, speed))
        and (duty is None or one.duty in (None, duty))
    ]
