"""Drop across closed poles, and the accessories that hang on a motor."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.amount import Amount
from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Verdict, verdict_of
from grimcoil.core.readings import Reading, Shown
from grimcoil.core.subject import AccessoryTest, ContactTest

BURNT_V = 2.0

# what -> ohms it may show cold; common practice, Pt100 after IEC 60751 (standard, from memory).
ACCESSORY_OHM = {
    "thermostat": (0.0, 2.0),
    "thermistor": (20.0, 750.0),
    "rtd": (90.0, 140.0),
    "brake": (1.0, 5000.0),
    "heater": (10.0, 5000.0),
}


@dataclass(frozen=True, slots=True)
class ContactResult:
    """The worst pole and what it turns into heat."""

    worst: str | None = None
    watts: float | None = None
    findings: tuple[Finding, ...] = ()

    @property
    def verdict(self) -> Verdict:
        """Governing verdict."""
        return verdict_of(self.findings)


@dataclass(frozen=True, slots=True)
class AccessoryResult:
    """What an accessory shows."""

    what: str
    findings: tuple[Finding, ...] = ()

    @property
    def verdict(self) -> Verdict:
        """Governing verdict."""
        return verdict_of(self.findings)


def judge_contacts(test: ContactTest, criteria: Criteria) -> ContactResult:
    """Compare the poles: more than 50 % above the lowest is worth a look (NETA practice, standard, from memory)."""
    drops = {line: r.amount.value for line, r in test.readings.items() if r.amount.is_exact}
    if len(drops) < 2:
        return ContactResult(
            findings=(
                Finding(
                    "current-missing",
                    Verdict.UNPROVEN,
                    "Drops of two poles are needed.",
                ),
            )
        )
    worst = max(drops, key=lambda line: drops[line])
    lowest = min(drops.values())
    watts = drops[worst] * test.current_a if test.current_a is not None else None
    heat = f", {watts:.1f} W of heat" if watts is not None else ""
    if drops[worst] >= BURNT_V:
        finding = Finding(
            "contact-drop-burnt",
            Verdict.ACT,
            f"{worst} drops {drops[worst]:g} V{heat}: a burnt pole.",
        )
    elif drops[worst] > lowest * (1 + criteria.contact_drop_high.value / 100):
        text = f"{worst} drops {drops[worst]:g} V, the lowest pole {lowest:g} V{heat}: look at that contact."
        finding = Finding("contact-drop-high", Verdict.WATCH, text)
    else:
        finding = Finding(
            "contact-drop-sound",
            Verdict.SOUND,
            f"Poles drop alike, at most {drops[worst]:g} V{heat}.",
        )
    return ContactResult(worst, watts, (finding,))


def judge_accessory(test: AccessoryTest, criteria: Criteria) -> AccessoryResult:
    """An accessory's own value against what its kind shows cold, then its clearance to frame."""
    findings = []
    if test.reading is not None and test.what in ACCESSORY_OHM:
        findings.append(_own_value(test.what, test.reading))
    if test.to_frame is not None and _touches_frame(test.to_frame, criteria):
        text = f"The {test.what} shows a path to frame: isolate it and look."
        findings.append(Finding("accessory-to-frame", Verdict.ACT, text))
    if not findings:
        findings.append(Finding("accessory-off", Verdict.UNPROVEN, f"The {test.what} was not read."))
    return AccessoryResult(test.what, tuple(findings))


def _own_value(what: str, reading: Reading) -> Finding:
    low, high = ACCESSORY_OHM[what]
    amount: Amount = reading.amount
    code = "rtd" if what == "rtd" else "accessory"
    if reading.shown is Shown.VALUE and low <= amount.low and amount.high <= high:
        return Finding(
            f"{code}-sound",
            Verdict.SOUND,
            f"The {what} reads {amount.value:g} Ω, as it should cold.",
        )
    shown = "open" if reading.shown is Shown.OVER_RANGE else f"{amount.value:g} Ω"
    text = f"The {what} reads {shown}; {low:g} to {high:g} Ω is usual cold."
    return Finding(f"{code}-off", Verdict.WATCH, text)


def _touches_frame(reading: Reading, criteria: Criteria) -> bool:
    return reading.shown is Shown.VALUE and reading.amount.high < criteria.near_zero_mohm.value * 1e6
