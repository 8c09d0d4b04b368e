"""Which findings lead to which action. Data: first rule that fits names it."""

from __future__ import annotations

from dataclasses import dataclass

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


@dataclass(frozen=True, slots=True)
class Rule:
    """If all of `needs` and any of `any_of` were found and none of `unless`, `action` follows."""

    action: str
    any_of: frozenset[str]
    needs: frozenset[str] = frozenset()
    unless: frozenset[str] = frozenset()
    why: str = ""


def _codes(text: str) -> frozenset[str]:
    return frozenset(text.split())


# What lets the motor run on; never by a rule while something asks for action or a key test is open.
RETURNING = frozenset({"return", "return-retest", "look-elsewhere"})

RULES: tuple[Rule, ...] = (
    Rule("test-more", _codes("dead-not-dead"), why="stop: nothing is measured until it is dead"),
    Rule(
        "test-more",
        _codes("position-wrong-motor"),
        why="not the motor this position calls for: settle that before any verdict",
    ),
    Rule("replace", _codes("path-between-windings"), why="a path between two windings condemns the motor"),
    Rule(
        "rewind-or-replace",
        _codes("insulation-near-zero"),
        why="near zero to frame, once terminal block, leads and splices are inspected, separated and clean",
    ),
    Rule("test-more", _codes("repeat-differs reading-twice"), why="readings of one thing differ: take two that agree"),
    Rule(
        "repair-on-site",
        _codes("all-open lead-open-delta"),
        unless=_codes("open-phase"),
        why="a lead, splice or protector may be reached from the box",
    ),
    Rule(
        "rewind-or-replace",
        _codes("open-phase open-coil-delta coil-open"),
        why="an open winding on a cool motor; on site only if the break is in a lead or splice reached from the box",
    ),
    Rule(
        "rewind-or-replace",
        _codes("shorted-turns"),
        _codes("unbalanced"),
        _codes("poor-joint"),
        "shorted turns",
    ),
    Rule(
        "repair-on-site",
        _codes("poor-joint"),
        _codes("unbalanced"),
        why="open the box, remake the joint, test again; if it stays, turns are shorted",
    ),
    Rule(
        "repair-on-site",
        _codes("parallel-path-open"),
        _codes("unbalanced"),
        why="open the box and look for a lead off its group; if all are on, the path is open inside",
    ),
    Rule(
        "repair-on-site",
        _codes("located-cable cable-to-earth cable-between-cores cable-core-open"),
        unless=_codes("located-motor"),
        why="the cable or its ends, not the motor",
    ),
    Rule("correct-connection", _codes("connection-misfit"), why="the ohms fit another connection than before"),
    Rule(
        "correct-connection",
        _codes("line-short over-voltage under-voltage reversed-coil open-coil closed-idle-winding"),
        why="the leads aren't joined for this supply",
    ),
    Rule(
        "test-more",
        _codes("unbalanced pairs-contradict path-between-coils kilohm-open"),
        why="what the ohms show isn't one clear fault: links out, contacts clean, read again",
    ),
    Rule(
        "rewind-or-replace",
        _codes("phase-to-phase-low insulation-low insulation-failed"),
        _codes("occasion-after-drying"),
        why="still low after drying",
    ),
    Rule(
        "clean-dry",
        _codes(
            "insulation-low insulation-failed phase-to-phase-low located-phase located-motor wet-surface curve-falling"
            " pi-below-one dar-bad"
        ),
        why="low but not zero: moisture or dirt first",
    ),
    Rule("rewind-or-replace", _codes("surge-apart"), why="turns or phases apart in the surge comparison"),
    Rule("remove-now", _codes("vibration-act observation-act"), why="stop it before it takes more along"),
    Rule("correct-connection", _codes("rotation-wrong"), why="it turns the other way"),
    Rule("test-more", _codes("single-phase-open"), why="which part is open: winding, switch or protector"),
    Rule(
        "repair-on-site",
        _codes(
            "brushes-worn brake-disc-worn switch-open switch-stuck capacitor-open capacitor-shorted star-delta-early"
        ),
        why="a part that wears or is set on site",
    ),
    Rule("look-elsewhere", _codes("starts-many"), why="too many starts: the process or the drive"),
    Rule("test-more", _codes("curve-unsteady"), why="breakdown now and then: stop, look, locate it at low voltage"),
    Rule("remove-now", _codes("line-lost winding-hot life-shortened"), why="it must not run like this"),
    Rule(
        "correct-supply",
        _codes("overload-alike"),
        _codes("volts-low"),
        why="all lines take too much alike at low volts: stop or unload it now, then put the volts right",
    ),
    Rule(
        "look-elsewhere",
        _codes("overload-alike"),
        why="all lines take too much alike: load, bearings or volts, not the winding. Stop or unload it now",
    ),
    Rule("remove-now", _codes("current-over-service-factor"), why="it must not run like this"),
    Rule(
        "repair-on-site",
        _codes(
            "pole-open pole-high-ohms contact-drop-burnt coil-open-circuit coil-shorted capacitor-off brake-coil-off"
            " starter-coil-over starter-coil-under"
            " brake-not-lifting accessory-to-frame overload-trips-high"
        ),
        why="starter, brake or protector, not the winding",
    ),
    Rule(
        "test-more", _codes("shaft-locked-coupled"), why="uncouple, turn motor and load each by hand; nothing is sent"
    ),
    Rule("send-repair", _codes("shaft-jammed"), why="the shaft doesn't turn: bearings"),
    Rule(
        "correct-supply",
        _codes(
            "voltage-unbalance-act voltage-spread-act voltage-level-act voltage-stalls volts-per-hertz-off earth-fault"
            " converter-misset roll-supply fuse-blown coil-no-volts"
        ),
        why="the supply is out of bounds",
    ),
    Rule(
        "test-more",
        _codes("roll-motor"),
        why="the odd current travels with the motor: read its winding with a low-ohm meter, import a surge test",
    ),
    Rule(
        "test-more",
        _codes("current-unbalance-act current-spread-act"),
        why="roll the leads: supply or motor",
    ),
    Rule(
        "test-more",
        _codes("turns-unsettled"),
        why="the ohms look like shorted turns: settled currents or a surge test before it goes back",
    ),
    Rule(
        "test-more",
        _codes("trend-below-minimum"),
        why="the newest insulation stands below its minimum: read it again before anything else",
    ),
    Rule(
        "return-retest",
        _codes("trend-step-act trend-step-watch trend-falling"),
        why="the trend is falling",
    ),
    Rule(
        "return-retest",
        _codes("pi-low curve-flat pi-brittle"),
        why="look for moisture or dirt; not by itself a condemnation",
    ),
)

# Every code that some rule names.
NAMED = frozenset().union(*(rule.any_of | rule.needs | rule.unless for rule in RULES))
