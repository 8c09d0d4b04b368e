"""Fields of a form as typed values, with a sentence for each that can't be used."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any

from grimcoil.core.errors import RecordRefusal, Refusal


@dataclass
class Fields:
    """Typed values out of a form's texts, with every refusal gathered."""

    texts: Mapping[str, str]
    refused: dict[str, str] = field(default_factory=dict)

    def take(self, name: str, read: Callable[[str], Any], required: bool = False) -> Any:
        """One field; None where empty or refused."""
        text = " ".join(self.texts.get(name, "").split())
        if not text:
            if required:
                self.refused[name] = "This one is needed."
            return None
        try:
            return read(text)
        except Refusal as refusal:
            self.refused[name] = refusal.sentence()
            return None


# Such as stand on plates and meters of the trade.
EXAMPLES = {
    "V": "400", "A": "21", "°C": "22", "g": "8", "Ω": "0.412", "MΩ": "550", "months": "12", "h": "4000", "": "1.15",
}  # fmt: skip


def amount(least: float, most: float, unit: str) -> Callable[[str], Decimal]:
    """A figure within bounds, a comma for a point, its unit behind it or not."""

    def read(text: str) -> Decimal:
        plain = re.sub(rf"\s*{unit}$", "", text, flags=re.IGNORECASE).replace(",", ".")
        try:
            value = Decimal(plain)
        except InvalidOperation:
            raise RecordRefusal("", text, f"a number in {unit}".removesuffix(" in "), EXAMPLES.get(unit, "")) from None
        if not value.is_finite() or not least <= value <= Decimal(str(most)):
            raise RecordRefusal("", text, f"a number from {least:g} to {most:g} {unit}")
        return value

    return read


def one_of(*choices: str) -> Callable[[str], str]:
    """One of the choices, as they are written."""

    def read(text: str) -> str:
        if text not in choices:
            raise RecordRefusal("", text, "one of " + ", ".join(choices))
        return text

    return read


def short(most: int) -> Callable[[str], str]:
    """A text of so many characters at most."""

    def read(text: str) -> str:
        if len(text) > most:
            raise RecordRefusal("", text[:30] + "…", f"at most {most} characters")
        return text

    return read


def day_of(text: str) -> date:
    """A day as `2026-03-14`."""
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise RecordRefusal("", text, "a day", "2026-03-14") from None
