"""What of a section resists shear along one of its axes: its web, and the bars in tension."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.section.outline import Outline
from fexro.core.section.section import Section

__all__ = ["ShearSection", "chord_widths", "largest_dimension", "least_dimension", "shear_section"]

TENSION_FROM = 2 / 3  # of the depth, from the compressed face, beyond which bars are in tension
ROUND_DEPTH = 0.8  # of the diameter of a circle
BESIDE = 1e-6  # of the depth, beside a vertex


@dataclass(frozen=True)
class ShearSection:
    """A section as it resists a shear force along an axis. Lengths in mm.

    Attributes:
        width: the least of the web between the bars in tension and the compressed side.
        depth: of the section along the force.
        effective_depth: from the compressed face to the centroid of the bars in tension.
        tension_area: of those bars, mm².
    """

    width: float
    depth: float
    effective_depth: float
    tension_area: float


@lru_cache(maxsize=2048)
def shear_section(section: Section, axis: int) -> ShearSection:
    """Return what resists a shear force along x (0) or y (1).

    Bars further than two thirds of the depth from the compressed face are in tension. Of the two
    senses counts the lesser depth and the lesser area. In a circle the width is the diameter, of a
    hollow one both walls, the depth 0.8 of the diameter, and the compressed face that of the
    largest y, wherever the force acts.

    Args:
        section: the section.
        axis: along which the force acts.
    """
    if section.round:
        diameter = section.diameter
        away = section.outline.centroid[1] + diameter / 2 - section.bars.y
        _, area = _in_tension(section, away, diameter)
        return ShearSection(section.walls, diameter, ROUND_DEPTH * diameter, area)
    low, high = section.outline.bounds[axis], section.outline.bounds[axis + 2]
    depth, place = high - low, (section.bars.x, section.bars.y)[axis]
    senses = [_in_tension(section, away, depth) for away in (place - low, high - place)]
    effective, area = (min(values) for values in zip(*senses, strict=True))
    beside = min(effective, depth) - depth / 2
    middle = (low + high) / 2
    width = least_width(section.outline, axis, middle - beside, middle + beside)
    return ShearSection(width, depth, effective, area)


def _in_tension(section: Section, away: FloatArray, depth: float) -> tuple[float, float]:
    """Return the effective depth and the area of the bars in tension, mm and mm².

    Args:
        section: the section.
        away: of the bars from the compressed face, (B,), mm.
        depth: of the section, mm.
    """
    tension = away > TENSION_FROM * depth
    if not tension.any():
        tension = away >= away.max() - 1e-6
    area = section.bars.area[tension]
    return float((away[tension] * area).sum() / area.sum()), float(area.sum())


def chord_widths(outline: Outline, axis: int, places: FloatArray) -> FloatArray:
    """Return how wide the concrete is square to an axis, openings deducted, (P,), mm.

    Args:
        outline: of the concrete.
        axis: x (0) or y (1).
        places: along it, (P,), mm; not at a vertex.
    """
    total = np.zeros(len(places))
    for ring in outline.rings:
        along, aside = ring[:, axis], ring[:, 1 - axis]
        next_along, next_aside = np.roll(along, -1), np.roll(aside, -1)
        run = next_along - along
        crossing = (along < places[:, None]) != (next_along < places[:, None])
        share = (places[:, None] - along) / np.where(run == 0, 1.0, run)
        at = aside + share * (next_aside - aside)
        # Going round with the concrete on the left, the near side runs on and the far side back.
        total += np.where(crossing, np.sign(run) * at, 0.0).sum(axis=1)
    return np.abs(total)


def least_width(outline: Outline, axis: int, low: float, high: float) -> float:
    """Return the least width of the concrete square to an axis between two places on it, mm."""
    span = max(high - low, 1e-9)
    vertices = np.concatenate(outline.rings)[:, axis]
    inside = vertices[(vertices > low) & (vertices < high)]
    beside = BESIDE * span
    places = np.concatenate([[low + beside, high - beside], inside - beside, inside + beside])
    return float(chord_widths(outline, axis, places).min())


@lru_cache(maxsize=2048)
def least_dimension(section: Section) -> float:
    """Return the least dimension of a section, mm.

    Of a circle it is the diameter, of a convex outline how narrow it is in any direction, of others
    the least width of their webs.
    """
    if section.round:
        return section.diameter
    if section.outline.convex:
        import shapely

        rectangle = shapely.minimum_rotated_rectangle(shapely.Polygon(section.outline.rings[0]))
        corners = np.asarray(rectangle.exterior.coords)
        sides = np.hypot(*np.diff(corners[:3], axis=0).T)
        return float(sides.min())
    return min(shear_section(section, axis).width for axis in (0, 1))


def largest_dimension(section: Section) -> float:
    """Return the larger of the depths of a section along x and along y, mm."""
    return max(shear_section(section, axis).depth for axis in (0, 1))
