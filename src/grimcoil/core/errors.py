"""The family of refusals. Each carries where, what was found, what is accepted, and what to do now.

Refusal
    ReadingRefusal      the text can't be read as a meter shows it
        UnclearReading  it can be read in more than one way: `choices` are the texts to pick from
    GateClosed          the step isn't open yet; `can_overrule` tells whether a reason may open it
    AlreadyKept         someone has kept another entry in this place
    Unknown             no such thing on record
    RecordRefusal       a file or form that can't be used
    FormRefused         several fields of a form that can't be used, each with its sentence
    Forbidden           the person who acts may not do this
    WrongSecret         the password or PIN doesn't fit; after several the person waits
"""

from __future__ import annotations

from typing import ClassVar


class Refusal(ValueError):
    """Something that can't be accepted, told so that the person can mend it.

    where: field, JSON path or CSV row; found: as typed; accepted: what would do; example: one that would; do: what to
    do now, its kind's own words where nothing better is known.
    """

    DO: ClassVar[str] = "Correct it and send it again."

    def __init__(self, where: str, found: str, accepted: str, example: str = "", do: str = "") -> None:
        self.where = where
        self.found = found
        self.accepted = accepted
        self.example = example
        self.do = do or self.DO
        super().__init__(self.sentence())

    def whole(self) -> str:
        """All of it, with what to do now at the end."""
        said = self.sentence()
        return said if self.do in said else f"{said} {self.do}".strip()

    def sentence(self) -> str:
        """One sentence for a person, or one line on standard error."""
        start = f"{self.where}: " if self.where else ""
        found = f"found “{self.found}”; " if self.found else ""
        example = f", for example {self.example}" if self.example else ""
        return f"{start}{found}{self.accepted}{example}."


def _order(words: str) -> str:
    return f"{words[:1].upper()}{words[1:]}{'' if words.endswith(('.', '!', '?')) else '.'}"


class ReadingRefusal(Refusal):
    """Text that isn't a reading of this kind."""

    DO = "Type it as the meter shows it."


class UnclearReading(ReadingRefusal):
    """Text with more than one meaning: asked back, never guessed."""

    DO = "Choose what the meter showed."

    def __init__(self, where: str, found: str, accepted: str, choices: tuple[str, ...]) -> None:
        self.choices = choices
        super().__init__(where, found, accepted)


class GateClosed(Refusal):
    """A step that isn't open. Safety gates can't be overruled."""

    def __init__(self, where: str, found: str, accepted: str, can_overrule: bool = False) -> None:
        self.can_overrule = can_overrule
        super().__init__(where, found, accepted, do=_order(accepted))

    def sentence(self) -> str:
        """What is shut, what was found, what to do now: each a sentence of its own."""
        if not self.found:
            return super().sentence()
        return f"{self.where} is blocked. Found: {self.found.removesuffix('.')}. {_order(self.accepted)}"


class AlreadyKept(Refusal):
    """The place holds another entry; undo that first."""

    DO = "Undo the other one first, or leave it as it is."


class Unknown(Refusal):
    """No such motor, job or step on record."""

    DO = "Check how it is written, or look for it in the list."


class RecordRefusal(Refusal):
    """A file or a form that can't be used as it stands."""


class Forbidden(Refusal):
    """Not for this person's role, or not for this token."""

    DO = "Ask someone whose role allows it."


class WrongSecret(Refusal):
    """A sign-in or a signature whose password or PIN doesn't fit. Never says which part was wrong."""

    DO = "Type it again, or ask an administrator for a new one."


class FormRefused(Refusal):
    """Several fields of a form can't be used; `fields` has a sentence for each."""

    def __init__(self, fields: dict[str, str]) -> None:
        self.fields = fields
        super().__init__("form", "", "; ".join(fields.values()))
