"""The last step of an edit: what came of it is a project that a file could hold."""

from __future__ import annotations

import re

from pydantic import TypeAdapter, ValidationError

from fexro.core.errors import InputError
from fexro.project.bearing import with_strip_forces
from fexro.project.project import Project
from fexro.project.records import Name
from fexro.project.resolve import verify

__all__ = ["invalid", "named", "verified"]

_WORDS = {
    "concretes": "concrete",
    "steels": "steel",
    "storeys": "storey",
    "marks": "mark",
    "groups": "group",
    "sections": "section",
    "grid": "grid line",
    "cases": "load case",
    "combinations": "combination",
    "mappings": "mapping",
}
_PLACE = re.compile(rf"\b({'|'.join(_WORDS)})\[(\d+)\](?:\.lifts\[(\d+)\])?")


def named(kind: str, name: str) -> str:
    """Return a name as it is kept, spaces between its words single.

    Raises:
        InputError: if it cannot be seen or is too long.
    """
    cleaned = " ".join(name.split(" ")).strip()
    try:
        return _NAME.validate_python(cleaned)
    except ValidationError:
        raise InputError(kind, f"“{name}”", "1 to 40 characters that can be seen") from None


_NAME: TypeAdapter[str] = TypeAdapter(Name)


def verified(project: Project) -> Project:
    """Return a project whose parts fit together, with what follows from others made anew.

    Raises:
        InputError: if they do not; what is wrong is called by its name, not its place in a file.
    """
    try:
        verify(project)
    except InputError as error:

        def named(match: re.Match[str]) -> str:
            item = getattr(project, match[1])[int(match[2])]
            if match[3] is not None:
                return f"{item.name} · {item.lifts[int(match[3])].storey}"
            return f"{_WORDS[match[1]]} {item.name}"

        where, found = (_PLACE.sub(named, text) for text in (error.where, error.found))
        raise InputError(where, found, error.allowed) from error
    return with_strip_forces(project)


def invalid(where: str, error: ValidationError) -> InputError:
    """Return the refusal of a change that the models do not allow."""
    problem = error.errors(include_url=False)[0]
    reason = problem.get("ctx", {}).get("error", problem["msg"])
    place = str(problem["loc"][-1]) if problem["loc"] else where
    found = problem["input"]
    shown = f"{found:g}" if isinstance(found, int | float) else place
    return InputError(f"{where}, {place}" if place != where else where, shown, str(reason))
