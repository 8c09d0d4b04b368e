"""The checks of a starter as a plan: dead ones first, then those under volts, each with what to expect here."""

from __future__ import annotations

from collections.abc import Iterator

from grimcoil.core.choices import Starter
from grimcoil.core.circuit.overload import right_dial_a
from grimcoil.core.readings import three_digits
from grimcoil.core.starter.figures import (
    DIRECT_LEAST,
    DIRECT_MOST,
    DROP,
    ELECTRONIC,
    PICK_UP,
    TRADE,
    WORN_SOONEST,
    Check,
    StarterPlace,
    inspect_months,
)

STANDARD = "IEC 60947-4-1, from memory"
_TWO = {
    Starter.REVERSING: "forward and reverse",
    Starter.TWO_SPEED: "slow and fast",
    Starter.STAR_DELTA: "star and delta",
}


def checks(place: StarterPlace) -> tuple[Check, ...]:
    """All checks in the order they are done; V, A and s in their words. (common practice, or as each one names)"""
    return (*_dead(place), *_live(place))


def _dead(place: StarterPlace) -> Iterator[Check]:
    yield Check(
        "isolate", "Isolate, lock, prove dead", True,
        "At the disconnect; try the start key; every line to line and to earth. A control supply of its own too.",
        "0 V everywhere, the tester proved before and after.", "Handbook, order of work; cannot be overridden",
    )  # fmt: skip
    if place.starter in ELECTRONIC:
        yield Check(
            "wait", "Wait for the capacitors", True,
            "The maker's time on its lid, then volts across the bus terminals. No insulation tester on its terminals.",
            "Below 50 V before anything is touched.", "Charged capacitors kill; maker's instructions",
        )  # fmt: skip
    if place.starter is Starter.NONE:
        return
    months = inspect_months(place.starter, place.figures.starts_per_hour)
    most = "; it wears soonest of all" if place.starter in WORN_SOONEST else ""
    yield Check(
        "contacts", "Contacts", True,
        "Arc chambers off: pits, beads, burnt tips, all three alike. Never file silver; a worn set is changed whole.",
        f"Even and bright or evenly dark; look every {months} months{most}.",
        f"One worn pole single-phases the motor; {TRADE}",
    )  # fmt: skip
    yield Check(
        "screws", "Screws and lugs", True, "Torque as marked; colour of heat at each lug.",
        "No discolouring; nothing turns.", f"A loose joint heats and unbalances; {TRADE}",
    )  # fmt: skip
    if place.starter in _TWO:
        yield Check(
            "interlock", "Interlock", True,
            f"Press {_TWO[place.starter]} in by hand at once; then the auxiliary contacts with an ohmmeter.",
            "The second one can't be pressed in, and its coil circuit is open.",
            f"Both in at once is a short of the supply; {TRADE}",
        )  # fmt: skip
    if place.starter is Starter.REVERSING:
        yield Check(
            "swap", "Lines swapped once", True, "Trace both contactors to the motor's side.",
            "Exactly two lines change places.", "Two swaps, or none, and it runs one way only",
        )  # fmt: skip
    yield from _settings(place)


