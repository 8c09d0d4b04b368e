"""Side sheets as kinds of test in a job document."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Annotated, Any, Literal, TypeVar

from pydantic import BeforeValidator, Field

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.fields import LOW_OHM
from grimcoil.core.readings import Reading
from grimcoil.core.side import parts, single_phase, starting, wear
from grimcoil.core.side.kinds import SIDE_KINDS
from grimcoil.core.side.kinds import SideTest as CoreSideTest
from grimcoil.exchange.kinds import ByName, PlacedTest
from grimcoil.exchange.strict import AGAIN, MOST_NAMES, NotNegative, Positive, ReadingText, Text, optional, readings

T = TypeVar("T")
Seconds = NotNegative
Words = Annotated[list[Text], BeforeValidator(lambda given: [given] if isinstance(given, str) else given)]


class SinglePhase(PlacedTest):
    """Ohms between three leads."""

    kind: Literal["single_phase"]
    readings: ByName = Field(default_factory=dict)


class CapacitorOhms(PlacedTest):
    """Ohms of a discharged capacitor at first touch and after some seconds."""

    kind: Literal["capacitor_ohms"]
    start: ReadingText | None = None
    end: ReadingText | None = None


class CentrifugalSwitch(PlacedTest):
    """Ohms at rest; whether it opens by hand."""

    kind: Literal["centrifugal_switch"]
    reading: ReadingText | None = None
    opens: bool | None = None


class Rotation(PlacedTest):
    """Way round wanted and seen, looking at the shaft's end: `cw`, `ccw` and their like, or by the arrow."""

    kind: Literal["rotation"]
    wanted: Text | None = None
    seen: Text | None = None
    coupled: bool | None = None


class Brushes(PlacedTest):
    """Lengths by holder, mm."""

    kind: Literal["brushes"]
    new_mm: Positive | None = None
    holders: dict[Text, NotNegative] = Field(default_factory=dict)
    state: dict[Text, Literal["ok", "chipped", "crooked"]] = Field(default_factory=dict)


class Grease(PlacedTest):
    """Outside diameter and width of the bearing, mm; which grease (`type`, as `kind` names the sheet)."""

    kind: Literal["grease"]
    outside_mm: Positive | None = None
    width_mm: Positive | None = None
    type_: Text | None = Field(default=None, alias="type")


class BrakeDisc(PlacedTest):
    """Thickness and the least its maker allows, mm."""

    kind: Literal["brake_disc"]
    thickness_mm: NotNegative | None = None
    least_mm: Positive | None = None


class CapacitorReplaced(PlacedTest):
    """Microfarads and volts of the old capacitor and of the new one."""

    kind: Literal["capacitor_replaced"]
    old_uf: Positive | None = None
    new_uf: Positive | None = None
    old_v: Positive | None = None
    new_v: Positive | None = None


class BrakeGap(PlacedTest):
    """Air gap and the widest its maker allows, mm; volts at which it lifts and those of its coil."""

    kind: Literal["brake_gap"]
    gap_mm: Positive | None = None
    most_mm: Positive | None = None
    lift_v: Positive | None = None
    coil_v: Positive | None = None


class Overhaul(PlacedTest):
    """An opened motor, part by part, and what it was cleaned with."""

    kind: Literal["overhaul"]
    parts: dict[
        Literal["fan", "shroud", "inside", "bearings", "seals", "reassembled"],
        Literal["ok", "cleaned", "replaced", "bad"],
    ] = Field(default_factory=dict)
    cleaned_with: (
        Literal[
            "wiped", "vacuum", "brush", "fresh water", "approved cleaner", "compressed air", "solvent", "petrol"
        ]
        | None
    ) = None  # fmt: skip


class BrushHolders(PlacedTest):
    """Square, firm, free, to the bevel; from holder to commutator, mm."""

    kind: Literal["brush_holders"]
    square: bool | None = None
    firm: bool | None = None
    free: bool | None = None
    bevel: bool | None = None
    distance_mm: Positive | None = None


class StarDelta(PlacedTest):
    """Timer, run-up, line amps in star and delta."""

    kind: Literal["star_delta"]
    timer_s: Seconds | None = None
    run_up_s: Positive | None = None
    line_a_star: NotNegative | None = None
    line_a_delta: Positive | None = None


class Autotransformer(PlacedTest):
    """Tap of full volts, as 0.65 or 65, and amps at full volts."""

    kind: Literal["autotransformer"]
    tap: Annotated[float, Field(gt=0, le=100)] | None = None
    full_voltage_a: Positive | None = None


class Starts(PlacedTest):
    """Starts an hour, run-up, trip class."""

    kind: Literal["starts"]
    per_hour: NotNegative | None = None
    run_up_s: Positive | None = None
    trip_class: Literal[5, 10, 20, 30] | None = None


class Surge(PlacedTest):
    """A surge comparison made by another tester."""

    kind: Literal["surge"]
    result: Literal["pass", "fail"] | None = None
    peak_v: Positive | None = None
    difference_percent: NotNegative | None = None


