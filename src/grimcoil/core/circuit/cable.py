"""Cable resistance from size and length, a cable tested alone, and the starter's reading against the motor box's."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

from grimcoil.core.catalogue import Standing
from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Result, act, sound, unproven, watch
from grimcoil.core.insulation.curve import in_mohm
from grimcoil.core.measured import CableTest
from grimcoil.core.readings import Reading, Shown, three_digits
from grimcoil.core.resistance.phases import wye_phases
from grimcoil.core.resistance.temperature import INFERRED_ZERO_C
from grimcoil.core.subject import Cable

# IEC 60228 class 2 copper at 20 °C, mm² -> Ω/km; standard, from memory.
IEC_60228_OHM_PER_KM = {
    1.5: 12.1, 2.5: 7.41, 4: 4.61, 6: 3.08, 10: 1.83, 16: 1.15, 25: 0.727, 35: 0.524, 50: 0.387, 70: 0.268, 95: 0.193,
}  # fmt: skip

# Annealed copper (IACS) at 20 °C, Ω·mm²/m; aluminium conductors by the ratio of the usual resistivities.
COPPER_OHM_MM2_PER_M = 0.0172414
ALUMINIUM_TIMES = 0.0282 / 0.0172414
CORES = 3
_CORE_ENDS = re.compile(r"\s*[-–/]\s*")
_AUGHTS = {"1/0": 0, "2/0": -1, "3/0": -2, "4/0": -3}

# What a length that is only roughly known and a conductor from cold to warm leave open; common practice.
LEAST_OF_TABLE, MOST_OF_TABLE = 0.85, 1.25


@dataclass(frozen=True, slots=True)
class Looked:
    """A figure looked up, with where it comes from and how that is known."""

    value: float
    unit: str
    source: str
    standing: Standing


def awg_diameter_mm(size: str) -> float:
    """Wire diameter of an AWG size, 0.127 mm x 92^((36 - n) / 39) (ASTM B258, standard, from memory).

    >>> round(awg_diameter_mm("10"), 3), round(awg_diameter_mm("4/0"), 2)
    (2.588, 11.68)
    """
    number = _AUGHTS.get(size) if size in _AUGHTS else int(size)
    return float(0.127 * 92 ** ((36 - (number or 0)) / 39))


def ohm_per_km(cable: Cable) -> Looked | None:
    """Resistance of one conductor at 20 °C, Ω/km; None where the size isn't known.

    A size between the table's takes copper's resistivity over its area.
    """
    times = ALUMINIUM_TIMES if cable.conductor == "aluminium" else 1.0
    if cable.size_awg is not None:
        area = awg_diameter_mm(cable.size_awg) ** 2 * 0.785398163397448
        source = "ASTM B258 diameter, annealed copper"
        return Looked(1000 * COPPER_OHM_MM2_PER_M / area * times, "Ω/km", source, Standing.COMPUTED)
    if cable.size_mm2 is None:
        return None
    listed = IEC_60228_OHM_PER_KM.get(cable.size_mm2)
    if listed is not None:
        return Looked(listed * times, "Ω/km", "IEC 60228 class 2 copper at 20 °C", Standing.STANDARD)
    value = 1000 * COPPER_OHM_MM2_PER_M / cable.size_mm2 * times
    return Looked(value, "Ω/km", "resistivity of annealed copper over the area", Standing.COMPUTED)


def conductor_ohm(cable: Cable, celsius: float = 20.0) -> float | None:
    """One conductor's resistance at a temperature, Ω; None where size or length isn't known.

    Computed from the table it names.
    """
    looked = ohm_per_km(cable)
    if looked is None or cable.length_m is None:
        return None
    k = INFERRED_ZERO_C[cable.conductor]
    return looked.value * cable.length_m / 1000 * (k + celsius) / (k + 20)


def starter_against_box(
    starter: Mapping[str, tuple[float, float]], box: Mapping[str, tuple[float, float]], cable: Cable
) -> Finding | None:
    """Line readings (least, most ohm by pair `1-2`, `2-3`, `3-1`) at the starter against the motor box's (computed).

    They exceed by two conductors' worth; more is a bad joint or conductor, and the three differences name it.
    None where a pair is missing or the cable isn't known.
    """
    expected = conductor_ohm(cable)
    pairs = [pair for pair in ("1-2", "2-3", "3-1") if pair in starter and pair in box]
    if expected is None or len(pairs) < 3:
        return None
    least = [starter[pair][0] - box[pair][1] for pair in pairs]
    most = [starter[pair][1] - box[pair][0] for pair in pairs]
    middle = [(a + b) / 2 for a, b in zip(least, most, strict=True)]
    table = f"{three_digits(1000 * 2 * expected)} mΩ by the table"
    shown = f"At the starter {', '.join(three_digits(1000 * d) for d in middle)} mΩ more than at the box, {table}"
    if max(least) > 2 * expected * MOST_OF_TABLE:
        conductors = wye_phases(*middle)
        worst = max(range(3), key=lambda i: conductors[i])
        bad = f"conductor {worst + 1} has {three_digits(1000 * conductors[worst])} mΩ"
        return watch("cable-joint-high", f"{shown}: {bad}, a bad joint or conductor.")
    if min(most) < 2 * expected * LEAST_OF_TABLE:
        text = f"{shown}: less than the cable has. Wrong length or size on record, or the readings are swapped."
        return watch("cable-odd", text)
    return sound("cable-fits", f"{shown}.")


@dataclass(frozen=True, slots=True)
class CableResult(Result):
    """A cable tested alone. lowest_mohm_km: least insulation times its length."""

    lowest_mohm: float | None = None
    lowest_mohm_km: float | None = None


@dataclass(frozen=True, slots=True)
class _Piece:
    """How one piece by itself is told of."""

    name: str
    cores: str
    to_earth: str
    between: str
    bad: str
    low: str


_CABLE = _Piece(
    "Cable", "cores", "cable-to-earth", "cable-between-cores", "far end open: the cable is bad",
    "dry it, clean the ends, read again",
)  # fmt: skip
_BLOCK = _Piece(
    "Terminal block", "studs", "terminal-block-bad", "terminal-block-bad",
    "everything off it: the block is bad. Change it before you judge the winding",
    "clean off tracks and dust, dry it, read again",
)  # fmt: skip


def judge_cable(test: CableTest, cable: Cable, criteria: Criteria) -> CableResult:
    """Cores against each other and earth, far end open; or looped in pairs, far end joined; a terminal block alike."""
    piece = _BLOCK if test.what == "terminal-block" else _CABLE
    findings = _apart(test.to_earth, criteria, piece, piece.to_earth, "to earth")
    lowest = [in_mohm(r.amount).low for r in test.to_earth.values() if r.shown is Shown.VALUE]
    if test.end == "joined":
        findings += _joined(test.cores, cable, criteria)
    else:
        findings += _apart(test.cores, criteria, piece, piece.between, f"between {piece.cores}")
        lowest += [in_mohm(r.amount).low for r in test.cores.values() if r.shown is Shown.VALUE]
    if lacking := _lacking(test, piece.cores):
        whole = f"Of the {piece.name.casefold()}'s three {piece.cores} this wasn't read: {lacking}."
        findings.append(unproven("reading-missing", whole))
    least = min(lowest, default=None)
    length = cable.length_m if piece is _CABLE else None
    product = least * length / 1000 if least is not None and length else None
    return CableResult(findings=tuple(findings), lowest_mohm=least, lowest_mohm_km=product)


def _lacking(test: CableTest, cores: str) -> str:
    """What three cores still want: each to earth and each pair with the far end open, each loop with it joined."""
    pairs = {frozenset(_CORE_ENDS.split(name)) for name in test.cores}
    out = [] if len({p for p in pairs if len(p) == 2}) >= CORES else [f"{CORES - len(pairs)} of three pairs of {cores}"]
    if test.end == "open" and len(test.to_earth) < CORES:
        out.append(f"{CORES - len(test.to_earth)} of three {cores} to earth")
    return ", ".join(out)


def _clear(reading: Reading, criteria: Criteria) -> str:
    """`clear`, `low` or `zero` for a reading that should show insulation."""
    if reading.shown is not Shown.VALUE:
        return "clear" if reading.shown is Shown.OVER_RANGE else "unproven"
    mohm = in_mohm(reading.amount)
    if mohm.surely_below(criteria.near_zero_mohm.value):
        return "zero"
    return "clear" if mohm.surely_at_least(criteria.insulation_random_mohm.value) else "low"


def _apart(readings: Mapping[str, Reading], criteria: Criteria, piece: _Piece, code: str, where: str) -> list[Finding]:
    if not readings:
        return []
    kinds = {name: _clear(reading, criteria) for name, reading in readings.items()}
    zero = [name for name, kind in kinds.items() if kind == "zero"]
    low = [name for name, kind in kinds.items() if kind == "low"]
    if zero:
        return [act(code, f"{piece.name} {', '.join(zero)} near zero {where}, {piece.bad}.")]
    if low:
        least = criteria.insulation_random_mohm.value
        return [watch(code, f"{piece.name} {', '.join(low)} below {least:g} MΩ {where}: {piece.low}.")]
    if "unproven" in kinds.values():
        return [unproven("beep-only", f"A beep shows no insulation {where}; read it with an insulation tester.")]
    return [sound("cable-clear", f"{piece.name} clear {where}.")]


def _joined(loops: Mapping[str, Reading], cable: Cable, criteria: Criteria) -> list[Finding]:
    if not loops:
        return []
    opened = [
        name
        for name, reading in loops.items()
        if reading.shown is Shown.OVER_RANGE or reading.amount.low >= criteria.open_above_ohm.value
    ]
    if opened:
        shared = set.intersection(*(set(name.replace("–", "-").split("-")) for name in opened))
        core = f"core {shared.pop()}" if len(opened) > 1 and len(shared) == 1 else "a core"
        return [act("cable-core-open", f"Open on {', '.join(opened)} with the far end joined: {core} is broken.")]
    values = {name: reading.amount.value for name, reading in loops.items() if reading.shown is Shown.VALUE}
    if len(values) < len(loops):
        return [unproven("beep-only", "A beep shows no open core, but no even loops either.")]
    expected = conductor_ohm(cable)
    width = max(0.5 * (reading.count or 0.0) for reading in loops.values())
    low, high = min(values.values()), max(values.values())
    limit = 2 * expected * MOST_OF_TABLE if expected is not None else 1.25 * low
    worst = max(values, key=lambda name: values[name])
    if high - width > limit + width:
        return [
            watch("cable-joint-high", f"Loop {worst} has {three_digits(high)} Ω, the lowest {three_digits(low)} Ω.")
        ]
    return [sound("cable-clear", f"Loops {three_digits(low)} to {three_digits(high)} Ω with the far end joined.")]
