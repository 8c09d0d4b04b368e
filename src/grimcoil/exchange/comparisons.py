"""An assessment of the past beside today's of the same record: what would now be judged differently."""

from __future__ import annotations

from typing import Any

from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.strict import load_json

FORMAT = "grimcoil-assessment/1"
_RULES = ("core_version", "criteria", "criteria_version")


def read_assessment(text: str | bytes) -> dict[str, Any]:
    """A stored `grimcoil-assessment/1`. Raises RecordRefusal for anything else."""
    document = load_json(text)
    if not isinstance(document, dict) or document.get("format") != FORMAT or "decision" not in document:
        found = str(document.get("format", "")) if isinstance(document, dict) else ""
        raise RecordRefusal("format", found, f"a document that grimcoil assess printed, {FORMAT}", FORMAT)
    return document


def compare(then: dict[str, Any], now: dict[str, Any]) -> dict[str, Any]:
    """`grimcoil-comparison/1`: the rules of both, and each place whose verdict, findings or action differ."""
    changes = [
        change for kind in dict.fromkeys([*then, *now]) for change in _changes(kind, then.get(kind), now.get(kind))
    ]
    return {
        "format": "grimcoil-comparison/1",
        "then": {key: then.get(key) for key in _RULES},
        "now": {key: now.get(key) for key in _RULES},
        "same_judgement": not changes,
        "changes": changes,
    }


def _changes(kind: str, then: Any, now: Any) -> list[dict[str, Any]]:
    if kind == "decision":
        return _differing(kind, then or {}, now or {}, ("action", "verdict"))
    tests = [one for one in (then, now) if isinstance(one, list)]
    if not any(isinstance(item, dict) and "verdict" in item for one in tests for item in one):
        return []
    old, new = (one if isinstance(one, list) else [] for one in (then, now))
    out = []
    for i in range(max(len(old), len(new))):
        a, b = (one[i] if i < len(one) and isinstance(one[i], dict) else {} for one in (old, new))
        out += _differing(f"{kind}.{i}", a, b, ("verdict",)) + _codes(f"{kind}.{i}", a, b)
    return out


def _differing(where: str, a: dict[str, Any], b: dict[str, Any], keys: tuple[str, ...]) -> list[dict[str, Any]]:
    return [
        {"where": f"{where}.{key}", "then": a.get(key), "now": b.get(key)} for key in keys if a.get(key) != b.get(key)
    ]


def _codes(where: str, a: dict[str, Any], b: dict[str, Any]) -> list[dict[str, Any]]:
    old, new = ([f.get("code") for f in one.get("findings", []) if isinstance(f, dict)] for one in (a, b))
    gone, come = [c for c in old if c not in new], [c for c in new if c not in old]
    return [{"where": f"{where}.findings", "then": gone, "now": come}] if gone or come else []
