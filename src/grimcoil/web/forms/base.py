"""What every form has: the word of its sign-in, and nothing that no page of ours asks for."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, model_validator

from grimcoil.core.lines import shown_as_such

Token = Annotated[str, Field(min_length=8, max_length=40, pattern=r"^[A-Za-z0-9-]+$")]


BY_LINE = frozenset({"areas"})  # one a line
AS_SENT = frozenset({"secret", "password", "again", "pin", "csrf", "page_word", "next", "back"})


class Form(BaseModel):
    """Refuses fields that no page of ours has. `csrf` was checked before (web/signed.py)."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    csrf: Annotated[str, Field(max_length=60)] = ""

    @model_validator(mode="before")
    @classmethod
    def _seen(cls, given: Any) -> Any:
        """What can't be seen is shown as such, in every field but secrets and addresses."""
        if not isinstance(given, dict):
            return given
        return {k: _shown(k, v) if isinstance(v, str) and k not in AS_SENT else v for k, v in given.items()}


def _shown(name: str, text: str) -> str:
    if name in BY_LINE:
        return "\n".join(shown_as_such(line) for line in text.splitlines())
    return shown_as_such(text)