def _settings(place: StarterPlace) -> Iterator[Check]:
    has = place.figures
    if place.fused or has.fuse_a:
        rated = f"{has.fuse_a:g} A" if has.fuse_a else "as in the spreadsheet"
        yield Check(
            "fuses", "Fuses", True, "In the hand, ohms across each; rating and kind read off all three.",
            f"Near 0 Ω, three alike, {rated}.", f"A mixed set lets one line go first; {TRADE}",
        )  # fmt: skip
    if has.control_primary_v or has.control_va or has.control_fuse_a:
        parts = [
            f"Primary joined for {has.control_primary_v:g} V" if has.control_primary_v else "",
            f"{has.control_va:g} VA" if has.control_va else "",
            f"fuse {has.control_fuse_a:g} A" if has.control_fuse_a else "",
        ]
        yield Check(
            "transformer", "Control transformer", True,
            "Links of the primary, its fuse, one side of the secondary earthed.",
            f"{', '.join(part for part in parts if part)}.", f"Joined for other volts it burns coils; {TRADE}",
        )  # fmt: skip
    if place.full_load_a is not None:
        wanted = right_dial_a(place.full_load_a, place.overload.inside_delta)
        delta = (
            ", 0.58 of full load as it sits inside the delta"
            if place.overload.inside_delta
            else ", the motor's full load"
        )
        yield Check(
            "dial", "Overload", True,
            "Dial and class read off; test key opens the control circuit; reset by hand or not.",
            f"{three_digits(wanted)} A{delta}.", "A dial set up hides what it should tell",
        )  # fmt: skip
    if place.starter is Starter.STAR_DELTA:
        run_up = f"{has.run_up_s:g} s" if has.run_up_s else "the run-up, once it is timed"
        yield Check(
            "timer", "Timer", True, "Read its setting; it changes over when speed no longer rises.",
            f"About {run_up}.", f"Early: a peak near a direct start. Late: heat in star; {TRADE}",
        )  # fmt: skip
    if place.starter is Starter.AUTOTRANSFORMER and has.tap_percent:
        k = has.tap_percent / 100
        yield Check(
            "tap", "Tap", True, "Which tap is joined, on all three legs.",
            f"{has.tap_percent:g} %: motor amps {100 * k:g} %, line amps and torque {three_digits(100 * k * k)} %"
            " of a direct start.",
            "Unlike taps unbalance the start; computed",
        )  # fmt: skip


def _live(place: StarterPlace) -> Iterator[Check]:
    has = place.figures
    if place.starter in ELECTRONIC:
        where = (
            "Line side only with an ordinary meter; behind it with the kind its maker names, volts by a true-RMS meter"
        )
        yield Check(
            "where", "What may be measured where", False, f"{where}.",
            "Line volts and amps balanced; its own display for the motor's.",
            "Chopped waves mislead meters; an insulation tester destroys it",
        )  # fmt: skip
    coil = has.coil_v or place.control_v
    if coil and place.starter is not Starter.NONE:
        yield Check(
            "coil", "Coil volts while it pulls in", False, "Across A1 and A2, at the moment of start.",
            f"{three_digits(PICK_UP * coil)} to {three_digits(DROP * coil)} V.",
            f"85 to 110 % of the coil's; {STANDARD}",
        )  # fmt: skip
    if place.starter is Starter.STAR_DELTA:
        yield Check(
            "third", "Amps in star", False,
            "Clamp on one line: in star, and in delta at the same slip; then the peak at change-over.",
            "A third of the delta's, and so the torque.", "Star-delta theory, computed",
        )  # fmt: skip
    if place.starter is Starter.DIRECT and place.full_load_a:
        low, high = DIRECT_LEAST * place.full_load_a, DIRECT_MOST * place.full_load_a
        yield Check(
            "inrush", "Amps at start", False, "Clamp with peak hold.",
            f"{three_digits(low)} to {three_digits(high)} A, the lines alike.", f"5 to 8 times full load; {TRADE}",
        )  # fmt: skip
    if place.starter is not Starter.NONE:
        yield Check(
            "drop", "Drop across each pole", False, "Millivolts over each closed pole, running at load.",
            "The three alike, each below 0.1 V or so.", f"Heat in a contact shows here first; {TRADE}",
        )  # fmt: skip
        expect = {
            True: "It stays out until started.",
            False: "It starts again by itself: keep hands clear, and say so on the lid.",
            None: "It stays out until started, unless the process wants otherwise.",
        }[has.undervoltage_release]
        yield Check(
            "release", "After a loss of volts", False, "Switch the control supply off and on while it runs.", expect,
            "A machine that starts by itself hurts people",
        )  # fmt: skip
