"""Second-order moments of walls bent out of plane: ACI 318-19, 6.6.4 with loads between ends."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.slenderness import (
    SECOND_ORDER_LIMIT,
    SWAY_LIMIT,
    critical_load,
    minimum_moment,
    nonsway_magnifier,
    radius_of_gyration,
    second_order_moment,
    second_order_ratio,
    slenderness_ratio,
    stiffness_a,
    stiffness_b,
    sustained_share,
)
from fexro.core.provisions import Derivation

__all__ = ["MagnifiedWall", "WallStiffness", "magnified_wall"]


@dataclass(frozen=True)
class WallStiffness:
    """What the stiffness of a strip follows from; N, mm, MPa.

    Attributes:
        modulus: Ec.
        gross: Ig, mm⁴.
        steel_modulus: Es.
        steel: Ise, mm⁴.
        by: (EI)eff from the gross section, or from concrete and bars.
    """

    modulus: float
    gross: float
    steel_modulus: float
    steel: float
    by: Literal["a", "b"]


@dataclass(frozen=True)
class MagnifiedWall:
    """The moment of a strip with second-order effects; N, mm, N·mm.

    Attributes:
        axial: Pu.
        slenderness: k ℓu/r.
        sustained: βdns; nothing of what follows where the strip is short.
        stiffness: (EI)eff.
        critical: Pc.
        least: M2,min.
        magnifier: δ; nothing where unstable.
        moment: Mc; nothing where unstable.
        state: short, magnified or unstable.
        growth: Mc over the larger of M2 and M2,min.
    """

    axial: float
    slenderness: float
    state: Literal["short", "magnified", "unstable"]
    moment: float | None
    sustained: float | None = None
    stiffness: float | None = None
    critical: float | None = None
    least: float | None = None
    least_governs: bool | None = None
    magnifier: float | None = None
    growth: float | None = None

    limit = SWAY_LIMIT

    @property
    def buckling(self) -> float | None:
        """Pu over 0.75 Pc."""
        return None if self.critical is None else self.axial / (0.75 * self.critical)

    @property
    def within(self) -> bool | None:
        """Whether second-order moments are within 1.4 times the first-order ones."""
        return None if self.growth is None else self.growth <= SECOND_ORDER_LIMIT


def magnified_wall(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float],
    stiffness: WallStiffness,
    actions: tuple[float, float, float],
) -> MagnifiedWall:
    """Return the moment of a strip pinned at both ends, with load between them (Cm = 1).

    Args:
        record: what is written to.
        edition: of the code.
        size: thickness, and height between supports, mm.
        stiffness: what it follows from.
        actions: Pu, the part of it that lasts, and M2 of the first order, N and N·mm.
    """
    (h, height), (axial, lasting, moment) = size, actions
    first = abs(moment)
    r = radius_of_gyration.into(record, "exact", h**3 / 12, h, h)
    slenderness = slenderness_ratio.into(record, 1.0, height, r)
    if slenderness <= SWAY_LIMIT or axial <= 0:
        return MagnifiedWall(axial, float(slenderness), "short", first)
    beta = sustained_share.into(record, lasting, axial)
    if stiffness.by == "a":
        EI = stiffness_a.into(record, stiffness.modulus, stiffness.gross, beta)
    else:
        EI = stiffness_b.into(
            record,
            *(stiffness.modulus, stiffness.gross, stiffness.steel_modulus, stiffness.steel, beta),
        )
    P_c = critical_load.into(record, EI, 1.0, height)
    least = minimum_moment.into(record, axial, h, edition.least_eccentricity)
    base = max(first, float(least))
    common = (float(beta), float(EI), float(P_c), float(least), bool(least > first))
    if axial >= 0.75 * P_c:
        return MagnifiedWall(axial, float(slenderness), "unstable", None, *common)
    delta = nonsway_magnifier.into(record, 1.0, axial, P_c)
    M_c = float(second_order_moment.into(record, delta, base))
    growth = float(second_order_ratio(M_c, base)) if base > 0 else 1.0
    return MagnifiedWall(axial, float(slenderness), "magnified", M_c, *common, float(delta), growth)
