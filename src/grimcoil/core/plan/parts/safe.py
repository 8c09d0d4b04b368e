"""Parts that make a motor safe to work on, and give it back: isolate, prove dead, as found, connection, reconnect."""

from __future__ import annotations

from itertools import pairwise

from grimcoil.core.plan.brief import ELECTRONIC, Brief
from grimcoil.core.plan.steps import MOVED, Act, Circuit, Input, Slot, Step, Where
from grimcoil.core.points import LINE_PAIRS, TO_EARTH

TAG = Slot("tag", "Tag on the motor's plate", "Read the tag on the motor itself, not on its place. Type it", Input.TAG)
STILL = "nothing moved"
LIVE_CAUTION = "Until it is proved dead it is live: rated tester, rated gloves, by those your site allows."


def isolate(_: Brief) -> tuple[Step, ...]:
    """Every source locked, then the start tried."""
    locks = "Lock and tag every source: power, control, heater, brake. Say which"
    slots = (
        TAG,
        Slot("locks", "Locks on", locks, Input.WORDS, act=Act.LOCK),
        Slot(
            "tried", "Start tried", "Try the start control: nothing may move", Input.CHOICE, act=Act.TRY_START,
            choices=(STILL, MOVED),
        ),
    )  # fmt: skip
    caution = (
        "Stop by the control, then open the disconnect. Block what can turn by itself. Your site's lock rules govern."
    )
    return (Step("isolate", 0, "Isolate", Where.DISCONNECT, Circuit.LIVE, slots, caution),)


def _tester(key: str, when: str, ask: str) -> Slot:
    return Slot(
        key, f"Known live source, {when}", ask, field="voltage", ends=("source",), act=Act.PROVE_TESTER,
        functions=("volt-ac",),
    )  # fmt: skip


def _dead(name: str) -> Slot:
    a, b = name.split("-", 1)
    far = "earth" if b == "E" else b
    return Slot(
        name, f"{a}–{far}", f"Volts {a} to {b}: about 0", field="dead_voltage", ends=(a, b), act=Act.POINT_DEAD,
        part=name, functions=("volt-ac",),
    )  # fmt: skip


def _proof(
    key: str, title: str, where: Where, points: tuple[str, ...], first: tuple[Slot, ...] = (), suffix: str = ""
) -> Step:
    slots = (
        *first,
        _tester("before", "before", "Prove the tester on a known live source"),
        *(_dead(point) for point in points),
        _tester("after", "after", "Prove the tester again on the same source"),
    )
    return Step(
        f"{key}{suffix}", 0, title, where, Circuit.DEAD, slots, LIVE_CAUTION, True, "Voltage tester", suffix=suffix
    )


def prove_dead(_: Brief) -> tuple[Step, ...]:
    """At the starter: tester on a live source, every pair of lines and each to earth, tester again."""
    return (_proof("prove_dead", "Prove dead", Where.STARTER, (*LINE_PAIRS, *TO_EARTH)),)


def prove_dead_box(brief: Brief) -> tuple[Step, ...]:
    """The same again once the motor box is open, where work goes on there: all of it, or the accessories alone."""
    return box_proof(brief) if not brief.at_starter or brief.fittings or brief.brake else ()


def box_proof(_: Brief) -> tuple[Step, ...]:
    """At the opened motor box."""
    return (_proof("prove_dead_box", "Prove dead at the box", Where.BOX, (*LINE_PAIRS, *TO_EARTH)),)


def again(suffix: str) -> tuple[Step, ...]:
    """Off once more, locked, the start tried, and proved dead at the motor box. suffix: tells which time it is."""
    locks = "Stop by the control. Lock and tag every source again. Say which"
    slots = (
        Slot("locks", "Locks on", locks, Input.WORDS, act=Act.LOCK),
        Slot(
            "tried", "Start tried", "Try the start control: nothing may move", Input.CHOICE, act=Act.TRY_START,
            choices=(STILL, MOVED),
        ),
    )  # fmt: skip
    caution = "It was running just now: wait until it stands. Your site's lock rules govern."
    return (
        Step(f"isolate{suffix}", 0, "Isolate again", Where.DISCONNECT, Circuit.LIVE, slots, caution, suffix=suffix),
        _proof("prove_dead_box", "Prove dead at the box", Where.BOX, (*LINE_PAIRS, *TO_EARTH), suffix=suffix),
    )


