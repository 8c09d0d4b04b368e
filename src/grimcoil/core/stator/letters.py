"""Lead markings both ways: numbers (NEMA MG-1 part 2) and letters (IEC 60034-8); standards, from memory."""

from __future__ import annotations

_SINGLE = {
    "1": "U1", "2": "V1", "3": "W1", "4": "U2", "5": "V2", "6": "W2",
    "7": "U5", "8": "V5", "9": "W5", "10": "U6", "11": "V6", "12": "W6",
}  # fmt: skip
_TWO_WINDINGS = {"1": "1U", "2": "1V", "3": "1W", "11": "2U", "12": "2V", "13": "2W"}
_ONE_WINDING = {"1": "1U", "2": "1V", "3": "1W", "6": "2U", "4": "2V", "5": "2W"}


def iec_letters(scheme: str) -> dict[str, str]:
    """Number -> letter marking for the leads of a scheme. The larger prefix is the higher speed.

    >>> iec_letters("six-lead")["6"], iec_letters("two-speed-one-winding-wye")["6"]
    ('W2', '2U')
    """
    if scheme == "two-speed-two-winding":
        return dict(_TWO_WINDINGS)
    if scheme.startswith("two-speed-one-winding"):
        return dict(_ONE_WINDING)
    if scheme.startswith("three-lead"):
        return {"1": "U", "2": "V", "3": "W"}
    return dict(_SINGLE)


def number_of(mark: str, scheme: str = "unknown") -> str:
    """The number of any usual marking: `U1`, `T7`, `2U`, `W`; a marking it doesn't know comes back as it is.

    >>> number_of("w2", "six-lead"), number_of("T9"), number_of("V"), number_of("2U", "two-speed-two-winding")
    ('6', '9', '2', '11')
    """
    plain = mark.strip().upper()
    bare = plain[1:] if plain[:1] == "T" and plain[1:].isdigit() else plain
    if bare in {"U", "V", "W"}:
        return {"U": "1", "V": "2", "W": "3"}[bare]
    known = {letter: number for number, letter in iec_letters(scheme).items()}
    single = {letter: number for number, letter in _SINGLE.items()}
    return known.get(bare) or single.get(bare) or (bare if bare.isdigit() else mark.strip())
