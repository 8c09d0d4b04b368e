"""How a winding hangs on the direct-current set while it dries, and what share of the current each phase carries."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from grimcoil.core.errors import RecordRefusal

WYE_PHASES, DELTA_PHASES = ("1", "2", "3"), ("1-2", "2-3", "3-1")
# Which joinings the box of a scheme allows of; where ohms can't tell wye from delta, both.
SCHEMES: Mapping[str, frozenset[str]] = {
    "series": frozenset({"six-lead", "twelve-lead"}),
    "one-and-two": frozenset(
        {"three-lead", "three-lead-wye", "six-lead", "nine-lead-wye", "twelve-lead", "part-winding",
         "two-speed-two-winding", "two-speed-one-winding-wye"}
    ),
    "delta-two": frozenset(
        {"three-lead", "three-lead-delta", "six-lead", "nine-lead-delta", "twelve-lead", "two-speed-one-winding-delta"}
    ),
}  # fmt: skip
HOT_RISE = (
    1.37  # hot phase over the indicated rise up to 90 °C: 4/3, and a little as hot copper takes more of the volts
)
MOST = {"one-and-two": (1.0, 0.5), "delta-two": (2 / 3, 1 / 3), "series": (1.0, 1.0)}


@dataclass(frozen=True, slots=True)
class Hookup:
    """One joining: its name, its phases, which of them carries most (None: all alike)."""

    name: str
    phases: tuple[str, ...]
    hot: str | None

    def share(self) -> dict[str, float]:
        """Current of each phase in parts of the set's. (computed: Kirchhoff)

        >>> Hookup("delta-two", DELTA_PHASES, "1-2").share()["2-3"]
        0.3333333333333333
        """
        most, other = MOST[self.name]
        return {phase: most if self.hot in (None, phase) else other for phase in self.phases}

    def heat(self) -> dict[str, float]:
        """Heat of each phase in parts of the hottest one's (computed)."""
        most = MOST[self.name][0]
        return {phase: (share / most) ** 2 for phase, share in self.share().items()}

    def rotated(self, to: str, where: str) -> Hookup:
        """The same with another phase carrying most. Raises RecordRefusal where all carry the same, or for no phase."""
        if self.hot is None:
            raise RecordRefusal(where, to, "nothing to rotate: in series all phases carry the same")
        names = dict(zip(WYE_PHASES, self.phases, strict=True)) | {phase: phase for phase in self.phases}
        if to not in names:
            raise RecordRefusal(where, to, f"one of {', '.join(self.phases)}")
        return Hookup(self.name, self.phases, names[to])


def hookup_of(name: str, scheme: str) -> Hookup:
    """A hookup on a lead scheme. Raises RecordRefusal at `hookup` where it can't be made there."""
    if name not in SCHEMES or scheme not in SCHEMES[name]:
        able = [hookup for hookup, schemes in SCHEMES.items() if scheme in schemes]
        accepted = f"{' or '.join(able)} on {scheme}" if able else f"a lead scheme that is known, not {scheme}"
        raise RecordRefusal("hookup", name, accepted)
    phases = DELTA_PHASES if name == "delta-two" else WYE_PHASES
    return Hookup(name, phases, None if name == "series" else phases[0])
