"""The errors Fexro raises; each message is a sentence a user can act on."""

from __future__ import annotations

__all__ = ["ConvergenceError", "FexroError", "InputError", "readable"]

LONGEST_PART, LONGEST_MESSAGE = 240, 1200


def readable(text: str, longest: int = LONGEST_PART) -> str:
    """Return text as it can be shown anywhere: cut in the middle, nothing in it invisible.

    Line breaks stay; control, format and lone surrogate characters are written by their numbers.
    """
    if len(text) > longest:
        half = longest // 2
        text = f"{text[:half]} … {text[-half:]}"
    if text.isprintable():
        return text
    return "".join(c if c.isprintable() or c == "\n" else f"\\u{ord(c):04x}" for c in text)


class FexroError(Exception):
    """Base of every error whose message is meant for the user."""

    def __init__(self, message: str) -> None:
        super().__init__(readable(message, LONGEST_MESSAGE))


class ConvergenceError(FexroError):
    """A search that ended without a result; says what was tried."""


class InputError(FexroError):
    """Input that is refused: says where, what was found and what is allowed.

    Args:
        where: place of the input in the user's words (a field, or a path inside a file).
        found: what was there.
        allowed: what may be there.
    """

    def __init__(self, where: str, found: str, allowed: str) -> None:
        self.where, self.found, self.allowed = readable(where), readable(found), allowed
        super().__init__(f"{self.where}: found {self.found}; allowed: {self.allowed}.")

    def at(self, prefix: str) -> InputError:
        """Return the same refusal with its place put behind `prefix`."""
        return InputError(f"{prefix}, {self.where}", self.found, self.allowed)
