"""The base of facts that are read from files, and the text and numbers in them."""

from __future__ import annotations

import unicodedata
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, Strict, model_validator

__all__ = ["Name", "Number", "Record", "Text", "Title", "look", "seen"]

MORE_FIELDS = 20  # than there are, from which they are not told one by one
# Letters and marks without a shape of their own.
_BLANK = frozenset(
    "\u034f\u115f\u1160\u17b4\u17b5\u180b\u180c\u180d\u2800\u3164\uffa0"
) | frozenset(map(chr, range(0xFE00, 0xFE10)))


def _visible(text: str) -> str:
    hidden = next((c for c in text if not c.isprintable() or c in _BLANK), None)
    if hidden is not None:
        raise ValueError(f"text without U+{ord(hidden):04X}, which cannot be seen")
    return text


def _not_blank(text: str) -> str:
    if not text.strip():
        raise ValueError("a name that can be seen")
    return text


Text = Annotated[str, AfterValidator(_visible)]
Name = Annotated[Text, Field(min_length=1, max_length=40), AfterValidator(_not_blank)]
Title = Annotated[Text, Field(min_length=1, max_length=120), AfterValidator(_not_blank)]
# A number is a number: neither text that reads like one, nor true or false.
Number = Annotated[float, Strict()]


def seen(text: str, longest: int) -> str:
    """Return what can be seen of text, on one line and not longer than allowed."""
    kept = "".join(c for c in " ".join(text.split()) if c.isprintable() and c not in _BLANK)
    return kept[:longest].strip()


def look(name: str) -> str:
    """Return what a name looks like: names of one look cannot be told apart by people."""
    return " ".join(unicodedata.normalize("NFKC", name).casefold().split())


class Record(BaseModel):
    """Facts that do not change, with no field but their own."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    @model_validator(mode="before")
    @classmethod
    def _few_fields(cls, data: Any) -> Any:
        # Each unknown field is a problem of its own; a file full of them would be a million.
        if isinstance(data, dict) and len(data) > len(cls.model_fields) + MORE_FIELDS:
            raise ValueError(f"only the {len(cls.model_fields)} fields of the documented format")
        return data
