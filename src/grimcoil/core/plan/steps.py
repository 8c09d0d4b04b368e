"""The words a plan is written in. A plan is a value: pages, command line, tests and the store read the same one."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

from grimcoil.core.decision.needs import LeftOut
from grimcoil.core.errors import Unknown
from grimcoil.core.wishes import AS_USUAL, Wishes


class Circuit(StrEnum):
    """State of the circuit a step works in."""

    LIVE = "live"
    DEAD = "dead"
    APART = "apart"


class Where(StrEnum):
    """Where a step is done."""

    STARTER = "starter"
    DISCONNECT = "disconnect"
    BOX = "motor-box"
    CABLE = "cable"
    SHAFT = "shaft"


class Input(StrEnum):
    """What a slot takes: a meter's reading, a confirmation, the motor's tag, a few words, or one of some answers."""

    READING = "reading"
    CONFIRM = "confirm"
    TAG = "tag"
    WORDS = "words"
    CHOICE = "choice"


class Act(StrEnum):
    """What an entry does to the state of the circuit; most do nothing.

    `remove-and-short` is one act only in plans of the first version; since then voltage off and shorted are two.
    """

    NONE = "none"
    LOCK = "lock"
    TRY_START = "try-start"
    PROVE_TESTER = "prove-tester"
    POINT_DEAD = "point-dead"
    LIFT = "lift"
    APPLY = "apply"
    MARK = "mark"
    REMOVE = "remove"
    SHORT = "short"
    REMOVE_AND_SHORT = "remove-and-short"
    RESIDUAL = "residual"
    CHECK_JOINING = "check-joining"
    PUT_BACK = "put-back"
    JOIN = "join"
    RESTORE = "restore"
    LIVE_READING = "live-reading"
    AS_RUNNING = "as-running"


# What proves a place dead, in its order; what belongs to a hold; what leads power onto the motor.
PROOF = frozenset({Act.LOCK, Act.TRY_START, Act.PROVE_TESTER, Act.POINT_DEAD})
HOLD = frozenset({Act.APPLY, Act.MARK, Act.REMOVE, Act.SHORT, Act.REMOVE_AND_SHORT, Act.RESIDUAL})
POWER = frozenset({Act.CHECK_JOINING, Act.PUT_BACK, Act.JOIN, Act.RESTORE, Act.LIVE_READING})
MOVED = "it moved"
RUNNING, AS_RUNNING = "@running", "as_running"  # what is read as it runs, before anything is isolated
HELD_AGAIN = "held-again"  # the rule that brings a hold once more
OPEN_PARTS = "open-parts"  # the rule that brings each part of an open winding


@dataclass(frozen=True, slots=True)
class Slot:
    """One thing to enter. `ends`: the points the probes touch; `field`: a name in FIELDS; `part`: the figure it is in
    its test; mark_s: time since voltage on, s; functions: instrument functions that can give it, best first.
    """

    key: str
    label: str
    ask: str
    input: Input = Input.READING
    field: str = ""
    ends: tuple[str, ...] = ()
    act: Act = Act.NONE
    part: str = ""
    mark_s: float | None = None
    optional: bool = False
    functions: tuple[str, ...] = ()
    choices: tuple[str, ...] = ()
    suggest: str = ""
    waited: bool = False

    @property
    def asked(self) -> bool:
        """Whether the path waits for it. waited: it does, though it may be answered by *not read*; in older plans words
        and volts that may be left out were kept by who had them.
        """
        if self.waited:
            return True
        beside = self.act is Act.LIVE_READING and self.field == "voltage" and "E" in self.ends  # volts to earth
        return not self.optional or (self.input is not Input.WORDS and not beside)


@dataclass(frozen=True)
class Step:
    """A step of the path. hard: its gate can't be overruled. hold: steps of one hold share it. kind: its test.

    key: unique in its plan, `insulation.1-4@motor-box`; suffix: its end that tells a repeat from the first,
    `@motor-box`, `#2`. where: a `Where`; in plans of the first versions words for people. winding: `low` or `high` of
    a two-speed motor. because: why it came while the job ran; rule: what brought it, empty for a step of the recipe.
    """

    key: str
    number: int
    title: str
    where: str
    circuit: Circuit
    slots: tuple[Slot, ...] = ()
    caution: str = ""
    hard: bool = False
    tool: str = ""
    hold: str = ""
    kind: str = ""
    suffix: str = ""
    winding: str = ""
    because: str = ""
    rule: str = ""

    @property
    def name(self) -> str:
        """Which kind of step, as the open format calls it: `insulation`; `as_running`: read before isolating."""
        if self.suffix.startswith(RUNNING):
            return AS_RUNNING
        return self.key.removesuffix(self.suffix).partition(".")[0]

    def place(self, slot: Slot) -> str:
        """The address of one of its slots, unique in the plan.

        >>> hold = Step("insulation.1-4@motor-box", 1, "", "motor-box", Circuit.APART, suffix="@motor-box")
        >>> hold.place(Slot("60", "1 min", ""))
        'insulation.1-4.60@motor-box'
        """
        return f"{self._stem}.{slot.key}{self.suffix}"

    @cached_property
    def _stem(self) -> str:
        return self.key.removesuffix(self.suffix)

    @cached_property
    def places(self) -> tuple[str, ...]:
        """The places of all its slots, in their order."""
        return tuple(self.place(slot) for slot in self.slots)

    @cached_property
    def asked(self) -> tuple[str, ...]:
        """The places of the slots that have to be filled."""
        return tuple(self.place(slot) for slot in self.slots if slot.asked)

    @cached_property
    def needed(self) -> tuple[str, ...]:
        """The places of the slots that can't be left out."""
        return tuple(self.place(slot) for slot in self.slots if not slot.optional)

    def does(self, *acts: Act) -> bool:
        """Whether any of its slots does one of these."""
        return not self._acts.isdisjoint(acts)

    @cached_property
    def _acts(self) -> frozenset[Act]:
        return frozenset(slot.act for slot in self.slots)


