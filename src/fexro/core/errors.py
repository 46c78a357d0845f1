"""The errors Fexro raises; each message is a sentence a user can act on."""

__all__ = ["FexroError", "InputError"]


class FexroError(Exception):
    """Base of every error whose message is meant for the user."""


class InputError(FexroError):
    """Input that is refused: says where, what was found and what is allowed.

    Args:
        where: place of the input in the user's words (a field, or a path inside a file).
        found: what was there.
        allowed: what may be there.
    """

    def __init__(self, where: str, found: str, allowed: str) -> None:
        self.where, self.found, self.allowed = where, found, allowed
        super().__init__(f"{where}: found {found}; allowed: {allowed}.")

    def at(self, prefix: str) -> "InputError":
        """Return the same refusal with its place put behind `prefix`."""
        return InputError(f"{prefix}, {self.where}", self.found, self.allowed)
