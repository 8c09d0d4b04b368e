"""Parts put in or set: a capacitor replaced, a brake's gap and lift, an opened motor, brush holders."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from grimcoil.core.findings import Finding, act, sound, unproven, watch
from grimcoil.core.limits import reaches, within
from grimcoil.core.side.single_phase import SideResult

SAME_UF = 0.06  # of the old one's; the band marked on run capacitors, common practice without source
UF, CAPACITOR_V = (0.1, 10_000.0), (50.0, 20_000.0)  # what there is
GAP_NEAR = 0.9  # of the widest gap; common practice without source
GAP_MM, COIL_V = (0.01, 10.0), (5.0, 1000.0)
LIFTS_BY = 0.85  # of the coil's volts; as a contactor's coil pulls in, common practice without source
HOLDER_MM = (1.5, 3.0)  # holder to commutator; common practice without source
OPENED = ("fan", "shroud", "inside", "bearings", "seals", "reassembled")
FOUND = ("ok", "cleaned", "replaced", "bad")
# What an opened motor is cleaned with, and what that does. Common practice without source.
CLEANED_WITH: Mapping[str, tuple[str, str]] = {
    "wiped": ("sound", ""),
    "vacuum": ("sound", ""),
    "brush": ("sound", ""),
    "fresh water": ("watch", "dry it, then insulation with its index"),
    "approved cleaner": ("watch", "let it air, then insulation with its index"),
    "compressed air": ("watch", "it drives the dirt into the winding: vacuum it, then insulation"),
    "solvent": (
        "act",
        "it softens the varnish and its vapour harms and burns: air it, look at the varnish, insulation",
    ),
    "petrol": ("act", "never: it burns and softens the varnish. Air it, keep flames and sparks away, then insulation"),
}
HOLDER_ASKS: Mapping[str, str] = {
    "square": "set it square to the bars",
    "firm": "tighten it on its arm",
    "free": "the brush must slide freely: clean box and brush, renew a tired spring",
    "bevel": "seat the brush to its bevel with fine sandpaper drawn one way, never emery",
}


@dataclass(frozen=True, slots=True)
class CapacitorReplacedTest:
    """Microfarads and volts marked on the old capacitor and on the new one."""

    old_uf: float | None = None
    new_uf: float | None = None
    old_v: float | None = None
    new_v: float | None = None


@dataclass(frozen=True, slots=True)
class BrakeGapTest:
    """Air gap measured and the widest its maker allows, mm; volts at which it lifts and those of its coil."""

    gap_mm: float | None = None
    most_mm: float | None = None
    lift_v: float | None = None
    coil_v: float | None = None


@dataclass(frozen=True, slots=True)
class OverhaulTest:
    """An opened motor: what was found at each part (`ok`, `cleaned`, `replaced`, `bad`), what it was cleaned with."""

    parts: Mapping[str, str] = field(default_factory=dict)
    cleaned_with: str | None = None


@dataclass(frozen=True, slots=True)
class BrushHoldersTest:
    """Whether the holders stand square and firm, the brushes slide freely and sit to their bevel; distance_mm: from
    holder to commutator.
    """

    square: bool | None = None
    firm: bool | None = None
    free: bool | None = None
    bevel: bool | None = None
    distance_mm: float | None = None


def judge_capacitor_replaced(test: CapacitorReplacedTest) -> SideResult:
    """The same µF within 6 %, volts at least as high. Handbook chapter 12, common practice without source.

    >>> judge_capacitor_replaced(CapacitorReplacedTest(35, 35, 370, 440)).verdict.value
    'sound'
    """
    old, new, old_v, new_v = test.old_uf, test.new_uf, test.old_v, test.new_v
    if old is None or new is None or old_v is None or new_v is None:
        text = "Microfarads and volts of the old and of the new one are all needed."
        return SideResult(findings=(unproven("reading-missing", text),))
    absurd = [f"{one:g} µF" for one in (old, new) if not UF[0] <= one <= UF[1]]
    absurd += [f"{one:g} V" for one in (old_v, new_v) if not CAPACITOR_V[0] <= one <= CAPACITOR_V[1]]
    if absurd:
        return SideResult(findings=(unproven("size-absurd", f"{', '.join(absurd)}: no such capacitor. Which is it?"),))
    out: list[Finding] = []
    if not within(abs(new - old), SAME_UF * old):
        text = f"{new:g} µF for {old:g} µF: not the same. Put in {old:g} µF before it is started."
        out.append(act("capacitor-not-same", text))
    if not reaches(new_v, old_v):
        text = f"Marked {new_v:g} V where {old_v:g} V was: it breaks down. The same volts or more."
        out.append(act("capacitor-volts-low", text))
    return SideResult(
        findings=tuple(out) or (sound("capacitor-same", f"{new:g} µF, {new_v:g} V: as it was or better."),)
    )


def judge_brake_gap(test: BrakeGapTest) -> SideResult:
    """The gap against its maker's widest, on it is inside; lifts by 85 % of its coil's volts. Common practice."""
    out: list[Finding] = []
    if test.gap_mm is not None and test.most_mm is not None:
        out.append(_gap(test.gap_mm, test.most_mm))
    if test.lift_v is not None and test.coil_v is not None:
        out.append(_lift(test.lift_v, test.coil_v))
    if not out:
        text = "The gap with the widest its maker allows, or the volts at which it lifts with its coil's, are needed."
        out.append(unproven("reading-missing", text))
    return SideResult(findings=tuple(out))


def _gap(gap: float, most: float) -> Finding:
    if not all(GAP_MM[0] <= one <= GAP_MM[1] for one in (gap, most)):
        return unproven("size-absurd", f"{gap:g} mm of at most {most:g} mm: no brake has such a gap. Which is right?")
    shown = f"Gap {gap:g} mm of at most {most:g}"
    if not within(gap, most):
        return act("brake-gap-wide", f"{shown}: it lifts late or half, rubs and burns its coil. Set the gap.")
    if not within(gap, GAP_NEAR * most):
        return watch("brake-gap-near", f"{shown}: set it at the next stop.")
    return sound("brake-gap-fits", f"{shown}.")


def _lift(lift: float, coil: float) -> Finding:
    if not all(COIL_V[0] <= one <= COIL_V[1] for one in (lift, coil)):
        return unproven("size-absurd", f"Lifts at {lift:g} V, coil {coil:g} V: which of them is right?")
    shown = f"Lifts at {lift:g} V, {100 * lift / coil:.0f} % of its coil's {coil:g} V"
    if within(lift, LIFTS_BY * coil):
        return sound("brake-lifts", f"{shown}.")
    return act("brake-lifts-late", f"{shown}: by 85 % it should. Gap, coil's ohms, volts at the coil.")


def judge_overhaul(test: OverhaulTest) -> SideResult:
    """Part by part, what isn't said stays open; solvents are forbidden. Common practice without source."""
    out: list[Finding] = []
    if bad := [part for part in OPENED if test.parts.get(part) == "bad"]:
        out.append(act("overhaul-bad", f"Bad: {', '.join(bad)}. It isn't closed before that is put right."))
    if test.cleaned_with is not None:
        severity, does = CLEANED_WITH[test.cleaned_with]
        text = f"Cleaned by {test.cleaned_with}: {does}."
        if severity != "sound":
            out.append((watch if severity == "watch" else act)("overhaul-cleaned", text))
    if unsaid := [part for part in OPENED if part not in test.parts]:
        out.append(unproven("overhaul-open", f"Not said: {', '.join(unsaid)}."))
    if not out:
        text = "Opened, cleaned, closed. Turn it by hand, ohms and insulation, then its way round before it is coupled."
        out.append(sound("overhaul-done", text))
    return SideResult(findings=tuple(out))


def judge_brush_holders(test: BrushHoldersTest) -> SideResult:
    """Each answer and the distance, 1.5 to 3 mm, both inside. Common practice without source."""
    out = [
        watch("holder-off", f"Not {name}: {cure}.")
        for name, cure in HOLDER_ASKS.items()
        if getattr(test, name) is False
    ]
    if test.distance_mm is not None:
        least, most = HOLDER_MM
        if not (reaches(test.distance_mm, least) and within(test.distance_mm, most)):
            text = f"{test.distance_mm:g} mm from holder to commutator: set it to {least:g} to {most:g} mm."
            out.append(watch("holder-off", f"{text} After turning the commutator every holder is set anew."))
    unsaid = [name for name in HOLDER_ASKS if getattr(test, name) is None]
    if test.distance_mm is None:
        unsaid.append("distance")
    if unsaid:
        out.append(unproven("holder-unsaid", f"Not said: {', '.join(unsaid)}."))
    return SideResult(
        findings=tuple(out) or (sound("holder-fits", "Square, firm, free, to its bevel, at its distance."),)
    )
