"""Parts that make a motor safe to work on, and give it back: isolate, prove dead, as found, connection, reconnect."""

from __future__ import annotations

from collections import Counter
from itertools import pairwise

from grimcoil.core.choices import SourceKind, Starter
from grimcoil.core.isolation import CHARGED, ELECTRIC, found_words, source_words
from grimcoil.core.plan.brief import ELECTRONIC, Brief
from grimcoil.core.plan.parts.aside import CAPACITOR, fitted, named
from grimcoil.core.plan.steps import MOVED, Act, Circuit, Input, Slot, Step, Where
from grimcoil.core.points import LINE_PAIRS, LINES, TO_EARTH

TAG = Slot(
    "tag",
    "Tag on the motor's plate",
    "Read the tag on the motor itself, not on its foundation. Type it here",
    Input.TAG,
)
STILL = "nothing moved"
# Sources that are known to be live and no point of a proof; common practice without source.
SOURCES = ("line side of the disconnect", "a socket", "a proving unit", "another panel that is live")
LIVE_CAUTION = "Treat it as live until it is proved dead. Use a rated tester and rated gloves. Authorised people only."


def isolate(brief: Brief) -> tuple[Step, ...]:
    """Every source locked by itself, then the start tried."""
    caution = (
        "Stop the motor at its control. Then open the disconnect. Block everything that can turn by itself."
        " Follow your site's lockout rules."
    )
    slots = (TAG, *_locks(brief), _tried())
    return (Step("isolate", 0, "Isolate", Where.DISCONNECT, Circuit.LIVE, slots, caution),)


def _locks(brief: Brief) -> tuple[Slot, ...]:
    """A lock for each source, by its place."""
    kinds = Counter(source.kind for source in brief.sources)
    out = []
    for number, source in enumerate(brief.sources, 1):
        words, many = source_words(source), kinds[source.kind] > 1
        key = f"lock-{source.kind.value}{f'-{number}' if many else ''}"
        where = f" at {source.lock_at}" if source.lock_at else ""
        ask = f"Switch off and lock{where}, hang your tag. Keep it once your own lock is on"
        if source.kind is SourceKind.STORED_LOAD:
            ask = "Lower the load, secure the hook or drum, block what can turn"
        elif source.kind in CHARGED:
            ask = f"Switch off and lock{where}. Wait the maker's time until it is discharged"
        if found := found_words(source):
            ask = f"{ask}. {found}"
        out.append(Slot(key, f"{words} locked", ask, Input.CONFIRM, ends=(source.kind.value,), act=Act.LOCK))
    return tuple(out)


def _tried() -> Slot:
    return Slot(
        "tried", "Start tried", "Try to start the motor. It must not move", Input.CHOICE, act=Act.TRY_START,
        choices=(STILL, MOVED),
    )  # fmt: skip


def _tester(key: str, when: str, ask: str) -> Slot:
    return Slot(
        key, f"Known live source, {when}", ask, field="voltage", ends=("source",), act=Act.PROVE_TESTER,
        functions=("volt-ac",),
    )  # fmt: skip


def _dead(name: str) -> Slot:
    a, b = name.split("-", 1)
    far = "earth" if b == "E" else b
    return Slot(
        name, f"{a}–{far}", f"Measure volts {a} to {b}. It must read about 0 V", field="dead_voltage",
        ends=(a, b), act=Act.POINT_DEAD,
        part=name, functions=("volt-ac",),
    )  # fmt: skip