def prove_dead_floor(brief: Brief) -> tuple[Step, ...]:
    """On the floor: nothing connected, then between the leads of each group, and each group to frame."""
    between = tuple(f"{a}-{b}" for group in brief.groups for a, b in pairwise(group))
    to_frame = [f"{group[0]}-frame" for group in brief.groups] or ["leads-frame"]
    nothing = "No supply, brake or heater wire is connected; the shaft is blocked. Say what you looked at"
    first = (TAG, Slot("locks", "Nothing connected", nothing, Input.WORDS, act=Act.LOCK))
    return (_proof("prove_dead", "Prove dead", Where.BOX, (*between, *to_frame), first),)


def as_found(brief: Brief) -> tuple[Step, ...]:
    """Which lead lay where, before anything is lifted."""
    return as_found_at(brief, Where.STARTER if brief.at_starter else Where.BOX)


def as_found_at(brief: Brief, where: Where, suffix: str = "") -> tuple[Step, ...]:
    """The same at one place; suffix tells a second time. Leads nobody knows yet are described as one."""
    slots = tuple(
        Slot(
            f"lead-{n}", f"Lead {n} on", f"Which terminal, line or lead is {n} on", Input.WORDS, ends=(n,), act=Act.LIFT
        )
        for n in brief.leads
    )
    if not slots:
        ask = "How many leads, their marks and colours, what each is on"
        slots = (Slot("leads", "Leads", ask, Input.WORDS, act=Act.LIFT),)
    links = Slot(
        "links", "Links and colours", "Links, straps, colours of the cores, as they lie", Input.WORDS, optional=True
    )
    caution = "Write down what you lift before you lift it, then set the leads apart, floating."
    key, title = f"as_found{suffix}", "As-found leads"
    return (Step(key, 0, title, where, Circuit.DEAD, (*slots, links), caution, suffix=suffix),)


def separate(brief: Brief) -> tuple[Step, ...]:
    """Nothing stays on the leads that a test voltage could harm, or that would be measured along."""
    drive = " The drive's terminals too: no tester near them." if brief.starter in ELECTRONIC else ""
    ask = f"Drive, soft starter, capacitors, electronics are off the leads.{drive} Confirm"
    slots = (Slot("apart", "Set apart", ask, Input.CONFIRM),)
    where = Where.STARTER if brief.at_starter else Where.BOX
    return (Step("separate", 0, "Separate", where, Circuit.DEAD, slots),)


def _place(brief: Brief) -> Where:
    """Where the leads were lifted, and go back on."""
    return Where.STARTER if brief.at_starter else Where.BOX


def connection(brief: Brief) -> tuple[Step, ...]:
    """How the leads will be joined, checked before they are."""
    return _connection(Act.CHECK_JOINING, _place(brief)) if brief.known else ()


def joining(_: Brief) -> tuple[Step, ...]:
    """How identified leads are to be joined, before anything is read of them joined."""
    return _connection(Act.NONE, Where.BOX)


def _connection(act: Act, where: Where) -> tuple[Step, ...]:
    ask = "Compare the joining with the plate and the supply: as drawn"
    slots = (Slot("checked", "Joining checked", ask, Input.CONFIRM, act=act),)
    return (Step("connection", 0, "Connection", where, Circuit.DEAD, slots),)


def reconnect(brief: Brief) -> tuple[Step, ...]:
    """Leads back as found."""
    ask = "Put the leads back as found, lugs tight, insulated"
    slots = (
        Slot("as-found", "Reconnected", ask, Input.CONFIRM, act=Act.JOIN),
        Slot("left", "As left", "What lies otherwise than found: leads, links", Input.WORDS, optional=True),
    )
    return (Step("reconnect", 0, "Reconnect", _place(brief), Circuit.DEAD, slots),)


def restore(_: Brief) -> tuple[Step, ...]:
    """Power back on."""
    return restore_after("")


def restore_after(suffix: str) -> tuple[Step, ...]:
    """The same after a further isolation; suffix tells which."""
    own = "Own earths and tools off, covers on, people clear, each lock off by its owner"
    slots = (Slot("restored", "Power restored", own, Input.CONFIRM, act=Act.RESTORE),)
    caution = "It may start by itself. Stand to one side when closing. Never reclose on an unexplained trip."
    return (Step(f"restore{suffix}", 0, "Restore", Where.DISCONNECT, Circuit.LIVE, slots, caution, suffix=suffix),)
