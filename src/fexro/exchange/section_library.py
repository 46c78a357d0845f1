"""Files of sections, for other projects: JSON, as the project file has them."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field, ValidationError

from fexro.core.errors import InputError
from fexro.project.library import NamedSection
from fexro.project.records import Record

__all__ = ["library_text", "read_library"]


class _Library(Record):
    format: Literal["fexro sections"] = "fexro sections"
    version: Literal[1] = 1
    sections: Annotated[tuple[NamedSection, ...], Field(min_length=1, max_length=500)]


def library_text(sections: Sequence[NamedSection]) -> str:
    """Return sections as the text of a file.

    Raises:
        InputError: where there is none.
    """
    if not sections:
        raise InputError("sections", "none", "at least one section that the project keeps")
    return _Library(sections=tuple(sections)).model_dump_json(indent=1) + "\n"


def read_library(content: bytes, name: str) -> tuple[NamedSection, ...]:
    """Return the sections of a file.

    Raises:
        InputError: saying where, what was found and what is allowed.
    """
    try:
        data = json.loads(content)
    except (ValueError, UnicodeDecodeError, RecursionError):
        raise InputError(name, "no JSON text", "a file of sections") from None
    if not isinstance(data, dict) or data.get("format") != "fexro sections":
        raise InputError(name, "another kind of file", "a file of sections")
    try:
        return _Library.model_validate(data).sections
    except ValidationError as error:
        problem = error.errors(include_url=False)[0]
        place = ".".join(str(part) for part in problem["loc"])
        reason = str(problem.get("ctx", {}).get("error", problem["msg"]))
        found = str(problem["input"])[:60]
        raise InputError(f"{name}: {place}", f"“{found}”", reason) from None