def _points_of(brief: Brief) -> tuple[Slot, ...]:
    """What else can bring volts here, where the record has it: each is a point of the proof of its own."""
    others = [source for source in brief.sources if source.kind in ELECTRIC and source.kind is not SourceKind.MAIN]
    kinds = Counter(source.kind for source in others)
    out = []
    for number, source in enumerate(others, 1):
        words = source_words(source)
        direct = source.kind in CHARGED
        how = "volts DC across it" if direct else "volts from each of its terminals to the others and to earth"
        key = f"{source.kind.value}{f'-{number}' if kinds[source.kind] > 1 else ''}"
        out.append(
            Slot(
                key, words, f"Measure {how}. The highest must read about 0 V", field="dead_voltage",
                ends=(source.kind.value, "E"), act=Act.POINT_DEAD, part=key,
                functions=("volt-dc" if direct else "volt-ac",),
            )
        )  # fmt: skip
    return tuple(out)


def _proof(
    key: str, title: str, where: Where, points: tuple[str, ...], first: tuple[Slot, ...] = (), suffix: str = "",
    more: tuple[Slot, ...] = (), caution: str = LIVE_CAUTION,
) -> Step:  # fmt: skip
    slots = (
        *first,
        Slot(
            "source",
            "Known live source",
            "Which one do you prove the tester on? None of the points to be proved",
            Input.CHOICE,
            choices=SOURCES,
        ),
        _tester("before", "before", "Prove the tester on that source"),
        *(_dead(point) for point in points),
        *more,
        _tester("after", "after", "Prove the tester again on the same source"),
    )
    return Step(f"{key}{suffix}", 0, title, where, Circuit.DEAD, slots, caution, True, "Voltage tester", suffix=suffix)


def prove_dead(brief: Brief) -> tuple[Step, ...]:
    """At the starter: tester on a live source, each pair of lines and each to earth, other sources, tester again."""
    side = " The local disconnect's line side, and the panel behind it, stay live." if brief.local else ""
    points, more = (*LINE_PAIRS, *TO_EARTH), _points_of(brief)
    return (_proof("prove_dead", "Prove dead", Where.STARTER, points, more=more, caution=LIVE_CAUTION + side),)


def prove_dead_box(brief: Brief) -> tuple[Step, ...]:
    """The same again once the motor box is open, where work goes on there: all of it, or the accessories alone."""
    return box_proof(brief) if not brief.at_starter or brief.fittings or brief.brake else ()


def box_proof(_: Brief) -> tuple[Step, ...]:
    """At the opened motor box."""
    return (_proof("prove_dead_box", "Prove dead at the box", Where.BOX, (*LINE_PAIRS, *TO_EARTH)),)


def again(brief: Brief, suffix: str) -> tuple[Step, ...]:
    """Off once more, locked, the start tried, and proved dead at the motor box. suffix: tells which time it is."""
    slots = (*_locks(brief), _tried())
    caution = "It was running just now. Wait until it stands still. Follow your site's lockout rules."
    return (
        Step(f"isolate{suffix}", 0, "Isolate again", Where.DISCONNECT, Circuit.LIVE, slots, caution, suffix=suffix),
        _proof("prove_dead_box", "Prove dead at the box", Where.BOX, (*LINE_PAIRS, *TO_EARTH), suffix=suffix),
    )


def prove_dead_floor(brief: Brief) -> tuple[Step, ...]:
    """On the floor: nothing connected, then between the leads of each group, and each group to frame."""
    between = tuple(f"{a}-{b}" for group in brief.groups for a, b in pairwise(group))
    to_frame = [f"{group[0]}-frame" for group in brief.groups] or ["leads-frame"]
    nothing = (
        "Check that no supply, brake or heater wire is connected. Check that the shaft is blocked."
        " Write what you checked"
    )
    first = (TAG, Slot("locks", "Nothing connected", nothing, Input.WORDS, act=Act.LOCK))
    return (_proof("prove_dead", "Prove dead", Where.BOX, (*between, *to_frame), first),)


def as_found(brief: Brief) -> tuple[Step, ...]:
    """Which lead lay where, before anything is lifted."""
    return as_found_at(brief, Where.STARTER if brief.at_starter else Where.BOX)


