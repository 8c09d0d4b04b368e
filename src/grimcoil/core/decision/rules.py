"""Which findings lead to which action (handbook chapter 10, electrical part). Data: first rule that fits names it."""

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


RULES: tuple[Rule, ...] = (
    Rule(
        "rewind-or-replace",
        _codes("insulation-near-zero"),
        why="near zero to frame, once leads and splices are cleared",
    ),
    Rule(
        "repair-on-site",
        _codes("all-open lead-open-delta"),
        unless=_codes("open-phase"),
        why="a lead, splice or protector may be reached from the box",
    ),
    Rule(
        "rewind-or-replace",
        _codes("open-phase open-coil-delta"),
        why="an open winding on a cool motor",
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
        "test-more",
        _codes("unbalanced pairs-contradict"),
        why="the pattern of the unbalance isn't clear",
    ),
    Rule(
        "clean-dry",
        _codes("insulation-low insulation-failed wet-surface curve-falling pi-below-one dar-bad"),
        why="low but not zero: moisture or dirt first",
    ),
    Rule(
        "remove-now",
        _codes("line-lost current-over-service-factor"),
        why="it must not run like this",
    ),
    Rule(
        "correct-supply",
        _codes("voltage-unbalance-act voltage-level-act earth-fault"),
        why="the supply is out of bounds",
    ),
    Rule(
        "test-more",
        _codes("current-unbalance-act"),
        why="roll the leads: supply or motor",
    ),
    Rule(
        "return-retest",
        _codes("trend-step-act trend-step-watch trend-falling"),
        why="the trend is falling",
    ),
)
