"""What a reading shows: verdicts, findings, and the catalogue of every finding code with its source."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum


class Verdict(StrEnum):
    """Four answers. `unproven` is one of them: the readings don't allow a verdict."""

    SOUND = "sound"
    WATCH = "watch"
    ACT = "act"
    UNPROVEN = "unproven"


class Standing(StrEnum):
    """How a limit or rule is known."""

    STANDARD = "standard, from memory"
    TRADE = "common practice without source"
    COMPUTED = "computed"
    SITE = "set by the site"


@dataclass(frozen=True, slots=True)
class FindingKind:
    """An entry of the catalogue: where the rule comes from and how that is known."""

    source: str
    standing: Standing


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing the readings show, as a sentence with its figures."""

    code: str
    severity: Verdict
    text: str

    @property
    def source(self) -> str:
        """Source and standing in one line."""
        kind = CATALOGUE[self.code]
        if kind.standing is Standing.TRADE:
            return f"{kind.source} ({kind.standing})" if kind.source else str(kind.standing)
        return f"{kind.source} ({kind.standing})"


_STD, _TRADE, _CALC = Standing.STANDARD, Standing.TRADE, Standing.COMPUTED


def _kinds(standing: Standing, source: str, codes: str) -> dict[str, FindingKind]:
    return {code: FindingKind(source, standing) for code in codes.split()}


CATALOGUE: dict[str, FindingKind] = {
    # plate
    **_kinds(
        _CALC,
        "dual-voltage currents go inversely with the voltages",
        "plate-currents-ratio",
    ),
    **_kinds(_CALC, "synchronous speed 120 f / p", "plate-speed"),
    **_kinds(_STD, "NEC Table 430.250", "plate-current-power"),
    **_kinds(_TRADE, "usual pairs of motor and system voltage", "plate-system-voltage"),
    **_kinds(_CALC, "the plate's own figures", "plate-connected-voltage"),
    # instruments
    **_kinds(_TRADE, "calibration kept up to date", "calibration-overdue"),
    **_kinds(_TRADE, "leads shorted read about zero", "instrument-check"),
    # winding resistance
    **_kinds(
        _CALC,
        "the criteria's unbalance limit over the meter's intervals",
        "balanced unbalanced unbalance-watch unbalance-unproven",
    ),
    **_kinds(
        _CALC,
        "series and parallel resistance of wye and delta",
        "open-phase open-coil-delta lead-open-delta all-open shorted-turns poor-joint pattern-unclassified"
        " pairs-contradict",
    ),
    **_kinds(_TRADE, "a kilo-ohm across a power winding is as good as open", "kilohm-open"),
    **_kinds(_TRADE, "a beep sounds only below some tens of ohms", "beep-only"),
    **_kinds(_CALC, "readings that were not taken", "resistance-missing insulation-missing"),
    **_kinds(_TRADE, "drift of more than 5 % from the first set", "resistance-drift"),
    **_kinds(_STD, "IEEE 118 / IEEE 112 temperature correction", "temperature-missing"),
    # insulation
    **_kinds(
        _STD,
        "IEEE 43-2013 Table 3, ANSI/EASA AR100",
        "insulation-sound insulation-low insulation-failed insulation-unproven",
    ),
    **_kinds(_TRADE, "near zero to frame is bad on any instrument", "insulation-near-zero"),
    **_kinds(_TRADE, "a short hold is a spot value, never a 1-minute value", "spot-only"),
    **_kinds(_STD, "IEEE 43-2013 correction to 40 °C, 10 to 85 °C", "correction-out-of-range"),
    **_kinds(_STD, "IEEE 43-2013 Table 1", "test-voltage-high test-voltage-low"),
    **_kinds(
        _STD,
        "IEEE 43-2013 polarization index",
        "pi-sound pi-low pi-below-one pi-unproven pi-not-meaningful",
    ),
    **_kinds(_TRADE, "polarization index above about 8 on an old winding", "pi-brittle"),
    **_kinds(_TRADE, "60 s over 30 s ratio", "dar-sound dar-doubtful dar-bad dar-unproven"),
    **_kinds(_TRADE, "a falling curve is water or a breakdown path", "curve-falling"),
    **_kinds(_CALC, "Magnus dew point (17.62, 243.12 °C)", "wet-surface"),
    **_kinds(_CALC, "times in rising order", "series-out-of-order"),
    **_kinds(_TRADE, "the maker forbids high-voltage tests", "insulation-forbidden"),
    **_kinds(_CALC, "no over-range top is known for this tester", "range-unknown"),
    # supply
    **_kinds(
        _STD,
        "NEMA MG-1 voltage unbalance and derating",
        "voltage-balanced voltage-unbalance-watch voltage-unbalance-act",
    ),
    **_kinds(_STD, "NEMA MG-1 12.44, ±10 %", "voltage-level-act"),
    **_kinds(_STD, "IEC 60034-1 zone A, ±5 %", "voltage-level-watch voltage-level-sound"),
    **_kinds(_CALC, "three line voltages close a triangle", "voltages-no-triangle"),
    **_kinds(
        _CALC,
        "line-to-earth values of the declared system",
        "line-to-earth-misfit line-to-earth-fits",
    ),
    **_kinds(_TRADE, "a floating system holds each line off earth", "earth-fault"),
    **_kinds(_CALC, "readings that were not taken", "supply-missing current-missing"),
    # current
    **_kinds(
        _TRADE,
        "current unbalance 5 % and 10 %",
        "current-balanced current-unbalance-watch current-unbalance-act current-unbalance-from-volts",
    ),
    **_kinds(
        _STD,
        "nameplate full-load current and service factor",
        "current-over-plate current-over-service-factor",
    ),
    **_kinds(_CALC, "a lost line raises the two others by about √3", "line-lost"),
    **_kinds(_TRADE, "all lines low: uncoupled or a broken belt", "current-all-low"),
    **_kinds(_CALC, "a brake between two lines adds to these two", "brake-pair"),
    # contacts, accessories
    **_kinds(
        _STD,
        "NETA practice: 50 % above the lowest pole",
        "contact-drop-sound contact-drop-high contact-drop-burnt",
    ),
    **_kinds(
        _TRADE,
        "thermostats near 0 ohm, thermistors tens to hundreds cold",
        "accessory-sound accessory-off",
    ),
    **_kinds(_STD, "IEC 60751: Pt100 is 100 ohm at 0 °C", "rtd-sound rtd-off"),
    **_kinds(_TRADE, "an accessory must be clear of the frame", "accessory-to-frame"),
    # trend
    **_kinds(
        _CALC,
        "right-censored maximum likelihood on log10 R₄₀",
        "trend-falling trend-no-fall trend-too-few",
    ),
    **_kinds(
        _TRADE,
        "last value against the median of the earlier ones",
        "trend-step-watch trend-step-act",
    ),
}

_RANK = {Verdict.SOUND: 0, Verdict.UNPROVEN: 1, Verdict.WATCH: 2, Verdict.ACT: 3}


def worst(verdicts: Iterable[Verdict]) -> Verdict:
    """The verdict that governs: act over watch over unproven over sound; nothing at all is unproven."""
    return max(verdicts, key=_RANK.__getitem__, default=Verdict.UNPROVEN)


def verdict_of(findings: Iterable[Finding]) -> Verdict:
    """The governing verdict of some findings."""
    return worst(finding.severity for finding in findings)


def by_weight(findings: Iterable[Finding]) -> list[Finding]:
    """Weightiest first, otherwise in the order found."""
    return sorted(findings, key=lambda finding: -_RANK[finding.severity])
