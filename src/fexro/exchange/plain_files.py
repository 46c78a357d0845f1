"""Files read and written whole, with refusals that name them."""

from __future__ import annotations

from pathlib import Path

from fexro.core.errors import InputError

__all__ = ["read_whole", "write_whole"]


def read_whole(path: Path, kind: str) -> bytes:
    """Return the content of a file.

    Raises:
        InputError: where it cannot be read; `kind` says what it should be.
    """
    try:
        return path.read_bytes()
    except OSError as error:
        raise InputError(path.name, error.strerror or "no file", kind) from None


def write_whole(path: Path, text: str) -> None:
    """Write a text to a file.

    Raises:
        InputError: where it cannot be written.
    """
    try:
        path.write_text(text, encoding="utf-8")
    except OSError as error:
        raise InputError(path.name, error.strerror or "no file", "a file to write to") from None
