"""A drying as its page shows it: drawings, the cycles so far, what comes next and what it asks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from grimcoil.core.drying.cycle import Act, Stage, wanted
from grimcoil.core.drying.judge import HOT_C, RISE_K_PER_H, WARM_C, WET_C, Read, Warm
from grimcoil.core.errors import Refusal
from grimcoil.core.fields import CURRENT
from grimcoil.core.findings import Verdict
from grimcoil.core.insulation.minimum import minimum_mohm
from grimcoil.core.readings import parse_reading
from grimcoil.draw.drying import Reading, curve_figure, hookup_figure
from grimcoil.service.dryings import DryingEntryLine, DryingView

HOOKUP_WORDS = {
    "series": "All three in series: all carry the same",
    "one-and-two": "Wye: one phase to the other two joined",
    "delta-two": "Delta: across one side",
}
ACT_WORDS = {
    Act.HEAT_ON: "Heat on", Act.HEAT: "Heat", Act.HEAT_OFF: "Heat off", Act.SHORTED: "Shorted to frame",
    Act.FREED: "Strap off", Act.READ: "Insulation", Act.ROTATED: "Rotated",
}  # fmt: skip
ASKS = {
    Act.HEAT_ON: ("Heat on", "DC set on the leads as drawn. Begin with 10 to 25 % of rated amps."),
    Act.HEAT: ("Amps and volts", "Volts DC at the leads, not at the set; both at the same moment."),
    Act.SHORTED: (
        "Short to frame",
        (
            "Turn the DC supply down to zero and disconnect it."
            " Then connect the shorting strap from the leads to the frame."
        ),
    ),
    Act.FREED: ("Strap off", "When its time is over: take the strap off, then the tester on."),
    Act.READ: ("Read the insulation", "Test at 500 V or less. If it reads near 0, keep the reading and do not repeat."),
}
STAGE_GATES = {
    Stage.FREE: ("safe", "Winding free: no current, not charged."),
    Stage.HEATED: ("live", "Heating current is on. Turn it down to zero before you disconnect anything."),
    Stage.OPEN: ("live", "Not shorted yet: short it to frame."),
    Stage.SHORTED: ("safe", "Shorted to frame."),
    Stage.CHARGED: ("live", "Charged by the tester: don't touch the leads."),
}
MARKS_S = (("30", "30 s"), ("60", "1 min"), ("600", "10 min"))


@dataclass(frozen=True, slots=True)
class Line:
    """A line of the notebook. gone: it was taken back."""

    verdict: str
    words: str
    value: str
    at: datetime
    who: str
    gone: bool


@dataclass(frozen=True, slots=True)
class DryingShown:
    """What the page needs. asks: the next act with its words; echo: what the last entry showed; lines: the newest,
    with how many came before them.
    """

    view: DryingView
    hookup: str
    curves: Sequence[str]
    lines: Sequence[Line]
    next: Act
    ask: tuple[str, str]
    gate: tuple[str, str]
    echo: tuple[str, str, str]
    left: str
    hint: str
    form: Mapping[str, str]
    refusal: Refusal | None
    ends: Sequence[tuple[str, str]] = field(default=())
    earlier: int = 0

    @property
    def may_rotate(self) -> bool:
        """Another phase can carry most, and the heat is off."""
        return self.view.state.hookup.hot is not None and self.view.stands.stage in (Stage.FREE, Stage.SHORTED)


def ends_words(ends: str) -> str:
    """`1-2-3~frame` for people.

    >>> ends_words("1-2-3~frame"), ends_words("1-4~2-5")
    ('all to frame', '1, 4 to 2, 5')
    """
    first, _, second = ends.partition("~")
    if second == "frame":
        return "all to frame"
    return f"{first.replace('-', ', ')} to {second.replace('-', ', ')}"


def drying_shown(
    view: DryingView, form: Mapping[str, str], refusal: Refusal | None, every: bool = False
) -> DryingShown:
    """The page of a drying. every: all its lines, not the newest alone."""
    lines = _lines(view, len(view.entries) if every else NEWEST)
    warm = [one for one in view.state.shown if isinstance(one, Warm)]
    reads = [one for one in view.state.shown if isinstance(one, Read)]
    last = warm[-1] if warm else None
    on = view.stands.stage is Stage.HEATED
    amps = next((one.amps for one in reversed(view.entries) if one.amps and one.taken_back_at is None), None)
    carried = parse_reading(amps, CURRENT).amount.value if amps else None
    hookup = view.state.hookup
    told = {hookup.hot or hookup.phases[0]: f"up to {last.hot_phase_c:.0f} °C"} if last else {}
    following = wanted(view.stands)
    if last is not None and last.verdict is Verdict.ACT and on:
        following = Act.HEAT_OFF
    minimum = minimum_mohm(view.made.machine, view.made.criteria)[0]
    left = view.state.left
    if "curves" not in view.drawn:
        view.drawn["curves"] = [
            curve_figure(
                _readings(view, reads, ends), minimum, (left.low, left.high) if left and i == 0 else None,
                f"Insulation {ends_words(ends)}, MΩ",
            )
            for i, ends in enumerate(_drawn(view, reads))
        ]  # fmt: skip
    ask = ASKS.get(following, (ACT_WORDS[following], ""))
    return DryingShown(
        view, hookup_figure(hookup, carried, told, on), view.drawn["curves"], lines, following, ask,
        STAGE_GATES[view.stands.stage], _echo(view, warm, reads), _left(view), _hint(view, last), form, refusal,
        [(ends, ends_words(ends)) for ends in view.ends], len(view.entries) - len(lines),
    )  # fmt: skip


def _drawn(view: DryingView, reads: Sequence[Read]) -> list[str]:
    """To frame first, then what else was read."""
    return list(dict.fromkeys([view.ends[0], *(one.ends for one in reads)]))


def _readings(view: DryingView, reads: Sequence[Read], ends: str) -> list[Reading]:
    start = view.drying.started_at
    minute = [one for one in reads if one.ends == ends and one.t_s == 60]
    return [
        Reading(
            max(0.0, (one.at - start) / timedelta(hours=1)), one.r_mohm.value,
            None if one.r40_mohm is None else one.r40_mohm.value, not one.r_mohm.is_exact,
        )
        for one in minute
    ]  # fmt: skip


NEWEST = 60  # lines of one page


def _lines(view: DryingView, most: int) -> list[Line]:
    """The newest entries, newest first, with what each showed."""
    shown = iter(reversed(view.state.shown))
    out = []
    for one in view.entries[: -most - 1 : -1]:
        gone = one.taken_back_at is not None
        verdict, value = "", ""
        if not gone and one.act in (Act.HEAT, Act.READ, Act.ROTATED):
            found = next(shown, None)
            if isinstance(found, Warm):
                verdict, value = found.verdict.value, f"{found.average_c:.0f} °C, up to {found.hot_phase_c:.0f}"
            elif isinstance(found, Read):
                r40 = "" if found.r40_mohm is None else f", {found.r40_mohm.value:.3g} at 40 °C"
                value = f"{found.r_mohm.value:.3g} MΩ{r40}"
        out.append(Line(verdict, _words(one), value or _typed(one), one.at, one.who, gone))
    return out


def _words(one: DryingEntryLine) -> str:
    words = ACT_WORDS[Act(one.act)]
    if one.act == Act.READ:
        return f"{words} {ends_words(one.ends or '')}, {one.t_s:g} s"
    return f"{words}: {one.rotated_to} carries most" if one.act == Act.ROTATED else words


def _typed(one: DryingEntryLine) -> str:
    return " ".join(
        part for part in (one.amps and f"{one.amps} A", one.volts and f"{one.volts} V", one.insulation) if part
    )


def _echo(view: DryingView, warm: Sequence[Warm], reads: Sequence[Read]) -> tuple[str, str, str]:
    """Verdict, sentence and a second line on the last entry that showed something."""
    speaks = view.state.findings[0] if view.state.findings else None
    if view.stands.stage is Stage.HEATED and warm:
        last = warm[-1]
        rise = _rise(last.rise_k_per_h)
        said = f"{last.average_c:.1f} °C average, up to {last.hot_phase_c:.1f} in the hot phase."
        word = f"Stop: above {HOT_C:g} °C or rated amps. " if last.verdict is Verdict.ACT else ""
        against = f"{last.ohm:.4g} Ω against {view.drying.cold_ohm} cold at {view.drying.cold_c:g} °C."
        return last.verdict.value, word + said, rise + against
    if reads or warm:
        tail = "The reading falls as the winding warms: judge it at 40 °C." if _dips(view) else ""
        return view.state.verdict.value, (speaks.text if speaks else ""), tail
    return "unproven", "Begin with the insulation as it is, cold and wet.", "500 V or less; near 0: no repeats."


def _rise(k_per_h: float | None) -> str:
    if k_per_h is None:
        return ""
    if k_per_h < 0:
        return f"Falling {-k_per_h:.1f} K an hour. "
    return f"Rising {k_per_h:.1f} K an hour; {RISE_K_PER_H:g} is the most. "


def _dips(view: DryingView) -> bool:
    return any(one.code == "drying-dip" for one in view.state.findings)


def _left(view: DryingView) -> str:
    if view.state.done:
        return "Dry. Varnish only now, then the full set of tests."
    left = view.state.left
    if left is None:
        return "How long it still takes can't be said yet."
    return f"About {left.low:.0f} to {left.high:.0f} h more (in 9 of 10 such dryings)."


def _hint(view: DryingView, last: Warm | None) -> str:
    """How warm and how strong it may be now."""
    wet = not view.state.done
    parts = [
        f"Hot phase to {WET_C:g} °C while wet" if wet else f"Hot phase to {WARM_C:g} °C",
        f"{RISE_K_PER_H:g} K an hour",
    ]
    if (rated := view.made.rated_a) is not None:
        parts.append(f"{rated * 0.1:.3g} to {rated * 0.25:.3g} A to begin, {rated / 2:.3g} at most")
    if last is not None and view.state.hookup.hot is not None:
        parts.append("rotate early, the same time for each phase")
    return "; ".join(parts) + "."
