"""Options where a standard leaves room: frozen dataclasses whose fields say what is allowed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import Field, field, fields
from typing import Any, TypeVar

from fexro.core.errors import InputError

__all__ = ["choice", "flag", "groups_of", "number", "options_of", "word_of"]

T = TypeVar("T")
WORDS = {
    "theta": "θi l0/2",
    "nu": "links yield",
    "0.8fywk": "links to 0.8 fywk",
    "level": "1 to 0.6 fcd",
    "gain": "rising, (6.11N)",
}


def choice(label: str, *choices: str) -> Any:
    """Return a field of options that is one of some words; the first is the default."""
    return field(default=choices[0], metadata={"label": label, "choices": choices})


def number(label: str, default: float, low: float, high: float) -> Any:
    """Return a field of options that is a number between limits."""
    return field(default=default, metadata={"label": label, "low": low, "high": high})


def flag(label: str, *, default: bool) -> Any:
    """Return a field of options that is so or not."""
    return field(default=default, metadata={"label": label})


def groups_of(kind: type[Any]) -> list[tuple[str, list[Field[Any]]]]:
    """Return the options of a dataclass by what they are about: each title with its fields.

    The dataclass is made of others, each of which has its `TITLE`.
    """
    known = {option.name: option for option in fields(kind)}
    found = []
    for part in reversed(kind.__mro__):
        if "TITLE" in vars(part):
            names = [name for name in part.__annotations__ if name in known]
            found.append((str(vars(part)["TITLE"]), [known[name] for name in names]))
    return found


def word_of(value: object) -> str:
    """Return what a choice is called: one letter is a form, in brackets."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    text = str(value)
    return f"({text})" if len(text) == 1 and text.islower() else WORDS.get(text, text)


def options_of(kind: type[T], given: Mapping[str, Any], *, others: bool = False) -> T:
    """Return options with those that are given in place of their defaults.

    Args:
        kind: the dataclass.
        given: values by name.
        others: whether names that it has not are passed over: they are of another standard.

    Raises:
        InputError: for one that it has not, or a value that is not allowed.
    """
    known = {option.name: option for option in fields(kind)}  # type: ignore[arg-type]
    taken = {}
    for name, value in given.items():
        if name not in known:
            if others:
                continue
            raise InputError(f"options.{name}", "an option", f"one of {', '.join(known)}")
        allowed = known[name].metadata
        if "choices" in allowed:
            if value not in allowed["choices"]:
                wanted = f"one of {', '.join(map(str, allowed['choices']))}"
                raise InputError(f"options.{name}", f"“{value}”", wanted)
        elif "low" in allowed:
            if isinstance(value, bool) or not isinstance(value, int | float):
                raise InputError(f"options.{name}", f"“{value}”", "a number")
            if not allowed["low"] <= value <= allowed["high"]:
                wanted = f"{allowed['low']:g} to {allowed['high']:g}"
                raise InputError(f"options.{name}", f"{value:g}", wanted)
        elif not isinstance(value, bool):
            raise InputError(f"options.{name}", f"“{value}”", "true or false")
        taken[name] = value
    return kind(**taken)
