"""Area, centroid, second moments, principal axes and radii of the concrete of a section."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy import sqrt

from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Area, Dimension, FirstMoment, Length, SecondMoment
from fexro.core.section.outline import Outline

__all__ = ["SectionProperties", "explain_properties", "properties_of"]

MOST = 40  # corners that a table lists


@provision("Green", symbol="A")
def area_by_sides(S: Area) -> Area:
    """Area from the sum over the sides."""
    return S / 2


@provision("Green", symbol="x_c")
def centroid_by_sides(S_1: FirstMoment, A: Area) -> Length:
    """Place of the centroid from the sum of first moments, which counts each three times."""
    return S_1 / (6 * A)


@provision("Green", symbol="I")
def second_moment_by_sides(S_2: SecondMoment, A: Area, y_c: Length) -> SecondMoment:
    """Second moment about the centroid from the sum over the sides."""
    return S_2 / 12 - A * y_c**2


@provision("Green", symbol="I_xy")
def product_by_sides(S_2: SecondMoment, A: Area, x_c: Length, y_c: Length) -> SecondMoment:
    """Product of inertia about the centroid from the sum over the sides."""
    return S_2 / 24 - A * x_c * y_c


@provision("Mohr's circle", symbol="I_1")
def larger_principal(I_x: SecondMoment, I_y: SecondMoment, I_xy: SecondMoment) -> SecondMoment:
    """Largest second moment about any axis through the centroid."""
    return (I_x + I_y) / 2 + sqrt(((I_x - I_y) / 2) ** 2 + I_xy**2)


@provision("Mohr's circle", symbol="I_2")
def smaller_principal(I_x: SecondMoment, I_y: SecondMoment, I_xy: SecondMoment) -> SecondMoment:
    """Smallest second moment about any axis through the centroid."""
    return (I_x + I_y) / 2 - sqrt(((I_x - I_y) / 2) ** 2 + I_xy**2)


@provision("definition", symbol="r")
def radius_of_gyration(I: SecondMoment, A: Area) -> Length:  # noqa: E741
    """Radius of gyration."""
    return sqrt(I / A)


@dataclass(frozen=True)
class SectionProperties:
    """Of the gross concrete, voids deducted; mm.

    Attributes:
        area: of the concrete.
        perimeter: of the outer edge.
        x, y: of the centroid, in the coordinates of the section.
        about_x, about_y, product: second moments about axes through the centroid.
        larger, smaller: principal second moments.
        angle: from x to the axis about which the second moment is largest, radians.
        radius_x, radius_y, radius_smaller: radii of gyration.
    """

    area: float
    perimeter: float
    x: float
    y: float
    about_x: float
    about_y: float
    product: float
    larger: float
    smaller: float
    angle: float
    radius_x: float
    radius_y: float
    radius_smaller: float


def properties_of(outline: Outline) -> SectionProperties:
    """Return the properties of an outline."""
    about_x, about_y, product = outline.inertia
    area, (x, y) = outline.area, outline.centroid
    smaller = float(smaller_principal(about_x, about_y, product))
    ring = outline.rings[0]
    return SectionProperties(
        area,
        float(np.hypot(*(np.roll(ring, -1, axis=0) - ring).T).sum()),
        x,
        y,
        about_x,
        about_y,
        product,
        float(larger_principal(about_x, about_y, product)),
        smaller,
        _principal_angle(about_x, about_y, product),
        float(radius_of_gyration(about_x, area)),
        float(radius_of_gyration(about_y, area)),
        float(radius_of_gyration(smaller, area)),
    )


def _principal_angle(about_x: float, about_y: float, product: float) -> float:
    """Return the angle from x to the stronger axis, within a quarter of a turn to either side.

    Where all axes are alike, it is x.
    """
    if math.hypot(about_x - about_y, 2 * product) < 1e-9 * (about_x + about_y):
        return 0.0
    angle = math.atan2(-2 * product, about_x - about_y) / 2
    return 0.0 if abs(angle) < 1e-12 else angle


def explain_properties(record: Derivation, outline: Outline) -> None:
    """Write how the properties of an outline follow from its corners."""
    x, y, ahead_x, ahead_y = (
        np.concatenate(values)
        for values in zip(*((*r.T, *np.roll(r, -1, axis=0).T) for r in outline.rings), strict=True)
    )
    cross = x * ahead_y - ahead_x * y
    count = len(x)
    if count <= MOST:
        length, area = Dimension.LENGTH, Dimension.AREA
        rows = [
            (str(i + 1), *values)
            for i, values in enumerate(zip(x, y, ahead_x, ahead_y, cross, strict=True))
        ]
        columns = (
            ("side", None),
            *(("x_i", length), ("y_i", length), ("x_j", length), ("y_j", length)),
            ("a", area),
        )
        record.table(
            "Sides, round the concrete and back round voids; a = x_i y_j − x_j y_i", columns, rows
        )
    else:
        record.note(f"Sums over {count} sides, a = xi yj − xj yi of each.")
    sums = {
        "S_a": (cross, Dimension.AREA, "Σ a"),
        "S_x": (cross * (x + ahead_x), Dimension.LENGTH**3, "Σ a (xi + xj)"),
        "S_y": (cross * (y + ahead_y), Dimension.LENGTH**3, "Σ a (yi + yj)"),
        "S_yy": (
            cross * (y * y + y * ahead_y + ahead_y**2),
            Dimension.SECOND_MOMENT,
            "Σ a (yi² + yi yj + yj²)",
        ),
        "S_xx": (
            cross * (x * x + x * ahead_x + ahead_x**2),
            Dimension.SECOND_MOMENT,
            "Σ a (xi² + xi xj + xj²)",
        ),
        "S_xy": (
            cross * (x * ahead_y + 2 * x * y + 2 * ahead_x * ahead_y + ahead_x * y),
            Dimension.SECOND_MOMENT,
            "Σ a (xi yj + 2 xi yi + 2 xj yj + xj yi)",
        ),
    }
    total = {}
    for name, (values, dimension, source) in sums.items():
        total[name] = float(values.sum())
        record.given(name, total[name], dimension, source)
    area_ = float(area_by_sides.named(S="S_a").into(record, total["S_a"]))
    centroid = []
    for a in ("x", "y"):
        rule = centroid_by_sides.named(S_1=f"S_{a}", x_c=f"{a}_c")
        centroid.append(float(rule.into(record, total[f"S_{a}"], area_)))
    x_c, y_c = centroid
    about_x = float(
        second_moment_by_sides.named(S_2="S_yy", I="I_x").into(record, total["S_yy"], area_, y_c)
    )
    about_y = float(
        second_moment_by_sides.named(S_2="S_xx", I="I_y", y_c="x_c").into(
            record, total["S_xx"], area_, x_c
        )
    )
    product = float(product_by_sides.named(S_2="S_xy").into(record, total["S_xy"], area_, x_c, y_c))
    larger_principal.into(record, about_x, about_y, product)
    smaller = float(smaller_principal.into(record, about_x, about_y, product))
    record.given(
        "theta_1",
        _principal_angle(about_x, about_y, product),
        Dimension.ANGLE,
        "from x to the axis of I1; tan 2θ1 = −2 Ixy / (Ix − Iy)",
    )
    for axis, second in (("x", about_x), ("y", about_y), ("2", smaller)):
        radius_of_gyration.named(I=f"I_{axis}", r=f"r_{axis}").into(record, second, area_)
