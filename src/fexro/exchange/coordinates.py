"""Coordinates of outlines as text: a corner a line, rings apart by an empty one."""

from __future__ import annotations

import re

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, unit_of
from fexro.exchange.numbers_in_text import read_number
from fexro.project.shapes import PolygonShape

__all__ = ["Corner", "outline_text", "read_outline"]

Corner = tuple[float, float, float]
MOST = 2000
ALLOWED = "x and y a line, and the rise of the arc to the next corner where there is one"


def read_outline(text: str, system: UnitSystem) -> list[list[Corner]]:
    """Read rings of corners x, y and bulge, mm, from pasted text in the units people see.

    Numbers are apart by tabs, semicolons, commas or spaces; with tabs or semicolons a comma is a
    decimal mark. A line of words alone at the beginning is a heading.

    Raises:
        InputError: naming the line, or for rings of fewer than three corners.
    """
    size = unit_of(Dimension.LENGTH, system).size
    rings: list[list[tuple[float, float, float]]] = [[]]
    for number, line in enumerate(text.strip("\n").splitlines(), 1):
        cells = _cells(line)
        if not cells:
            if rings[-1]:
                rings.append([])
            continue
        values = [read_number(cell, ",") if "," in cell else read_number(cell) for cell in cells]
        if any(value != value for value in values) or len(values) not in (2, 3):
            if number == 1 and all(value != value for value in values):
                continue
            raise InputError(f"line {number}", f"“{line.strip()[:60]}”", ALLOWED)
        x, y, rise = (*values, 0.0)[:3]
        rings[-1].append((x * size, y * size, rise * size))
    found = [_closed(ring, number) for number, ring in enumerate(rings, 1) if ring]
    if not found:
        raise InputError("coordinates", "nothing", ALLOWED)
    return [_with_bulges(ring, number) for number, ring in enumerate(found, 1)]


def _cells(line: str) -> list[str]:
    for mark in ("\t", ";"):
        if mark in line:
            return [cell.strip() for cell in line.split(mark) if cell.strip()]
    pattern = r"\s*,\s+|\s+" if re.search(r",\s", line) or "," not in line else r"\s*,\s*"
    return [cell for cell in re.split(pattern, line.strip()) if cell]


def _closed(ring: list[Corner], number: int) -> list[Corner]:
    """Return a ring without its first corner again at the end."""
    if len(ring) > 3 and ring[0][:2] == ring[-1][:2]:
        ring = ring[:-1]
    if not 3 <= len(ring) <= MOST:
        raise InputError(f"ring {number}", f"{len(ring)} corners", f"3 to {MOST} corners")
    return ring


def _with_bulges(ring: list[Corner], number: int) -> list[Corner]:
    """Return a ring with the bulge of each side in place of the rise of its arc."""
    found = []
    for (x, y, rise), (u, v, _) in zip(ring, [*ring[1:], ring[0]], strict=True):
        chord = ((u - x) ** 2 + (v - y) ** 2) ** 0.5
        if not chord:
            raise InputError(f"ring {number}", f"two corners at ({x:g}, {y:g}) mm", "corners apart")
        found.append((x, y, 2 * rise / chord))
    return found


def outline_text(shape: PolygonShape, system: UnitSystem) -> str:
    """Return the corners of an outline as text, in the units people see."""
    size = unit_of(Dimension.LENGTH, system).size
    rings = [(shape.outer, shape.bulges)]
    curved = shape.void_bulges or ((),) * len(shape.voids)
    rings += list(zip(shape.voids, curved, strict=True))
    blocks = []
    for ring, bulges in rings:
        rows = []
        for i, (x, y) in enumerate(ring):
            u, v = ring[(i + 1) % len(ring)]
            cells = [f"{x / size:.10g}", f"{y / size:.10g}"]
            if bulges and bulges[i]:
                chord = ((u - x) ** 2 + (v - y) ** 2) ** 0.5
                cells.append(f"{bulges[i] * chord / 2 / size:.10g}")
            rows.append("\t".join(cells))
        blocks.append("\n".join(rows))
    return "\n\n".join(blocks) + "\n"
