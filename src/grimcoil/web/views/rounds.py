"""A stop of a round as its page shows it: the task in hand, what it asks, what was seen and what that opens."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from grimcoil.core.rounds.tasks import EVERY, MONTH_H, Bearing, Kind, Task, grease_g, grease_hours, months_of
from grimcoil.core.side.wear import BRUSH_GEAR, OBSERVATIONS
from grimcoil.draw.motor_side import motor_side, route
from grimcoil.service.rounds import Stop, StopLine, TaskLine

OPENS = {name: opens for name, (_, opens) in OBSERVATIONS.items() if name != "nothing"}
# What asks for a job at once rather than at the next chance.
STARTS_JOB = frozenset(name for name, (verdict, _) in OBSERVATIONS.items() if verdict == "act")


@dataclass(frozen=True, slots=True)
class StopShown:
    """The page of a stop. grease: words on grams and hours where the task is to grease."""

    stop: Stop
    area: str
    stops: Sequence[StopLine]
    task: TaskLine | None
    kind: Kind | None
    grease: Sequence[str]
    side: str
    wide: str
    small: str
    following: str
    opens: str


def words_of(task: str) -> list[str]:
    """What can be seen at a task; of brush gear only where brushes are looked at."""
    return [name for name in OPENS if name not in BRUSH_GEAR or task == Task.BRUSHES]


def stop_shown(stop: Stop, stops: Sequence[StopLine], area: str, task: str) -> StopShown:
    """With the task asked for, else the first that is due."""
    now = next((one for one in stop.tasks if one.task == task), stop.due[0] if stop.due else None)
    tags = [one.tag for one in stops]
    at = tags.index(stop.motor.tag) if stop.motor.tag in tags else -1
    line = [(tag, "now" if tag == stop.motor.tag else "due") for tag in tags]
    if at < 0 and area:
        line = [(stop.motor.tag, "now"), *line]
    following = tags[(at + 1) % len(tags)] if len(tags) > (1 if at >= 0 else 0) else ""
    kind = EVERY.get(Task(now.task)) if now else None
    grease = grease_words(now.bearings or {}, _speed(stop)) if now is not None and now.task == Task.GREASE else []
    seen = next(
        (one.line.words for one in stop.said if one.line.outcome == "observed" and not one.line.taken_back_at), ""
    )
    return StopShown(
        stop, area, stops, now, kind, grease, motor_side(now.task if now else ""), route(line, 860) if line else "",
        route(line[max(0, at - 1) : at + 3], 366) if line else "", following,
        OPENS.get(seen, "") and f"Seen: {seen}. Next: {OPENS[seen]}.",
    )  # fmt: skip


def _speed(stop: Stop) -> float | None:
    return None if stop.motor.speed_rpm is None else float(stop.motor.speed_rpm)


def grease_words(bearings: Mapping[str, Mapping[str, float]], speed_rpm: float | None) -> list[str]:
    """Grams for each end, and how often by the makers' rule where the speed is known.

    >>> grease_words({"drive": {"outside_mm": 85, "width_mm": 19, "bore_mm": 45}}, None)
    ['drive end: 8.1 g']
    """
    out = []
    for end, sizes in bearings.items():
        one = Bearing(**sizes)
        words = f"{end} end: {grease_g(one):.1f} g"
        if speed_rpm is not None and 10 <= speed_rpm <= 30_000:
            hours = grease_hours(one, speed_rpm)
            months = months_of(hours, MONTH_H)
            words += (
                f"; by the makers' rule every {hours:.0f} h running, {months} month{'s' * (months > 1)} without a break"
            )
        out.append(words)
    return out


def sizes_text(bearings: Mapping[str, Mapping[str, float]] | None, end: str) -> str:
    """`85 x 19 x 45` as it is typed."""
    one = (bearings or {}).get(end)
    return "" if one is None else f"{one['outside_mm']:g} x {one['width_mm']:g} x {one['bore_mm']:g}"