class Vibration(PlacedTest):
    """What is heard and felt: words from the list, mm/s by place, a word by bearing."""

    kind: Literal["vibration"]
    words: Words = Field(default_factory=list)
    mm_s: Annotated[dict[Text, NotNegative], Field(max_length=MOST_NAMES)] = Field(default_factory=dict)
    listening: Annotated[dict[Text, Literal["even", "rough", "rumbling", "rubbing"]], Field(max_length=MOST_NAMES)] = (
        Field(default_factory=dict)
    )


class Observation(PlacedTest):
    """What is seen, in words from the list."""

    kind: Literal["observation"]
    words: Words = Field(default_factory=list)


SideTest = (
    SinglePhase
    | CapacitorOhms
    | CentrifugalSwitch
    | Rotation
    | Brushes
    | Grease
    | BrakeDisc
    | CapacitorReplaced
    | BrakeGap
    | Overhaul
    | BrushHolders
    | StarDelta
    | Autotransformer
    | Starts
    | Surge
    | Vibration
    | Observation
)


def read_single_phase(given: SinglePhase, path: str) -> single_phase.SinglePhaseTest:
    """Pairs of letters or numbers. Raises RecordRefusal with the path of a pair that is none."""
    for name in given.readings:
        pair = name.removesuffix(AGAIN)
        if not re.fullmatch(r"\s*\w{1,10}\s*-\s*\w{1,10}\s*", pair) or len({p.strip() for p in pair.split("-")}) != 2:
            raise RecordRefusal(f"{path}.readings.{pair}", pair, "two leads with - between them", "A-B")
    return single_phase.SinglePhaseTest(readings(given.readings, LOW_OHM, f"{path}.readings"))


def read_words(given: Vibration | Observation, path: str) -> tuple[str, ...]:
    """Words of the kind's own list. Raises RecordRefusal."""
    known = wear.VIBRATIONS if isinstance(given, Vibration) else wear.OBSERVATIONS
    for i, word in enumerate(given.words):
        if word not in known:
            raise RecordRefusal(f"{path}.words.{i}", word, "one of " + ", ".join(known))
    return tuple(given.words)


def read_capacitor(given: CapacitorOhms, path: str) -> single_phase.CapacitorOhmsTest:
    """Ohms at first and at last."""
    start, end = optional(given.start, LOW_OHM, f"{path}.start"), optional(given.end, LOW_OHM, f"{path}.end")
    return single_phase.CapacitorOhmsTest(start, end)


def read_switch(given: CentrifugalSwitch, path: str) -> single_phase.CentrifugalSwitchTest:
    """Ohms at rest, and by hand."""
    return single_phase.CentrifugalSwitchTest(optional(given.reading, LOW_OHM, f"{path}.reading"), given.opens)


def _plain(made: type[T]) -> Callable[[Any, str], T]:
    names = tuple(made.__dataclass_fields__)  # type: ignore[attr-defined]
    return lambda given, _: made(**{name: getattr(given, name) for name in names})


READERS: dict[type, Callable[[Any, str], CoreSideTest]] = {
    SinglePhase: read_single_phase,
    CapacitorOhms: read_capacitor,
    CentrifugalSwitch: read_switch,
    Rotation: _plain(single_phase.RotationTest),
    Brushes: _plain(wear.BrushesTest),
    Grease: lambda given, _: wear.GreaseTest(given.outside_mm, given.width_mm, given.type_ or ""),
    BrakeDisc: _plain(wear.BrakeDiscTest),
    CapacitorReplaced: _plain(parts.CapacitorReplacedTest),
    BrakeGap: _plain(parts.BrakeGapTest),
    Overhaul: _plain(parts.OverhaulTest),
    BrushHolders: _plain(parts.BrushHoldersTest),
    StarDelta: _plain(starting.StarDeltaTest),
    Autotransformer: _plain(starting.AutotransformerTest),
    Starts: _plain(starting.StartsTest),
    Surge: _plain(wear.SurgeTest),
    Vibration: lambda given, path: wear.VibrationTest(read_words(given, path), given.mm_s, given.listening),
    Observation: lambda given, path: wear.ObservationTest(read_words(given, path)),
}
_NAMES = {made: name for name, (made, _) in SIDE_KINDS.items()}


def side_document(test: CoreSideTest) -> tuple[str, dict[str, Any]]:
    """Kind and figures of a side sheet as the open format writes them."""
    figures = {name: _written(getattr(test, name)) for name in test.__dataclass_fields__}
    if isinstance(test, wear.GreaseTest):  # `kind` is the sheet's own name in the format
        figures["type"] = figures.pop("kind") or None
    return _NAMES[type(test)], {name: value for name, value in figures.items() if value not in (None, {}, [])}


def _written(value: Any) -> Any:
    if isinstance(value, Reading):
        return value.text
    if isinstance(value, dict):
        return {name: _written(one) for name, one in value.items()}
    return list(value) if isinstance(value, tuple) else value
