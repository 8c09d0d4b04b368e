"""A motor from the side, the place of a task come forward; and the stops of a round as a line."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

from grimcoil.core.rounds.tasks import Task
from grimcoil.draw.svg import circle, figure, n, path, text

PLACES = {
    Task.LISTEN: "both bearings", Task.FRAME: "drive side of the frame, same spot each time",
    Task.VENTS: "inlets and fan cover",
    Task.BOX: "lid and glands of the box", Task.GREASE: "both fittings", Task.CLEAN: "all round",
    Task.AMPS: "at the starter", Task.VOLTS: "at the starter", Task.BRUSHES: "under the brush cover",
    Task.STARTER: "at the starter",
}  # fmt: skip


@lru_cache(maxsize=32)
def motor_side(task: str) -> str:
    """540 x 280; task: one of the tasks, or empty."""
    on = {place: " on" if task in tasks else "" for place, tasks in {
        "vents": (Task.VENTS,), "box": (Task.BOX,), "grease": (Task.GREASE,), "listen": (Task.LISTEN,),
        "frame": (Task.FRAME,), "body": (Task.CLEAN,),
    }.items()}  # fmt: skip
    out = [
        path("M90 60H420V236H90Z", f"mbody{on['body']}"),
        path("".join(f"M90 {76 + i * 16}H420" for i in range(10)), "fin2"),
    ]
    out += [path("M420 72H446L452 92V204L446 224H420Z", "mshield"), path("M90 72H70V224H90Z", "mshield")]
    out += [path("M452 138H520V158H452Z", "mshaft"), path("M470 142H516V150H470Z", "mkey")]
    out.append(path("M70 84C20 84 8 96 8 148S20 212 70 212Z", "mcowl"))
    out.append(path("".join(f"M22 {108 + i * 14}H50" for i in range(6)), f"mslot{on['vents']}"))
    out += [path("M196 10H312V60H196Z", f"mbox{on['box']}"), path("M206 20H302", "fin2")]
    out.append(path("M110 236H170V254H110ZM340 236H400V254H340ZM80 254H430", "mfoot"))
    for x in (436, 80):
        out.append(path(f"M{x} 72V46M{x - 6} 46h12", f"nip{on['grease']}"))
        if on["listen"]:
            out.append(circle(x, 148, 24, "spot on"))
    spot = "M255 148m-26 0a26 26 0 1 1 52 0a26 26 0 1 1 -52 0M255 112v-12M255 184v12M219 148h-12M291 148h12"
    out.append(path(spot, "spot on") if on["frame"] else "")
    words = PLACES[Task(task)] if task else "nothing is due here"
    return figure(
        540,
        290,
        f"The motor from the side: {words}.",
        "".join(out) + text(270, 284, words, "cap", "middle"),
        "motor-side",
    )


def route(stops: Sequence[tuple[str, str]], width: float) -> str:
    """The walk as a line of stops; each a tag and `done`, `now` or `due`. At most nine are drawn, round the one now."""
    at = next((i for i, (_, state) in enumerate(stops) if state == "now"), 0)
    first = max(0, min(at - 3, len(stops) - 9))
    shown = stops[first : first + 9]
    left, right = 50.0, width - 50.0
    step = (right - left) / max(1, len(shown) - 1)
    out = [path(f"M{n(left)} 24H{n(right)}", "w")]
    for i, (tag, state) in enumerate(shown):
        x = left + i * step
        if state == "now":
            out.append(path(f"M{n(x - 10)} 11l22 13-22 13Z", "ptr-s"))
        else:
            out.append(circle(x, 24, 9 if state == "done" else 7, "stop-done" if state == "done" else "nd"))
        out.append(text(x, 56, tag, "lnn" if state == "now" else "ax", "middle"))
    label = f"Stop {at + 1} of {len(stops)}: " + ", ".join(f"{tag} {state}" for tag, state in shown)
    return figure(width, 66, label, "".join(out), "round-route")
