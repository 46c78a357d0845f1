"""What the components of forces measure, and the units that files keep them in."""

from __future__ import annotations

from fexro.core.quantities import Dimension

__all__ = ["KN", "KNM", "measure"]

KN, KNM = 1e3, 1e6  # of internal units


def measure(component: str) -> tuple[Dimension, float]:
    """Return what a component measures, and one of its file's units in internal ones."""
    return (Dimension.MOMENT, KNM) if component[0] in "MT" else (Dimension.FORCE, KN)
