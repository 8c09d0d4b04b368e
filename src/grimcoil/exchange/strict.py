"""What all open formats share: strict models, value types, and Pydantic's complaints as refusals."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Mapping
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, FiniteFloat, StringConstraints, ValidationError

from grimcoil.core.errors import ReadingRefusal, RecordRefusal, UnclearReading
from grimcoil.core.fields import Field as ReadingField
from grimcoil.core.lines import hides
from grimcoil.core.readings import Reading, parse_reading, quick_reading

# Far beyond any plate, meter or year, and far enough from a float's ends that no arithmetic on them runs over.
SMALLEST, LARGEST = 1e-9, 1e12
Positive = Annotated[FiniteFloat, Field(ge=SMALLEST, le=LARGEST)]
NotNegative = Annotated[FiniteFloat, Field(ge=0, le=LARGEST)]
Celsius = Annotated[FiniteFloat, Field(ge=-273.15, le=2000)]
MOST_BYTES, MOST_LEVELS, MOST_AGAIN = 1_000_000, 64, 8
MOST_TESTS, MOST_POINTS, MOST_ROWS, MOST_NAMES = 500, 2000, 5000, 200


def no_hidden(text: str) -> str:
    """Text in which everything can be seen. Raises ValueError."""
    found = next((c for c in text if hides(c)), None) if not text.isprintable() else None
    if found is not None:
        raise ValueError(f"text of one line without hidden characters; this holds U+{ord(found):04X}")
    return text


Text = Annotated[str, StringConstraints(max_length=200), AfterValidator(no_hidden)]
ReadingText = Annotated[str, StringConstraints(max_length=60)]
AGAIN = " (again)"
_BRANCHES = ("list[constrained-float]", "constrained-float")


class Strict(BaseModel):
    """Refuses unknown keys."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)


def load_json(text: str | bytes) -> Any:
    """JSON text to Python. A key given twice in one object comes as `key` and `key (again)`: nothing is lost.

    Raises RecordRefusal for text that isn't JSON, is too large or nested too deep, gives one key over and over, or
    holds half a character.
    """
    if len(text) > MOST_BYTES:
        raise RecordRefusal("document", f"{len(text)} bytes", f"a document of {MOST_BYTES} bytes at most")
    try:
        document = json.loads(text, object_pairs_hook=_pairs)
    except UnicodeDecodeError:
        raise RecordRefusal("document", "", "not UTF-8 text") from None
    except RecursionError:
        raise RecordRefusal("document", "", f"nested deeper than {MOST_LEVELS} levels") from None
    except RecordRefusal:
        raise
    except ValueError as error:
        raise RecordRefusal("document", "", f"not JSON: {error}") from None
    raw = text if isinstance(text, str) else text.decode("latin-1")
    if raw.count("{") + raw.count("[") > MOST_LEVELS or "\\u" in raw:
        _check_nesting(document)
    return document


def _check_nesting(document: Any) -> None:
    """Refuse what lies too deep, and text that isn't any: half of a surrogate pair."""
    waiting: list[tuple[Any, str, int]] = [(document, "", 0)]
    while waiting:
        value, path, level = waiting.pop()
        if level > MOST_LEVELS:
            raise RecordRefusal("document", "", f"nested deeper than {MOST_LEVELS} levels")
        if isinstance(value, str):
            _check_text(value, path)
        elif isinstance(value, dict):
            for key, one in value.items():
                _check_text(key, path)
                waiting.append((one, f"{path}.{key}" if path else key, level + 1))
        elif isinstance(value, list):
            waiting += [(one, f"{path}.{i}" if path else str(i), level + 1) for i, one in enumerate(value)]


def _check_text(text: str, path: str) -> None:
    try:
        text.encode("utf-8")
    except UnicodeEncodeError:
        shown = text.encode("ascii", "backslashreplace").decode()[:60]
        raise RecordRefusal(path or "document", shown, "whole characters: this is half of a surrogate pair") from None


def _pairs(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    out = dict(pairs)
    if len(out) == len(pairs):
        return out
    out, seen = {}, Counter[str]()
    for key, value in pairs:
        again = seen[key]
        seen[key] += 1
        if again > MOST_AGAIN:
            raise RecordRefusal(key[:60], f"given {again + 1} times or more", "each key once")
        out[key + AGAIN * again] = value
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
    rank = {"extra_forbidden": 0, "list_type": 2}  # of a figure or a list of figures, the figure's complaint says more
    return _refusal_of(min(complaints, key=lambda c: rank.get(c["type"], 1)), format_name, tags)


def all_refusals(error: ValidationError) -> list[RecordRefusal]:
    """Each of them, for a form that shows them by its fields."""
    return [_refusal_of(one, "the form", frozenset()) for one in error.errors(include_url=False)]


def _refusal_of(chosen: Any, format_name: str, tags: frozenset[str]) -> RecordRefusal:
    parts = [
        str(p)
        for i, p in enumerate(chosen["loc"])
        if not (p in tags and i and isinstance(chosen["loc"][i - 1], int)) and str(p) not in _BRANCHES
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
    return RecordRefusal(path, shown, _words(chosen["msg"]), example)


def _words(message: str) -> str:
    plain = message.removeprefix("Value error, ")
    return plain[0].lower() + plain[1:]


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
