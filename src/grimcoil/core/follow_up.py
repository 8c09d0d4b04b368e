"""What a finding, a word of a round or a decision asks to be done afterwards: one task, with the days it may wait.

Every wait is common practice without source: what stops the machine is for today, what wears out within the week, what
is to be looked into within a fortnight, what is ordered within a month.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from grimcoil.core.errors import Forbidden, FormRefused
from grimcoil.core.findings import Finding, Verdict
from grimcoil.core.people import Action, Actor

TODAY, WEEK, FORTNIGHT, MONTH = 0, 7, 14, 30  # days
LONGEST_WHAT, LONGEST_WORD, SHORTEST_WORD = 200, 200, 4


class TaskState(StrEnum):
    """Where a task stands."""

    OPEN = "open"
    DONE = "done"
    DROPPED = "dropped"


class Origin(StrEnum):
    """What opened a task."""

    FINDING = "finding"
    DECISION = "decision"
    ROUND = "round"
    SIDE_SHEET = "side sheet"
    PERSON = "person"


@dataclass(frozen=True, slots=True)
class FollowUp:
    """What is to be done, why, and how many days it may wait."""

    what: str
    because: str
    days: int

    def by(self, day: date) -> date:
        """The day it is to be done by, from the day it was found (common practice without source)."""
        return day + timedelta(days=self.days)


# By the code of a finding. Common practice without source.
BY_FINDING: Mapping[str, tuple[str, int]] = {
    "shaft-stiff": ("Uncouple, turn motor and load each by hand; grease, then turn again", FORTNIGHT),
    "brushes-worn": ("Change the set of brushes", WEEK),
    "brushes-near-half": ("Order a set of brushes", MONTH),
    "brake-disc-worn": ("Replace the brake's lining, then set its air gap", WEEK),
    "brake-disc-near": ("Order a brake lining", MONTH),
    "brake-gap-wide": ("Set the brake's air gap", WEEK),
    "brake-gap-near": ("Set the brake's air gap at the next stop", MONTH),
    "brake-lifts-late": ("Find out why the brake lifts late: gap, coil, volts", WEEK),
    "capacitor-not-same": ("Put in a capacitor of the same microfarads", TODAY),
    "capacitor-volts-low": ("Put in a capacitor of the same volts or more", TODAY),
    "overhaul-bad": ("Put right what was found bad inside", WEEK),
    "overhaul-cleaned": ("Test its insulation with its index, as it was cleaned", WEEK),
    "holder-off": ("Set the brush holders", WEEK),
    "contact-drop-high": ("Change the set of contacts", FORTNIGHT),
    "contact-drop-burnt": ("Change the set of contacts", WEEK),
    "contact-hot": ("Remake the hot joint, then read its drop again", WEEK),
    "poor-joint": ("Remake the poor joint, then read the ohms again", WEEK),
    "cable-joint-high": ("Remake the joint of the cable", FORTNIGHT),
    "converter-misset": ("Set the converter's volts, then read them again under load", WEEK),
    "voltage-unbalance-act": ("Find what makes the volts unbalanced", WEEK),
    "overload-dial-high": ("Set the overload to the plate's amps", WEEK),
    "overload-automatic-reset": ("Set the overload to reset by hand", WEEK),
    "insulation-may-run": ("Find out why the insulation is so low", FORTNIGHT),
    "repeat-failures": ("Clear the cause of the cause at the position", MONTH),
    "round-hotter": ("Find out why the frame is hotter than usual", FORTNIGHT),
    "round-shifted": ("Find out what shifted the usual figure", FORTNIGHT),
    "vibration-watch": ("Look at balance, feet, coupling and bearings at standstill", FORTNIGHT),
    "vibration-act": ("Stop it; balance, feet, coupling and bearings at standstill", TODAY),
}
# By a word of a round or a side sheet. Common practice without source.
BY_WORD: Mapping[str, tuple[str, int]] = {
    "quieter after greasing": ("Grease it sooner, then listen again", FORTNIGHT),
    "rough": ("Grease, then turn again and listen", WEEK),
    "rumbling": ("Have the play checked at standstill", WEEK),
    "knocking": ("Stop it; look at coupling and bearing cage", TODAY),
    "grinding": ("Stop it; replace the bearing", TODAY),
    "rubbing": ("Stop it; find what rubs", TODAY),
    "hot belts": ("Tension and alignment of the belts at standstill", WEEK),
    "cycling on and off": ("Find what switches it so often", WEEK),
    "driven machine slow": ("Find out why the driven machine is slow: belts, volts, load", WEEK),
    "switch flashes running": ("Look at the start switch at standstill", WEEK),
    "humming without load": ("Look for loose laminations, measure the air gap", MONTH),
    "hotter housing": ("Find out why the housing is hotter: amps, volts, vents, load", FORTNIGHT),
    "dried tape": ("Remake the splices", FORTNIGHT),
    "shiny rub marks": ("Find what moves: bearings, air gap, cable", FORTNIGHT),
    "local burn": ("Lock it out, open it, test it", TODAY),
    "oil on winding": ("Mend the seal, clean the winding, test its insulation", FORTNIGHT),
    "blocked vents": ("Clean the vents, then take the frame's temperature", WEEK),
    "water in the box": ("Lock it out, dry and seal the box, test its insulation", TODAY),
    "smell of burning": ("Lock it out, test it", TODAY),
    "marked sparking": ("Look at brushes, springs, spacing and film", TODAY),
    "patchy film": ("Look at the brushes' grade, pressure and load", FORTNIGHT),
    "grooves": ("Measure the grooves; turn or grind the commutator at standstill", MONTH),
    "high mica": ("Undercut the mica", WEEK),
    "burnt bars": ("Read bar to bar beside the burnt ones", WEEK),
    "uneven spacing": ("Set the brush holders evenly", FORTNIGHT),
    "lead on the frame": ("Lock it out, mend the brush lead, test its insulation", TODAY),
}
_BESIDE_WORDS = ("vibration-", "observation-")  # findings that say a word again


def of_findings(findings: Iterable[Finding]) -> list[FollowUp]:
    """What findings ask for, each task once; sound and unproven ones ask for none (common practice without source)."""
    out: dict[str, FollowUp] = {}
    for finding in findings:
        asked = BY_FINDING.get(finding.code)
        if asked is not None and finding.severity in (Verdict.WATCH, Verdict.ACT):
            out.setdefault(asked[0], FollowUp(asked[0], finding.text, asked[1]))
    return list(out.values())


def of_words(words: Iterable[str]) -> list[FollowUp]:
    """What words of a round ask for, each task once (common practice without source).

    >>> [one.what for one in of_words(["rumbling", "smooth"])]
    ['Have the play checked at standstill']
    """
    out: dict[str, FollowUp] = {}
    for word in words:
        if word in BY_WORD:
            what, days = BY_WORD[word]
            out.setdefault(what, FollowUp(what, f"{word[0].upper()}{word[1:]}.", days))
    return list(out.values())


def of_sheet(words: Iterable[str], findings: Iterable[Finding]) -> list[FollowUp]:
    """What a sheet asks for: by its words, and by findings that don't say one of them again."""
    said = of_words(words)
    told = of_findings(one for one in findings if not (said and one.code.startswith(_BESIDE_WORDS)))
    return [*said, *told]


