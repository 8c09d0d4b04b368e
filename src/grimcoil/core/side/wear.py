"""What wears: brushes, grease, the brake's disc; what is heard and seen on a round; a surge test from elsewhere."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from grimcoil.core.findings import Finding, Result, act, sound, unproven, watch
from grimcoil.core.limits import reaches, within
from grimcoil.core.readings import three_digits
from grimcoil.core.side.single_phase import SideResult

HALF, NEAR = 0.5, 0.6
GREASE = (
    0.005  # grams for a millimetre of outside diameter and one of width: bearing makers' rule, standard from memory
)
CLOSE_TO_LEAST = 1.1
# Sizes that such parts have, mm; a new brush may be measured a little long. Common practice without source.
BRUSH_MM, LONGER_THAN_NEW = (3.0, 150.0), 1.05
BEARING_MM = (8.0, 2500.0)
DISC_MM, DISC_TIMES = 100.0, 10.0
SURGE_ALIKE = 10.0  # % that two waves may lie apart and be alike; common practice without source
# What is heard or felt, and how bad it is; what is seen, and what to look at next. Common practice without source.
VIBRATIONS: Mapping[str, tuple[str, str]] = {
    "smooth": ("sound", "smooth"),
    "quieter after greasing": ("watch", "the bearing was dry: grease sooner, listen again next round"),
    "rough": ("watch", "feet, coupling and bearing: which of them by hand and ear"),
    "rumbling": ("watch", "a bearing: its grease, then its replacement in a planned stop"),
    "humming without load": ("watch", "loose laminations or unequal air gap; an overload hums with its load only"),
    "knocking": ("act", "coupling or cage of a bearing: stop it and look"),
    "grinding": ("act", "a bearing breaks up: stop it before it takes the winding along"),
}
# Of one bearing, listened to by a rod or a stethoscope. Common practice without source.
HEARD_AT: Mapping[str, tuple[str, str]] = {
    "even": ("sound", "an even hum"),
    "rough": ("watch", "grease it, turn it again, then listen once more"),
    "rumbling": ("watch", "its races: plan its replacement, listen sooner"),
    "rubbing": ("act", "something rubs: stop it before rotor or cage is spoilt"),
}
# Velocity, mm/s r.m.s., of a machine of 15 to 300 kW on a rigid foundation; a flexible one stands 1.6 times as much.
# ISO 20816-3, standard, from memory.
ZONE_A_MM_S, ZONE_B_MM_S, ZONE_C_MM_S = 1.4, 2.8, 4.5
MOST_MM_S = 200.0
BRUSH_GEAR: Mapping[str, tuple[str, str]] = {
    "no sparking": ("sound", "none or slight, the same at all brushes"),
    "slight sparking": ("sound", "slight, the same at all: as it may be; look again next time"),
    "marked sparking": ("act", "it eats the commutator: brushes, springs, spacing, film; then the windings"),
    "patchy film": ("watch", "grade, pressure and load of the brushes; oil or vapour in the air"),
    "grooves": ("watch", "depth by hand; turn or grind them when it stands, undercut after"),
    "high mica": ("act", "it lifts the brushes: undercut it, then the film"),
    "burnt bars": ("act", "low ohms bar to bar beside them: the coil or its joint"),
    "uneven spacing": ("watch", "set the holders evenly round the commutator"),
    "lead on the frame": ("act", "lock it out, clear and fix the brush lead, insulation"),
}
OBSERVATIONS: Mapping[str, tuple[str, str]] = {
    "nothing": ("sound", "nothing to see"),
    "quieter after greasing": ("watch", "the bearing was dry: grease sooner, listen again next round"),
    "hotter housing": ("watch", "running amps and volts, vents and fan, then the load"),
    "dried tape": ("watch", "heat at the splices: drops under load, then remake them"),
    "shiny rub marks": ("watch", "what moves there: bearings and air gap, or cable against metal"),
    "local burn": ("act", "lock it out, open it, insulation and ohms"),
    "oil on winding": ("watch", "the seal first, clean the winding, insulation afterwards"),
    "blocked vents": ("watch", "clean by wiping and vacuum, then the frame's temperature"),
    "water in the box": ("act", "lock it out, dry and seal the box, insulation"),
    "hot belts": ("watch", "they slip: tension and alignment at standstill, then amps"),
    "cycling on and off": ("watch", "what switches it, level or pressure; then starts an hour"),
    "driven machine slow": ("watch", "belts, volts under load, then the load itself"),
    "switch flashes running": ("watch", "its start switch doesn't stay open: weights and contacts at standstill"),
    "smell of burning": ("act", "lock it out, look and smell, insulation and ohms"),
    **BRUSH_GEAR,
}


@dataclass(frozen=True, slots=True)
class BrushesTest:
    """Length of each brush by holder, mm; state: `ok`, `chipped` or `crooked`; new_mm: of a new one."""

    new_mm: float | None = None
    holders: Mapping[str, float] = field(default_factory=dict)
    state: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class GreaseTest:
    """Outside diameter and width of the bearing, mm; kind: which grease it gets."""

    outside_mm: float | None = None
    width_mm: float | None = None
    kind: str = ""


@dataclass(frozen=True, slots=True)
class BrakeDiscTest:
    """Thickness of the lining or disc and the least its maker allows, mm."""

    thickness_mm: float | None = None
    least_mm: float | None = None


@dataclass(frozen=True, slots=True)
class ObservationTest:
    """What is seen and smelt: words from the list."""

    words: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class VibrationTest:
    """What is heard and felt: words of the list; mm_s: velocity by place (`DE-H`), mm/s r.m.s.; listening: a word by
    bearing.
    """

    words: tuple[str, ...] = ()
    mm_s: Mapping[str, float] = field(default_factory=dict)
    listening: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class SurgeTest:
    """A surge comparison made elsewhere: its result, the volts of its peak, the worst difference of two waves."""

    result: str | None = None
    peak_v: float | None = None
    difference_percent: float | None = None


@dataclass(frozen=True, slots=True)
class BrushesResult(Result):
    """Shortest brush, in mm and percent of a new one; holders whose brush must go."""

    shortest_mm: float | None = None
    shortest_percent: float | None = None
    worn: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class GreaseResult(Result):
    """Grams for one greasing."""

    grams: float | None = None


@dataclass(frozen=True, slots=True)
class BrakeDiscResult(Result):
    """What is left above the least, mm."""

    left_mm: float | None = None


def judge_brushes(test: BrushesTest) -> BrushesResult:
    """At half or less of new, chipped or crooked: the whole set goes, right grade. Common practice without source."""
    broken = tuple(sorted(name for name, state in test.state.items() if state in ("chipped", "crooked")))
    if not test.holders and not broken:
        return BrushesResult(findings=(unproven("reading-missing", "No brush was measured."),))
    if absurd := _odd_brushes(test):
        return BrushesResult(findings=(unproven("size-absurd", absurd),))
    if not test.new_mm and not broken:
        text = "The length of a new brush is needed to judge these."
        return BrushesResult(shortest_mm=min(test.holders.values()), findings=(unproven("reading-missing", text),))
    shortest = min(test.holders.values(), default=None)
    share = shortest / test.new_mm if shortest is not None and test.new_mm else None
    short = () if not test.new_mm else tuple(
        sorted(name for name, mm in test.holders.items() if within(mm, HALF * test.new_mm))
    )  # fmt: skip
    worn = tuple(dict.fromkeys((*short, *broken)))
    if worn:
        text = (
            f"Brush {', '.join(worn)} is at half or less, chipped or crooked: the whole set, right grade, each back in"
            " its own place the same way round; seat it with fine sandpaper, never emery."
        )
        finding = act("brushes-worn", text)
    elif unmeasured := sorted(test.state.keys() - test.holders.keys()):
        text = f"Brush {', '.join(unmeasured)} was only looked at: its length is needed."
        finding = unproven("reading-missing", text)
    elif share is not None and within(share, NEAR):
        text = f"Shortest {three_digits(100 * share)} % of new: order the set, the whole of it goes at half."
        finding = watch("brushes-near-half", text)
    else:
        finding = sound("brushes-long", f"Shortest {three_digits(shortest or 0)} mm, above half of new.")
    percent = None if share is None else 100 * share
    return BrushesResult(shortest_mm=shortest, shortest_percent=percent, worn=worn, findings=(finding,))


def _odd_brushes(test: BrushesTest) -> str:
    """What can't be the length of a brush; empty where all can."""
    new = test.new_mm
    if new and not BRUSH_MM[0] <= new <= BRUSH_MM[1]:
        return f"A new brush of {new:g} mm? {BRUSH_MM[0]:g} to {BRUSH_MM[1]:g} mm is what there is."
    longer = [f"{name} {mm:g} mm" for name, mm in test.holders.items() if new and not within(mm, LONGER_THAN_NEW * new)]
    return f"Brush {', '.join(longer)} is longer than a new one of {new:g} mm. Which is right?" if longer else ""


