"""`grimcoil-signed/1`: what a signature covers, as one canonical JSON text (RFC 8785) whose SHA-256 is the link's.

`previous` is the hash of the link before, so no link can be changed, taken out or put in without the next one showing
it. `rows` are the job and its entries as they stood when it was signed, `rows_sha512` a digest of them that the
database can work out by itself; `plate` is the motor as it was then.
"""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from datetime import UTC, date, datetime
from decimal import Decimal
from typing import Any

import rfc8785
from pydantic_core import from_json

FORMAT = "grimcoil-signed/1"


def plain(value: Any) -> Any:
    """A stored value as JSON: moments and days as ISO text, decimals as their text, the rest as it is."""
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat() if value.tzinfo else value.isoformat()
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, Decimal):
        return format(value.normalize(), "f")
    return value


def row_document(row: Any, names: Sequence[str]) -> dict[str, Any]:
    """Named columns of a row."""
    return {name: plain(getattr(row, name)) for name in names}


def link_text(document: Mapping[str, Any]) -> str:
    """The canonical text. The same document has the same text everywhere."""
    return rfc8785.dumps(dict(document)).decode("utf-8")


def link_hash(text: str | bytes) -> str:
    """SHA-256 of the canonical text, in hex."""
    return hashlib.sha256(text.encode("utf-8") if isinstance(text, str) else text).hexdigest()


def read_link(text: str | bytes) -> dict[str, Any]:
    """A stored text; empty where it isn't a document any more."""
    try:
        found = from_json(text)  # twice as quick as the standard library's, and a chain is long
    except ValueError:
        return {}
    return found if isinstance(found, dict) else {}


_ROWS, _DIGEST = b',"rows":{', b'},"rows_sha512":"'  # a quote within a text would be escaped: these are keys


def read_frame(text: bytes) -> dict[str, Any]:
    """The same without `rows`, nine tenths of it, where there is a digest of them too; whole where there is none."""
    begin, end = text.find(_ROWS), text.rfind(_DIGEST)
    return read_link(text[:begin] + text[end + 1 :] if 0 < begin < end else text)
