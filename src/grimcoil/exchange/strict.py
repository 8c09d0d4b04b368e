"""What all open formats share: strict models, value types, and Pydantic's complaints as refusals."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, FiniteFloat, StringConstraints, ValidationError

from grimcoil.core.errors import ReadingRefusal, RecordRefusal, UnclearReading
from grimcoil.core.fields import Field as ReadingField
from grimcoil.core.readings import Reading, parse_reading, quick_reading

Positive = Annotated[FiniteFloat, Field(gt=0)]
NotNegative = Annotated[FiniteFloat, Field(ge=0)]
Text = Annotated[str, StringConstraints(max_length=200)]
ReadingText = Annotated[str, StringConstraints(max_length=60)]
AGAIN = " (again)"


class Strict(BaseModel):
    """Refuses unknown keys."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)


def load_json(text: str | bytes) -> Any:
    """JSON text to Python. A key given twice in one object comes as `key` and `key (again)`: nothing is lost.

    Raises RecordRefusal for text that isn't JSON.
    """
    try:
        return json.loads(text, object_pairs_hook=_pairs)
    except UnicodeDecodeError:
        raise RecordRefusal("document", "", "not UTF-8 text") from None
    except RecursionError:
        raise RecordRefusal("document", "", "nested too deep to be one of the open formats") from None
    except ValueError as error:
        raise RecordRefusal("document", "", f"not JSON: {error}") from None


def _pairs(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    out = dict(pairs)
    if len(out) == len(pairs):
        return out
    out = {}
    for key, value in pairs:
        free = key
        while free in out:
            free += AGAIN
        out[free] = value
    return out


_EXAMPLES = {
    "float_parsing": "12.5",
    "float_type": "12.5",
    "finite_number": "12.5",
    "greater_than": "12.5",
    "greater_than_equal": "1",
    "less_than_equal": "1",
    "int_parsing": "2011",
    "int_from_float": "2011",
    "int_type": "2011",
    "bool_parsing": "true",
    "bool_type": "true",
    "date_parsing": "2026-03-14",
    "date_from_datetime_parsing": "2026-03-14",
    "date_type": "2026-03-14",
    "list_type": '["1", "2"]',
    "dict_type": '{"1-2": "0.84"}',
    "string_type": '"0.84"',
}


def first_refusal(error: ValidationError, format_name: str, tags: frozenset[str] = frozenset()) -> RecordRefusal:
    """The first of Pydantic's complaints as a refusal; an unknown key outranks the rest.

    tags: values of a union's discriminator, which Pydantic puts into the path and the document hasn't there.
    """
    complaints = error.errors(include_url=False)
    chosen = next((c for c in complaints if c["type"] == "extra_forbidden"), complaints[0])
    parts = [
        str(p) for i, p in enumerate(chosen["loc"]) if not (p in tags and i and isinstance(chosen["loc"][i - 1], int))
    ]
    path = ".".join(parts) or "document"
    found = chosen.get("input")
    shown = "" if isinstance(found, (dict, list, bytes)) or found is None else str(found)[:60]
    if chosen["type"] == "extra_forbidden":
        known = f"no such key in {format_name}; take it out or spell it as in docs/formats"
        return RecordRefusal(path, "", f"{path.rpartition('.')[2]} is given twice" if path.endswith(AGAIN) else known)
    expected = str(chosen.get("ctx", {}).get("expected", ""))
    example = _EXAMPLES.get(chosen["type"], expected.partition(" or ")[0].partition(",")[0].strip("'"))
    if chosen["type"] == "missing":
        return RecordRefusal(path, "", "this key is needed")
    return RecordRefusal(path, shown, chosen["msg"][0].lower() + chosen["msg"][1:], example)


def reading(text: str, field: ReadingField, path: str) -> Reading:
    """A reading of a document; text with two meanings is refused with both spelled out."""
    try:
        return parse_reading(text, field, path)
    except UnclearReading as unclear:
        says = f"{unclear.accepted} ({' or '.join(unclear.choices)})"
        raise RecordRefusal(path, text, says, unclear.choices[0]) from None
    except ReadingRefusal as refusal:
        raise RecordRefusal(path, text, refusal.accepted, refusal.example) from None


def readings(given: Mapping[str, str], field: ReadingField, path: str) -> dict[str, Reading]:
    """Readings by name."""
    return {name: quick_reading(text, field) or reading(text, field, f"{path}.{name}") for name, text in given.items()}


def optional(text: str | None, field: ReadingField, path: str) -> Reading | None:
    """A reading that may be missing."""
    return None if text is None else reading(text, field, path)


def exact(text: str | None, field: ReadingField, path: str) -> float | None:
    """One exact value in SI, where given."""
    if text is None:
        return None
    amount = reading(text, field, path).amount
    if not amount.is_exact:
        raise RecordRefusal(path, text, "one exact value", "0.01 ohm")
    return amount.value
