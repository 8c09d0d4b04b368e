"""A walk in words: what is known so far, fit to be read over the radio, and what each element of the circuit is."""

from __future__ import annotations

from collections.abc import Sequence

from grimcoil.core.decision.rules import ACTIONS
from grimcoil.core.findings import Finding, act, unproven, watch
from grimcoil.core.walk.catalogue import SYMPTOMS
from grimcoil.core.walk.ending import Standing
from grimcoil.core.walk.history import told
from grimcoil.core.walk.walk import Walk
from grimcoil.core.walk.words import trial_words

WORTH_NAMING, LEAST_SHARE = 0.05, 0.002


def name_of(one: Standing) -> str:
    """`the winding is open (L1)`."""
    words = one.suspect.kind.text
    line = f" ({one.suspect.line})" if one.suspect.line else ""
    return words[0].lower() + words[1:] + line


def so_far(made: Walk) -> str:
    """One paragraph: complaint, what is cleared, what is left, what comes next."""
    parts = [f"The complaint: {SYMPTOMS[made.symptom]}."]
    for name, line in made.mended:
        parts.append(f"Mended: {name.replace('-', ' ')}{f' {line}' if line else ''}.")
    cleared = [
        element for element, (state, _) in element_states(made, tuple(_present(made))).items() if state == "cleared"
    ]
    if cleared:
        parts.append(f"Cleared so far: {', '.join(cleared)}.")
    left = [(words, share) for words, share, _ in weighed(made) if share > WORTH_NAMING]
    if made.end is not None:
        parts.append(f"It is: {name_of_end(made)}.")
        if made.end.alternatives:
            names = ", ".join(dict.fromkeys(other.name.replace("-", " ") for other, _ in made.end.alternatives))
            parts.append(f"No test here tells it from {names}.")
    elif made.misfit:
        parts.append(
            "Nothing on the list fits all that was read: repeat what is named, or it lies outside this circuit."
        )
    elif left:
        parts.append(
            "Left: " + "; ".join(f"{words[0].lower()}{words[1:]}, {share:.0%}" for words, share in left[:4]) + "."
        )
    if made.next is not None:
        words = trial_words(made.place, made.next.trial)
        parts.append(f"Next, at the {made.next.where.replace('-', ' ')}: {words[0].lower()}{words[1:].rstrip('?.')}.")
    return " ".join(parts)


def weighed(made: Walk) -> list[tuple[str, float, tuple[str, ...]]]:
    """Suspects by weight, each over all its lines and places: words with the lines that weigh most, share, entries.

    One list for the page, the paper and the paragraph. Shares, no unit (computed).
    """
    by_name: dict[str, list[Standing]] = {}
    for one in made.standings:
        if one.belief > LEAST_SHARE:
            by_name.setdefault(one.suspect.name, []).append(one)
    out = []
    for mine in by_name.values():
        mine.sort(key=lambda one: -one.belief)
        share = sum(one.belief for one in mine)
        heavy = list(dict.fromkeys(one.suspect.line for one in mine if one.belief > 0.25 * share and one.suspect.line))
        lines = f" ({', '.join(heavy)})" if 0 < len(heavy) < 3 else ""
        out.append((mine[0].suspect.kind.text + lines, share, mine[0].by))
    return sorted(out, key=lambda one: -one[1])


def name_of_end(made: Walk) -> str:
    """The condemned part in words."""
    if made.end is None:
        return ""
    words = end_words(made)
    return words[0].lower() + words[1:]


def end_words(made: Walk) -> str:
    """The same as a sentence begins: `The control chain is open at “permissive” (chain-2)`; empty without a verdict."""
    if made.end is None:
        return ""
    line = f", {made.end.line}" if made.end.line else ""
    return made.end.suspect.kind.text + line + (f" at {made.device}" if made.device else "")


LINE_BEFORE = frozenset({"supply-line-lost", "fuse-blown", "breaker-pole-open", "disconnect-pole-open"})


def _fed_back(made: Walk) -> bool:
    """A line is lost before the contactor, and the control circuit hangs on it: something still reads there."""
    lines = made.place.control_lines
    end = made.end
    if end is None or lines is None or made.place.feeds or end.suspect.name not in LINE_BEFORE or not end.line:
        return False
    return int(end.line[1]) in lines


def _present(made: Walk) -> Sequence[str]:
    return list(dict.fromkeys(one.suspect.element for one in made.standings))


def element_states(made: Walk, order: Sequence[str]) -> dict[str, tuple[str, list[str]]]:
    """By element: `condemned`, `suspect`, `cleared` or `untested`, and the entries behind it."""
    out: dict[str, tuple[str, list[str]]] = {}
    for element in order:
        mine = [one for one in made.standings if one.suspect.element == element]
        if not mine:
            continue
        by = list(dict.fromkeys(words for one in mine for words in one.by))[:6]
        states = {one.state for one in mine}
        if "condemned" in states:
            out[element] = "condemned", by
        elif states == {"cleared"}:
            out[element] = "cleared", by
        else:
            open_share = sum(one.belief for one in mine if one.state == "open")
            out[element] = ("suspect" if open_share > WORTH_NAMING else "untested"), by
    return out


NEAREST = "The line is the nearest by what was read, not proof of the phase."


def to_do(made: Walk) -> str:
    """What a verdict asks for now, and what its line is worth; empty without one."""
    end = made.end
    if end is None:
        return ""
    words = ACTIONS[end.suspect.kind.action]
    near = f" {NEAREST}" if end.suspect.name == "winding-to-frame" and end.line else ""
    return f"Now: {words[0].lower()}{words[1:]}.{near}"


def findings_of(made: Walk) -> list[Finding]:
    """What must be said of how it was done, and of what doesn't fit."""
    out = told(made.past)
    if made.unproved:
        said = (
            "This was measured without proving dead since the supply was last on. The reading counts. Prove dead now."
        )
        out.append(watch("done-unproved", said))
    if made.guard.found_live:
        said = "LIVE at the proof of death: step back, find the source, lock it. Then the proof begins anew."
        out.append(act("found-live", said))
    if made.electronics:
        said = "Insulation was read into electronics, or where its maker forbids it: that can destroy them. It counts."
        out.append(watch("insulation-into-electronics", said))
    for one in made.twice:
        said = f"Read twice at the same points, and they differ: {one.first}, then {one.second}. Read it again."
        out.append(unproven("walk-contradiction", said))
    if made.contradictions:
        said = f"Doesn't fit what else was read: {made.contradictions[0]}.{made.because} Repeat that one first."
        out.append(unproven("walk-contradiction", said))
    if _fed_back(made):
        said = (
            "The lost line also feeds the control circuit: no control volts, and what is read on that line comes back "
            "through the control transformer. Both are consequences."
        )
        out.append(watch("back-feed", said))
    if made.misfit:
        said = "Nothing on the list fits all of it: what is left lies outside this circuit, or a reading is wrong."
        out.append(unproven("walk-nothing-fits", said))
    if made.left_unclear:
        said = "What would show the load side clear was skipped: nothing is closed, reset or reclosed."
        out.append(unproven("load-not-clear", said))
    if made.guard.resets > 1:
        out.append(watch("reset-again", "The overload was reset more than once: one reset at most, then find why."))
    return out
