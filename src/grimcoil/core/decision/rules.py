"""Which findings lead to which action. Data: of the rules that fit, the first by rank names it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

ACTIONS: dict[str, str] = {
    "return": "Return to service",
    "return-retest": "Return to service, test again sooner",
    "look-elsewhere": "Look elsewhere: electrically sound",
    "correct-supply": "Correct the supply",
    "correct-connection": "Correct the connection",
    "repair-on-site": "Repair on site, then test again",
    "clean-dry": "Clean and dry, then test again",
    "send-repair": "Send for repair",
    "rewind-or-replace": "Rewind or replace",
    "rewind": "Rewind",
    "replace": "Replace",
    "remove-now": "Remove from service now",
    "test-more": "Test more before deciding",
}


class Rank(IntEnum):
    """Which speaks first where several do (handbook practice, no published source)."""

    STOP = 1  # must not run or be touched: to frame, line lost, burnt pole, level, overcurrent, heat, jammed
    WINDING = 2  # condemns the winding, or leaves it in doubt
    JOINTS = 3  # cable and joints
    CONNECTION = 4  # joined wrong, turning wrong, the wrong motor
    PARTS = 5  # what wears or is set on site
    OUTSIDE = 6  # supply, process, starts
    TREND = 7


@dataclass(frozen=True, slots=True)
class Rule:
    """If all of `needs` and any of `any_of` were found and none of `unless`, `action` follows."""

    rank: Rank
    action: str
    any_of: frozenset[str]
    why: str
    needs: frozenset[str] = frozenset()
    unless: frozenset[str] = frozenset()


def _codes(text: str) -> frozenset[str]:
    return frozenset(text.split())


# What lets the motor run on; never by a rule while something asks for action or a key test is open. Mildest first.
RETURNING = ("return", "look-elsewhere", "return-retest")
# What asks for action and says nothing against the motor itself.
OUTSIDE_THE_MOTOR = frozenset({"starts-many"})

_ROWS: dict[Rank, tuple[tuple[str, str, str] | tuple[str, str, str, str] | tuple[str, str, str, str, str], ...]] = {
    Rank.STOP: (
        ("test-more", "dead-not-dead found-live", "stop, and measure nothing until the circuit is proved dead"),
        ("replace", "path-between-windings", "a path between two windings: the motor is faulty"),
        (
            "rewind-or-replace", "insulation-near-zero",
            "near zero to frame, once terminal block, leads and splices are inspected, separated and clean",
        ),
        ("remove-now", "line-lost", "single-phasing: stop the motor now"),
        ("repair-on-site", "contact-drop-burnt pole-open", "a pole is burnt or open: stop and mend it"),
        (
            "correct-supply", "voltage-level-act voltage-stalls volts-per-hertz-off",
            "the volts are out of level: stop it, then put the volts right",
        ),
        (
            "correct-supply", "overload-alike",
            "all lines take too much alike at low volts: stop or unload it now, then put the volts right", "volts-low",
        ),
        (
            "remove-now", "overload-alike",
            "all lines take too much alike: stop or unload it now. Load, bearings or volts, not the winding",
        ),
        ("remove-now", "current-over-service-factor no-load-over-plate", "current above its limit: stop the motor now"),
        ("remove-now", "winding-hot life-shortened", "hotter than its class: stop the motor now"),
        ("remove-now", "vibration-act observation-act", "stop the motor now: running on causes more damage"),
        ("send-repair", "shaft-jammed", "the shaft doesn't turn: bearings"),
        ("test-more", "shaft-locked-coupled", "uncouple, turn motor and load each by hand; nothing is sent"),
    ),
    Rank.WINDING: (
        ("test-more", "repeat-differs reading-twice open-once", "readings of one thing differ: take two that agree"),
        (
            "rewind-or-replace", "open-phase open-coil-delta coil-open",
            "an open winding on a cool motor; on site only if the break is in a lead or splice reached from the box",
        ),
        ("repair-on-site", "all-open lead-open-delta", "a lead, splice or protector may be reached from the box"),
        ("rewind-or-replace", "shorted-turns", "shorted turns", "unbalanced", "poor-joint"),
        (
            "repair-on-site", "poor-joint",
            "open the box, remake the joint, test again; if it stays, turns are shorted", "unbalanced shorted-turns",
        ),
        ("rewind-or-replace", "surge-apart", "turns or phases apart in the surge comparison"),
        (
            "rewind-or-replace", "phase-to-phase-low insulation-low insulation-failed", "still low after drying",
            "occasion-after-drying",
        ),
        (
            "clean-dry",
            (
                "insulation-low insulation-failed phase-to-phase-low located-phase located-motor wet-surface"
                " curve-falling pi-below-one dar-bad"
            ),
            "low but not zero: moisture or dirt first",
        ),
        ("test-more", "surge-unclear", "the surge test says passed and its waves lie apart: look at it again"),
        ("test-more", "curve-unsteady", "breakdown now and then: stop, look, locate it at low voltage"),
        ("test-more", "trend-below-minimum", "the newest insulation stands below its minimum: read it again first"),
        (
            "test-more", "turns-unsettled",
            "the ohms look like shorted turns: settled currents or a surge test before it goes back",
        ),
        (
            "test-more", "roll-motor",
            "the odd current travels with the motor: read its winding with a low-ohm meter, import a surge test",
        ),
    ),
    Rank.JOINTS: (
        ("repair-on-site", "poor-joint", "open the box, remake the joint, test again", "unbalanced"),
        (
            "repair-on-site", "parallel-path-open",
            "open the box and look for a lead off its group; if all are on, the path is open inside", "unbalanced",
        ),
        (
            "repair-on-site", "located-cable cable-to-earth cable-between-cores cable-core-open",
            "the cable or its ends, not the motor",
        ),
        (
            "repair-on-site", "terminal-block-bad",
            "the terminal block, not the winding: clean and dry it, change it where that doesn't help",
        ),
        (
            "test-more", "unbalanced pairs-contradict path-between-coils kilohm-open",
            "what the ohms show isn't one clear fault: links out, contacts clean, read again",
        ),
    ),
    Rank.CONNECTION: (
        (
            "test-more", "position-wrong-motor",
            "not the motor this position calls for: settle that before any verdict",
        ),
        ("correct-connection", "connection-misfit", "the ohms fit another connection than before"),
        (
            "correct-connection", "line-short over-voltage under-voltage reversed-coil open-coil closed-idle-winding",
            "the leads aren't joined for this supply",
        ),
        ("correct-connection", "rotation-wrong", "it turns the other way"),
        ("test-more", "no-load-slow", "slow with nothing coupled: connection, volts, bearings, then the rotor"),
    ),
    Rank.PARTS: (
        ("test-more", "overhaul-cleaned", "what it was cleaned with can soften varnish: insulation with its index"),
        ("test-more", "single-phase-open", "which part is open: winding, switch or protector"),
        (
            "repair-on-site",
            (
                "brushes-worn brake-disc-worn brake-gap-wide brake-lifts-late switch-open switch-stuck capacitor-open"
                " capacitor-shorted capacitor-not-same capacitor-volts-low overhaul-bad star-delta-early"
            ),
            "a part that wears or is set on site",
        ),
        (
            "repair-on-site",
            (
                "pole-high-ohms coil-open-circuit coil-shorted capacitor-off brake-coil-off starter-coil-over"
                " starter-coil-under brake-not-lifting brake-not-holding"
                " accessory-to-frame overload-trips-high"
            ),
            "starter, brake or protector, not the winding",
        ),
    ),
    Rank.OUTSIDE: (
        (
            "correct-supply",
            (
                "voltage-unbalance-act voltage-spread-act earth-fault converter-misset roll-supply fuse-blown"
                " coil-no-volts"
            ),
            "the supply is out of bounds",
        ),
        ("test-more", "current-unbalance-act current-spread-act", "roll the leads: supply or motor"),
        ("look-elsewhere", "starts-many", "too many starts: the process or the drive"),
    ),
    Rank.TREND: (
        ("return-retest", "trend-step-act trend-step-watch trend-halving trend-falling", "the trend is falling"),
        (
            "return-retest", "pi-low curve-flat pi-brittle",
            "look for moisture or dirt; by itself no fault proven",
        ),
    ),
}  # fmt: skip

RULES: tuple[Rule, ...] = tuple(
    Rule(rank, action, _codes(any_of), why, *(_codes(more) for more in rest))
    for rank in Rank
    for action, any_of, why, *rest in _ROWS[rank]
)

# Every code that some rule names.
NAMED = frozenset().union(*(rule.any_of | rule.needs | rule.unless for rule in RULES))
