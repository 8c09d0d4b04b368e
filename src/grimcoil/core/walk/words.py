"""Points and entries in words: `0.1 Ω each through the fuses`, `Overload: not tripped`."""

from __future__ import annotations

from collections.abc import Sequence

from grimcoil.core.circuit.place import LINES, Place
from grimcoil.core.readings import Reading
from grimcoil.core.walk.catalogue import Trial
from grimcoil.core.walk.evidence import Measured

AT = {
    "supply-L": "the supply", "protection-L": "behind the {guard}", "disconnect-L": "behind the disconnect",
    "line-L": "the contactor's line side", "load-L": "the contactor's load side",
    "overload-T": "the overload's outgoing side", "cable-T": "the cable in the panel",
    "local-L": "the line side of the disconnect at the motor", "local-T": "its motor side",
    "box-T": "the cable in the motor box", "lead-": "the motor leads", "star-T": "the star contactor",
    "delta-T": "the delta contactor", "bypass-T": "the bypass",
}  # fmt: skip
ACROSS = {
    ("supply-L", "protection-L"): "the {guard}", ("protection-L", "disconnect-L"): "the disconnect's poles",
    ("line-L", "load-L"): "the contactor's poles", ("load-L", "overload-T"): "the overload's poles",
    ("local-L", "local-T"): "the poles of the disconnect at the motor", ("box-T", "lead-"): "the splices",
    ("disconnect-L", "line-L"): "the joints before the contactor",
    ("protection-L", "line-L"): "the joints before the contactor", ("overload-T", "lead-"): "the cable",
    ("bypass-T", "overload-T"): "the starter",
}  # fmt: skip
CONTROL = {
    "control-L": "control supply, live side", "control-N": "control supply, return",
    "control-F": "behind the control fuse",
    "coil-A1": "coil A1", "coil-A2": "coil A2", "frame": "the frame", "earth": "earth", "P1": "protector P1",
    "P2": "protector P2",
}  # fmt: skip
UNITS = {"volts-ac": "V", "volts-ac-high-z": "V", "volts-across": "V", "ohms": "Ω", "insulation": "MΩ", "amps": "A"}


def _kind(point: str) -> str:
    return point.rstrip("0123456789")


def point_words(place: Place, point: str) -> str:
    """One point: `the contactor's load side, L2`."""
    if point in CONTROL:
        return CONTROL[point]
    kind, number = _kind(point), point[len(_kind(point)) :]
    if kind == "chain-":
        device = place.chain[int(number) - 1] if int(number) <= len(place.chain) else "the last contact"
        return f"behind “{device}”"
    if kind not in AT:
        return point
    return f"{AT[kind].format(guard=_guard(place))}, {f'lead {number}' if kind == 'lead-' else f'L{number}'}"


def _guard(place: Place) -> str:
    return "fuses" if place.protection == "fuses" else "breaker's poles"


def measured_words(place: Place, measured: Measured) -> str:
    """An entry with a meter: values, where, in which state."""
    state, unit = measured.state, UNITS[measured.quantity]
    how = {"rest": "", "start": ", start held", "run": ", running"}[state.at]
    how = ", dead" if not state.live else how or ", at rest"
    how += LIFTED.get(state.motor, "") + (", pushed in" if not state.live and state.contactor == "in" else "")
    if measured.quantity == "amps":
        return ", ".join(f"{a} {reading.text} A" for a, _, reading in measured.readings) + how
    pairs = [(a, b) for a, b, _ in measured.readings]
    return f"{_values(measured.readings, unit)} {_where(place, pairs)}{how}"


def _at(place: Place, kind: str) -> str:
    return AT[kind].format(guard=_guard(place))


def _values(readings: Sequence[tuple[str, str, Reading]], unit: str) -> str:
    texts = [reading.text.strip() for _, _, reading in readings]
    numbers = all(text.replace(".", "").replace(",", "").isdigit() for text in texts)
    unit = f" {unit}" if numbers and unit != "MΩ" else ""
    if len(texts) > 1 and len(set(texts)) == 1:
        return f"{texts[0]}{unit} each"
    return ", ".join(texts) + unit


def _where(place: Place, pairs: Sequence[tuple[str, str]]) -> str:
    kinds = {(_kind(a), _kind(b)) for a, b in pairs}
    if len(kinds) == 1 and len(pairs) == len(LINES):
        one, other = next(iter(kinds))
        if one == other and one in AT:
            return "pair by pair of the motor leads" if one == "lead-" else f"line to line at {_at(place, one)}"
        if other in ("earth", "frame") and one in AT:
            return f"from {_at(place, one)} to {CONTROL[other]}"
        if (one, other) in ACROSS:
            return f"across {ACROSS[one, other].format(guard=_guard(place))}"
    return "; ".join(f"{point_words(place, a)} to {point_words(place, b)}" for a, b in pairs[:3])


def answer_words(trial: Trial, answer: str) -> str:
    """An answer: `Overload: not tripped`."""
    return f"{trial.short or trial.name.replace('-', ' ').capitalize()}: {answer.replace('-', ' ')}"


QUANTITY = {
    "volts-ac": "Volts", "volts-ac-high-z": "Volts", "volts-across": "Volts", "ohms": "Ohms",
    "insulation": "Insulation",
}  # fmt: skip
LIFTED = {"lifted-at-box": ", motor lifted at its box", "lifted-at-starter": ", motor lifted in the panel"}


def trial_words(place: Place, trial: Trial) -> str:
    """What a test asks: its question, or what is measured where: `Ohms across the fuses`."""
    if trial.question:
        return trial.question
    state = trial.circuit
    how = "" if state is None else LIFTED.get(state.motor, "")
    how += {"start": ", start held", "run": ", running"}.get(state.at, "") if state is not None and state.live else ""
    if trial.quantity == "amps":
        return f"Amps of the three lines{how}"
    if trial.name == "volts-chain":
        return "Volts along the control chain, start held"
    return f"{QUANTITY[trial.quantity]} {_where(place, trial.between)}{how}"


def pair_words(place: Place, a: str, b: str) -> str:
    """Two points as a label has room for: `L1 to L2` where the test says at which place."""
    if not b:
        return a
    if _kind(a) == _kind(b) and a[-1:].isdigit():
        sign = "" if _kind(a) == "lead-" else "L"
        return f"{'leads ' if not sign else ''}{sign}{a[len(_kind(a)) :]} to {sign}{b[len(_kind(b)) :]}"
    if a[-1:].isdigit() and b in ("earth", "frame"):
        return f"{'lead ' if _kind(a) == 'lead-' else 'L'}{a[len(_kind(a)) :]} to {CONTROL[b]}"
    if (_kind(a), _kind(b)) in ACROSS:
        return f"L{a[len(_kind(a)) :]}"
    return f"{point_words(place, a)} to {point_words(place, b)}"
