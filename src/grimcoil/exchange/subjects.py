"""`grimcoil-subject/1`: the motor as a job judged it, with limits and instruments, whole and to the last digit."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from pydantic import TypeAdapter, ValidationError

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.subject import Subject

FORMAT = "grimcoil-subject/1"


@dataclass(frozen=True, slots=True)
class Named:
    """How the motor and its place are called, as they are printed."""

    tag: str
    serial: str = ""
    power_text: str = ""
    position: str = ""
    area: str = ""


@dataclass(frozen=True, slots=True)
class StoredSubject:
    """What a job was judged on. zone: of the works, that its days are counted in."""

    named: Named
    subject: Subject
    meters: tuple[InstrumentRange, ...] = ()
    zone: str = "UTC"
    format: Literal["grimcoil-subject/1"] = "grimcoil-subject/1"


@lru_cache(maxsize=1)
def _adapter() -> TypeAdapter[StoredSubject]:
    return TypeAdapter(StoredSubject)


def subject_text(stored: StoredSubject) -> str:
    """As JSON text."""
    return _adapter().dump_json(stored).decode("utf-8")


def read_subject(text: str) -> StoredSubject:
    """A stored one. Raises RecordRefusal."""
    try:
        return _adapter().validate_json(text)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise RecordRefusal(".".join(map(str, first["loc"])), "", f"a stored {FORMAT}: {first['msg']}") from None