def judge_grease(test: GreaseTest) -> GreaseResult:
    """0.005 D B grams (bearing makers' rule, standard, from memory).

    >>> judge_grease(GreaseTest(85, 19)).grams
    8.075
    """
    if not test.outside_mm or not test.width_mm:
        text = "Outside diameter and width of the bearing are needed."
        return GreaseResult(findings=(unproven("reading-missing", text),))
    (least, most), width = BEARING_MM, test.width_mm
    if not least <= test.outside_mm <= most or width >= test.outside_mm:
        text = (
            f"{test.outside_mm:g} × {width:g} mm is no bearing: {least:g} to {most:g} mm outside, narrower than that."
        )
        return GreaseResult(findings=(unproven("size-absurd", text),))
    grams = GREASE * test.outside_mm * test.width_mm
    which = f" of {test.kind}, never mixed with another" if test.kind else ""
    text = f"{three_digits(grams)} g{which}, motor warm, fittings clean; no more and no more often: too much heats."
    return GreaseResult(grams=grams, findings=(sound("grease-grams", text),))


def judge_brake_disc(test: BrakeDiscTest) -> BrakeDiscResult:
    """Against the least its maker allows; on it is inside."""
    if test.thickness_mm is None or test.least_mm is None:
        text = "The thickness and the least that its maker allows are both needed."
        return BrakeDiscResult(findings=(unproven("reading-missing", text),))
    if max(test.thickness_mm, test.least_mm) > DISC_MM or test.thickness_mm > DISC_TIMES * test.least_mm:
        text = f"{test.thickness_mm:g} mm of at least {test.least_mm:g}: no lining or disc is so. Which is right?"
        return BrakeDiscResult(findings=(unproven("size-absurd", text),))
    left = test.thickness_mm - test.least_mm
    shown = f"{test.thickness_mm:g} mm of at least {test.least_mm:g}"
    if not reaches(test.thickness_mm, test.least_mm):
        finding = act("brake-disc-worn", f"{shown}: replace it, then set the air gap.")
    elif not reaches(test.thickness_mm, test.least_mm * CLOSE_TO_LEAST):
        finding = watch("brake-disc-near", f"{shown}: order one, look again next round.")
    else:
        finding = sound("brake-disc-thick", f"{shown}.")
    return BrakeDiscResult(left_mm=left, findings=(finding,))


