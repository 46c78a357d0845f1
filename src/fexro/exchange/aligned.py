"""Tables of text in columns."""

from __future__ import annotations

from collections.abc import Sequence

__all__ = ["aligned"]


def aligned(head: tuple[str, ...], rows: Sequence[tuple[str, ...]]) -> list[str]:
    """Return a head and rows as lines whose columns stand below one another."""
    widths = [max(len(row[i]) for row in (head, *rows)) for i in range(len(head))]
    return [
        "  ".join(cell.ljust(w) for cell, w in zip(row, widths, strict=True)).rstrip()
        for row in (head, *rows)
    ]
