"""The lime house on its round: motors with their tasks, half a year of frame temperatures and amps, some of it due."""

from __future__ import annotations

from datetime import datetime, timedelta
from random import Random

from demo.works import PEOPLE
from grimcoil.core.people import Actor, Role
from grimcoil.core.rounds.tasks import Task
from grimcoil.service.rounds import RoundKept, keep, put_on, set_task, stop
from grimcoil.service.tasks import add
from grimcoil.store.engine import Store

ON_THE_ROUND = ("DD-206", "DD-207", "DD-215", "LK-301", "LK-305", "LK-312", "LK-320")
USUAL_C = {"DD-206": 47.0, "DD-207": 49.0, "LK-320": 58.0}
SIZES = {"DD-206": ("130 x 31 x 60", "110 x 27 x 50")}
MONTHS = 6


def seed_rounds(store: Store, now: datetime, tags: tuple[str, ...] = ON_THE_ROUND) -> None:
    """Every motor of the round, monthly figures, the last of them a month ago; what was seen and asked for since."""
    who = next(person for person in PEOPLE if "Schilf" in person)
    actor = Actor(None, who, Role.ELECTRICIAN, login="schilf")
    dice = Random(612)
    for tag in tags:
        begun = now - timedelta(days=30 * (MONTHS + 1))
        put_on(store, actor, tag, begun)
        if tag in SIZES:
            drive, other = SIZES[tag]
            set_task(store, actor, tag, {"task": "grease", "bearing_drive": drive, "bearing_other": other}, begun)
        for month in range(MONTHS):
            at = begun + timedelta(days=30 * (month + 1))
            for task in (Task.LISTEN, Task.FRAME):
                text = f"{dice.gauss(USUAL_C.get(tag, 44.0), 1.2):.0f}" if task is Task.FRAME else ""
                loaded = True if task is Task.FRAME else None
                keep(store, actor, tag, RoundKept(task, "done", text, "", loaded), f"demo-{tag}-{month}-{task[:4]}", at)
        last = now - timedelta(days=28)
        for task in (Task.VENTS, Task.BOX, Task.CLEAN):
            if any(one.task == task for one in stop(store, tag, last.date()).tasks):
                keep(store, actor, tag, RoundKept(task, "done"), f"demo-{tag}-last-{task[:4]}", last)
    if "LK-312" in tags:
        seen = now - timedelta(days=9)
        keep(
            store,
            actor,
            "LK-312",
            RoundKept(Task.LISTEN, "observed", words="quieter after greasing"),
            "demo-seen-1",
            seen,
        )
        keep(store, actor, "LK-305", RoundKept(Task.VENTS, "observed", words="blocked vents"), "demo-seen-2", seen)
        asked = {
            "what": "New cable gland at the box",
            "by": f"{now + timedelta(days=12):%Y-%m-%d}",
            "because": "It is cracked.",
        }
        add(store, actor, "DD-206", asked, "demo-task-1", now)