def of_decision(changed: str, action: str) -> list[FollowUp]:
    """What a decision says is changed; none where it says nothing (common practice without source)."""
    what = " ".join(changed.split())[:LONGEST_WHAT]
    return [FollowUp(what, f"Decided: {action}. So that it doesn't come back.", MONTH)] if what else []


# By the state of a joint that was seen in the motor box. Common practice without source.
BY_JOINT: Mapping[str, tuple[str, int]] = {
    "dirty": ("Clean the joints in the motor box", FORTNIGHT),
    "loose": ("Tighten the joints in the motor box, then read its drop under load", WEEK),
    "was hot": ("Remake the joint in the motor box that was hot", WEEK),
    "burnt": ("Remake the burnt joint in the motor box", TODAY),
}


def of_joint(state: str) -> list[FollowUp]:
    """What a joint's state asks for; a sound one asks for nothing (common practice without source)."""
    what = BY_JOINT.get(state)
    return [FollowUp(what[0], f"As found: {state}.", what[1])] if what else []


def check_word(word: str) -> str:
    """What is said when a task is closed, on one line: 4 to 200 characters. Raises FormRefused."""
    words = " ".join(word.split())
    if not SHORTEST_WORD <= len(words) <= LONGEST_WORD:
        raise FormRefused({"word": f"Say in {SHORTEST_WORD} to {LONGEST_WORD} characters what was done, or why not."})
    return words


def need_close(actor: Actor, whom: str) -> None:
    """Whom a task is for closes it, a planner any; one that is for nobody, whoever may keep tasks. Raises Forbidden."""
    actor.need(Action.KEEP_TASKS)
    if whom in ("", actor.login) or actor.may(Action.CLOSE_ANY_TASK):
        return
    raise Forbidden("To close this task", f"it is for {whom}", "this is for whom it is for, or a planner")
