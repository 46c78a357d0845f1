"""Sizes of paper, landscape, mm: the A series and the American ones."""

from __future__ import annotations

__all__ = ["PAPERS", "SCALES", "scale_for"]

PAPERS: dict[str, tuple[float, float]] = {
    "A4": (297.0, 210.0),
    "A3": (420.0, 297.0),
    "A2": (594.0, 420.0),
    "A1": (841.0, 594.0),
    "A0": (1189.0, 841.0),
    "ANSI A": (279.4, 215.9),
    "ANSI B": (431.8, 279.4),
    "ANSI C": (558.8, 431.8),
    "ANSI D": (863.6, 558.8),
    "ANSI E": (1117.6, 863.6),
}
SCALES = (5.0, 10.0, 20.0, 25.0, 50.0, 75.0, 100.0, 150.0, 200.0)


def scale_for(real: tuple[float, float], room: tuple[float, float]) -> float:
    """Return the largest usual scale at which something fits, as real mm of a mm on paper.

    Args:
        real: its width and height, mm.
        room: for it on paper, mm.
    """
    needed = max(real[0] / room[0], real[1] / room[1])
    return next((scale for scale in SCALES if scale >= needed), needed)