def judge_vibration(test: VibrationTest) -> SideResult:
    """By the worst word, the worst bearing and the highest velocity. mm/s (ISO 20816-3, standard, from memory)."""
    out = [*_said(test.words, VIBRATIONS, _VIBRATION)]
    out += [
        _MADE[severity](_VIBRATION[severity], f"{bearing} {word}: {following}.")
        for bearing, word in test.listening.items()
        for severity, following in [HEARD_AT[word]]
    ]
    out += [_velocity(place, mm_s) for place, mm_s in test.mm_s.items()]
    return SideResult(findings=tuple(out) or (unproven("reading-missing", "Nothing was said."),))


_VIBRATION = {"sound": "vibration-sound", "watch": "vibration-watch", "act": "vibration-act"}
_MADE = {"sound": sound, "watch": watch, "act": act}


def _velocity(place: str, mm_s: float) -> Finding:
    if mm_s > MOST_MM_S:
        return unproven("size-absurd", f"{place} {mm_s:g} mm/s? Up to {MOST_MM_S:g} mm/s is what a motor stands.")
    shown = f"{place} {mm_s:g} mm/s: zone"
    if within(mm_s, ZONE_A_MM_S):
        return sound("vibration-sound", f"{shown} A, as new.")
    if within(mm_s, ZONE_B_MM_S):
        return sound("vibration-sound", f"{shown} B, fit to run on.")
    if within(mm_s, ZONE_C_MM_S):
        text = (
            f"{shown} C, for a while only: balance, soft foot, coupling, bearings. On springs or a soft frame it is B."
        )
        return watch("vibration-watch", text)
    text = (
        f"{shown} D above {ZONE_C_MM_S:g} mm/s: it does damage. Stop it, then balance, soft foot, coupling, bearings."
    )
    return act("vibration-act", text)


def judge_observation(test: ObservationTest) -> SideResult:
    """Each suggests the next check."""
    codes = {"sound": "observation-sound", "watch": "observation-watch", "act": "observation-act"}
    out = tuple(_said(test.words, OBSERVATIONS, codes))
    return SideResult(findings=out or (unproven("reading-missing", "Nothing was said."),))


def _said(
    words: tuple[str, ...], known: Mapping[str, tuple[str, str]], codes: Mapping[str, str]
) -> Iterator[Finding]:  # fmt: skip
    for word in words:
        severity, following = known[word]
        yield _MADE[severity](codes[severity], f"{word[0].upper()}{word[1:]}: {following}.")


def judge_surge(test: SurgeTest) -> SideResult:
    """What the tester said, taken over as it is. Common practice: the waves of two phases lie together."""
    if test.result is None:
        return SideResult(findings=(unproven("reading-missing", "The tester's result is needed."),))
    shown = f" at {test.peak_v:g} V" if test.peak_v else ""
    apart = f", waves {test.difference_percent:g} % apart" if test.difference_percent is not None else ""
    far = test.difference_percent is not None and not within(test.difference_percent, SURGE_ALIKE)
    if test.result == "pass" and far:
        text = f"Told as passed{apart}; up to {SURGE_ALIKE:g} % is alike. Which of the two is right? Compare again."
        return SideResult(findings=(unproven("surge-unclear", text),))
    if test.result == "pass":
        return SideResult(findings=(sound("surge-alike", f"Surge comparison passed{shown}{apart}."),))
    return SideResult(findings=(act("surge-apart", f"Surge comparison failed{shown}{apart}: turns or phases inside."),))