def as_found_at(brief: Brief, where: Where, suffix: str = "") -> tuple[Step, ...]:
    """The same at one place; suffix tells a second time. Leads nobody knows yet are described as one."""
    slots = tuple(
        Slot(
            f"lead-{n}",
            f"Lead {brief.lead(n)} on",
            f"Which terminal, line or joint of this box is {brief.lead(n)} on",
            Input.WORDS,
            ends=(n,),
            act=Act.LIFT,
            choices=_terminals(brief, where),
        )
        for n in brief.leads
    )
    if not slots:
        ask = "How many leads, their marks and colours, what each is on"
        slots = (Slot("leads", "Leads", ask, Input.WORDS, act=Act.LIFT),)
    links = Slot(
        "links", "Links and colours", "Links, straps, colours of the cores, as they lie", Input.WORDS, optional=True,
        waited=True,
    )  # fmt: skip
    caution = (
        "Write down where each lead is connected. Then disconnect the leads. Separate them so that they touch nothing."
    )
    caution = " ".join(filter(None, (caution, brief.fed_by)))
    key, title = f"as_found{suffix}", "As-found leads"
    joints = _joints() if where is Where.BOX else ()
    slots = (*slots, *_neutral(brief, where), *joints, links)
    return (Step(key, 0, title, where, Circuit.DEAD, slots, caution, suffix=suffix),)


def _neutral(brief: Brief, where: Where) -> tuple[Slot, ...]:
    """A star point that is brought out comes off with the leads: on, it earths the winding or joins its phases."""
    if not brief.neutral or where is not Where.BOX:
        return ()
    ask = f"Neutral {brief.neutral}, the star point: write what it is on, then disconnect it too"
    return (Slot("neutral", f"Neutral {brief.neutral} on", ask, Input.WORDS),)


def _neutral_back(brief: Brief, where: Where) -> tuple[Slot, ...]:
    if not brief.neutral or where is not Where.BOX:
        return ()
    ask = f"Put neutral {brief.neutral} back on what it was found on"
    return (Slot("neutral", f"Neutral {brief.neutral} back", ask, Input.CONFIRM),)


# Kinds of joint in a motor box, as the format names them, and what is seen of it; heat is looked for at each.
JOINTS = {"studs": "stud", "crimped lugs": "crimp", "twist-on": "twist", "levers": "lever", "splices": "splice"}
JOINT_STATES = ("sound", "dirty", "loose", "was hot", "burnt")
JOINT_KIND, JOINT_STATE = "joint", "state"


def _joints() -> tuple[Slot, ...]:
    return (
        Slot(JOINT_KIND, "Joints", "What are the leads joined by in this box", Input.CHOICE, optional=True,
             choices=tuple(JOINTS)),
        Slot(JOINT_STATE, "Their state", "Look for heat at each joint. How is the worst of them", Input.CHOICE,
             optional=True, choices=JOINT_STATES),
    )  # fmt: skip


def _terminals(brief: Brief, where: Where) -> tuple[str, ...]:
    """What a lead can be on in this box: the starter's load side, or the cable's cores and the joints of leads."""
    if where is Where.STARTER:
        many = len(brief.leads) > len(LINES)
        return tuple(f"{speed}T{n}" for speed in (("1", "2") if many else ("",)) for n in "123")
    joints = ("joint a", "joint b", "joint c") if len(brief.leads) > len(LINES) else ()
    return (*LINES, *joints)


def separate(brief: Brief) -> tuple[Step, ...]:
    """Nothing stays on the leads that a test voltage could harm, or that would be measured along."""
    last = "Disconnect drive, soft starter, capacitors and electronics from the leads. Confirm when done"
    slots = (*_apart(brief), Slot("apart", "Set apart", last, Input.CONFIRM))
    where = Where.STARTER if brief.at_starter else Where.BOX
    return (Step("separate", 0, "Separate", where, Circuit.DEAD, slots),)


