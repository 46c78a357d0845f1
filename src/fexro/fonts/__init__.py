"""The family of type that window and documents are set in, with its licence."""

from __future__ import annotations

from pathlib import Path

__all__ = ["FONTS"]

FONTS = Path(__file__).parent