@dataclass(frozen=True)
class Plan:
    """The steps of one job in their order. recipe: the kind of job; version: of the recipe, for people to read.

    school: where the dead tests begin. bring: instruments, with what they have to show. wishes: how it is done.
    """

    recipe: str
    version: int
    steps: tuple[Step, ...]
    left_out: tuple[LeftOut, ...] = ()
    school: str = ""
    bring: tuple[str, ...] = ()
    wishes: Wishes = AS_USUAL

    @cached_property
    def places(self) -> dict[str, tuple[Step, Slot]]:
        """Step and slot by `step.slot`."""
        return {step.place(slot): (step, slot) for step in self.steps for slot in step.slots}

    @cached_property
    def acts(self) -> dict[str, Act]:
        """What is done at a place, where that is more than reading."""
        return {place: slot.act for place, _, slot in self._acting}

    @cached_property
    def proving(self) -> frozenset[str]:
        """The places of the acts of proof."""
        return frozenset(place for place, act in self.acts.items() if act in PROOF)

    @cached_property
    def by_key(self) -> dict[str, Step]:
        """Steps by their key."""
        return {step.key: step for step in self.steps}

    @cached_property
    def proofs(self) -> tuple[Step, ...]:
        """The steps that prove it dead."""
        return tuple(step for step in self.steps if step.does(Act.POINT_DEAD))

    @cached_property
    def _phases(self) -> dict[str, int]:
        """Each lock begins a time of its own on the dead circuit, from 0; what is read live ends it."""
        out, phase = {}, -1
        for step in self.steps:
            phase += step.does(Act.LOCK)
            out[step.key] = max(0, phase)
        return out

    def phase_of(self, step: Step) -> int:
        """Which of the job's isolations a step belongs to, from 0: most jobs have one."""
        return self._phases[step.key]

    def step(self, key: str) -> Step:
        """A step. Raises Unknown."""
        if key not in self.by_key:
            raise Unknown("step", key, "a step of this job")
        return self.by_key[key]

    def at(self, place: str) -> tuple[Step, Slot]:
        """Step and slot of a place. Raises Unknown."""
        if place not in self.places:
            raise Unknown("step", place, "a step and slot of this job")
        return self.places[place]

    def doing(self, *acts: Act) -> Iterator[tuple[str, Step, Slot]]:
        """Places whose slot does one of these, in order."""
        if len(acts) == 1:
            return iter(self._by_act.get(acts[0], ()))
        return (found for found in self._acting if found[2].act in acts)

    @cached_property
    def _by_act(self) -> dict[Act, list[tuple[str, Step, Slot]]]:
        out: dict[Act, list[tuple[str, Step, Slot]]] = {}
        for found in self._acting:
            out.setdefault(found[2].act, []).append(found)
        return out

    @cached_property
    def _acting(self) -> tuple[tuple[str, Step, Slot], ...]:
        """Places whose slot does anything: they are asked for often, and most slots only read."""
        every = ((place, step, slot) for place, (step, slot) in self.places.items())
        return tuple(found for found in every if found[2].act is not Act.NONE)

    @cached_property
    def holding(self) -> dict[str, tuple[tuple[str, Step, Slot], ...]]:
        """The same of each hold, by its name."""
        out: dict[str, list[tuple[str, Step, Slot]]] = {}
        for found in self._acting:
            if found[1].hold:
                out.setdefault(found[1].hold, []).append(found)
        return {name: tuple(some) for name, some in out.items()}

    def hold_of(self, step: Step) -> tuple[str, Step] | None:
        """The place that starts the hold a step belongs to."""
        return next(((p, s) for p, s, slot in self.holding.get(step.hold, ()) if slot.act is Act.APPLY), None)

    def words(self, place: str) -> str:
        """A place in words: step and slot, or what a stop was passed for."""
        if place in self.places:
            step, slot = self.places[place]
            return f"{step.title}, {slot.label}"
        key, _, rest = place.partition("!")
        words = [self.by_key[key].title if key in self.by_key else key]
        return ", ".join([*words, rest.replace("!", ": ").replace("-", " ")] if rest else words)

    def step_of(self, place: str) -> Step | None:
        """The step that a place, or the key of a reason, belongs to; None for a word of the job's own."""
        if place in self.places:
            return self.places[place][0]
        return self.by_key.get(place.partition("!")[0])