def _apart(brief: Brief) -> list[Slot]:
    """What is known to hang on the leads, each by itself."""
    asked: list[tuple[str, str, str]] = []
    if brief.starter in ELECTRONIC:
        which = "drive" if brief.starter == Starter.DRIVE else "soft starter"
        ask = (
            f"Disconnect the motor's leads from the {which}'s terminals U, V, W."
            " Never connect an insulation tester to those terminals"
        )
        asked.append(("drive-apart", f"{which.capitalize()}'s terminals lifted", ask))
    if brief.linked:
        asked.append(("links-apart", "Links off", "Take the links off in the motor box: each winding by itself"))
    hang = fitted(brief)
    for what, name, leads in hang:
        called = f"{what} {'–'.join(leads)}" if leads else what
        if named(what) == CAPACITOR:
            ask = f"Lift the {called} off the leads, discharged and shorted"
        else:
            ask = f"Lift the leads of the {called} off the control"
        asked.append((f"apart-{name}", f"{called.capitalize()} off", ask))
    return [Slot(key, label, ask, Input.CONFIRM) for key, label, ask in asked]


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
    ask = "Compare the connection with the nameplate and the supply voltage. It must match the drawing"
    slots = (Slot("checked", "Joining checked", ask, Input.CONFIRM, act=act),)
    return (Step("connection", 0, "Connection", where, Circuit.DEAD, slots),)


def reconnect(brief: Brief) -> tuple[Step, ...]:
    """Leads back as found, each by itself."""
    ask = "All leads are back. Tighten the lugs. Insulate the joints"
    slots = (
        *_back(brief, _place(brief)),
        *_neutral_back(brief, _place(brief)),
        Slot("as-found", "Reconnected", ask, Input.CONFIRM, act=Act.JOIN),
        Slot("left", "As left", "What lies otherwise than found: leads, links", Input.WORDS, optional=True,
             waited=True),
    )  # fmt: skip
    return (Step("reconnect", 0, "Reconnect", _place(brief), Circuit.DEAD, slots, brief.fed_by),)


def _back(brief: Brief, where: Where) -> tuple[Slot, ...]:
    """Each lead by itself, on what it is put back on."""
    return tuple(
        Slot(
            f"lead-{n}", f"Lead {brief.lead(n)} back on",
            f"Put lead {brief.lead(n)} back. Which terminal or joint is it on",
            Input.WORDS, ends=(n,), act=Act.PUT_BACK, choices=_terminals(brief, where),
        )
        for n in brief.leads
    )  # fmt: skip


def reconnect_box(brief: Brief, suffix: str) -> tuple[Step, ...]:
    """What was lifted at the motor box as well goes back there first."""
    ask = "All leads in the motor box are back. Tighten the lugs. Insulate the joints. Close the box"
    slots = (
        *_back(brief, Where.BOX),
        *_neutral_back(brief, Where.BOX),
        Slot("as-found", "Reconnected at the box", ask, Input.CONFIRM, act=Act.JOIN),
    )
    key = f"reconnect{suffix}"
    return (Step(key, 0, "Reconnect at the box", Where.BOX, Circuit.DEAD, slots, brief.fed_by, suffix=suffix),)


def restore(_: Brief) -> tuple[Step, ...]:
    """Power back on."""
    return restore_after("")


def restore_after(suffix: str) -> tuple[Step, ...]:
    """The same after a further isolation; suffix tells which."""
    own = (
        "Remove your own earths and tools. Fit the covers. Check that people are clear."
        " Each owner removes their own lock"
    )
    slots = (Slot("restored", "Power restored", own, Input.CONFIRM, act=Act.RESTORE),)
    caution = (
        "The motor could start by itself. Stand to one side when you close."
        " Never reclose until you know why it tripped."
    )
    return (Step(f"restore{suffix}", 0, "Restore", Where.DISCONNECT, Circuit.LIVE, slots, caution, suffix=suffix),)
