"""What a design code asks of a hook."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["Hook"]


@dataclass(frozen=True)
class Hook:
    """The hook at an end of a tie.

    Attributes:
        radius: inside the bend, mm.
        straight: beyond the bend, mm.
    """

    radius: float
    straight: float
