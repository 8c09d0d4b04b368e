"""What is said back of a text: while it is typed, after it was refused, and before anything is typed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from grimcoil.core.errors import Refusal, UnclearReading
from grimcoil.core.fields import FIELDS
from grimcoil.core.findings import Verdict
from grimcoil.core.plan.entries import Entry
from grimcoil.core.plan.live import Absurd, Late, clocked
from grimcoil.core.plan.steps import Slot
from grimcoil.core.readings import say
from grimcoil.service.bench import Bench


@dataclass(frozen=True, slots=True)
class Echo:
    """What was understood and what it does; `next_` says what comes after."""

    verdict: str | None
    text: str
    next_: str = ""
    detail: str = ""
    choices: Sequence[str] = ()
    refused: bool = False
    anyway: bool = False
    late: tuple[str, str] | None = None


def kept_nothing(refusal: Refusal) -> Echo:
    """What stands there after a text was refused; one that is unlikely can be kept anyway."""
    choices = refusal.choices if isinstance(refusal, UnclearReading) else ()
    if isinstance(refusal, Late):
        return Echo(Verdict.UNPROVEN.value, f"{refusal.accepted.capitalize()}", "Nothing is saved yet.", refused=True,
                    late=(clocked(refusal.mark_s), clocked(refusal.second)))  # fmt: skip
    if isinstance(refusal, Absurd):
        return Echo(
            Verdict.UNPROVEN.value, refusal.accepted, "Correct it, or save it as it is.", refused=True, anyway=True
        )
    return Echo(Verdict.ACT.value, refusal.sentence(), "Nothing was saved.", choices=choices, refused=True)


def refused_echo(refusal: Refusal) -> Echo:
    """What a text would be refused for, while it is typed."""
    if isinstance(refusal, Absurd):
        return kept_nothing(refusal)
    return Echo(Verdict.UNPROVEN.value, refusal.sentence(), choices=getattr(refusal, "choices", ()))


def resting_echo(bench: Bench, slot: Slot | None) -> Echo:
    """What stands in the reading line before anything is typed."""
    if slot is None:
        return Echo(None, "", "")
    if bench.state.safety.on_test and slot.mark_s:
        taken = any(step.place(slot) in bench.state.kept.stamps for step in bench.plan.steps if slot in step.slots)
        then = "Type the value it showed, then Save." if taken else "Press Now at the mark; the value is typed after."
        return Echo(None, slot.ask, then)
    return Echo(None, slot.ask, "")


def typed_echo(bench: Bench, entry: Entry) -> Echo:
    """What an entry would do; `bench` has it included, nothing is stored."""
    said = bench.said_of(entry)
    words = entry.text
    if entry.reading is not None:
        words = say(entry.reading, FIELDS[bench.plan.at(entry.place)[1].field]) + "."
    following = bench.state.slot
    after = f"Save it, then: {following.label}." if following else f"Save it, then: {bench.state.step.title}."
    if bench.state.safety.live is not None:
        after = "Nothing more is read here until the source is found."
    if said is None:
        return Echo(None, words, after)
    first, stop, rest = said.text.partition(". ")
    return Echo(said.verdict.value, f"{words} {first}{stop.strip()}", after, rest)


def several_echo(bench: Bench, pairs: Sequence[tuple[str, str]]) -> Echo:
    """Where each of several readings typed in one go will be kept; each is judged as it is."""
    said = ", ".join(f"{bench.plan.at(place)[1].label} {text}" for place, text in pairs)
    return Echo(None, f"{len(pairs)} readings: {said}.", "Save them: each is judged in its place.")
