"""What a lift costs, by what is to be small: mass, money, carbon, bars, or a mix of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from fexro.core.sizing.amounts import Amounts

__all__ = ["Aim", "Costs", "Objective", "Rates"]

# Call-outs are shared by lifts when all of them are known; of a lift alone the mass counts.
Aim = Literal["mass", "cost", "carbon", "fewest bars", "fewest call-outs", "mix"]


@dataclass(frozen=True)
class Rates:
    """Prices or carbon for what a lift takes.

    Attributes:
        bars, ties: per kg.
        concrete: per m³.
        formwork: per m².
        bar: for each bar that is placed.
        strength: per m³ and MPa of the concrete, beside what each m³ comes to.
    """

    bars: float
    ties: float
    concrete: float
    formwork: float
    bar: float = 0.0
    strength: float = 0.0

    def of(self, amounts: Amounts) -> float:
        """Return what amounts come to."""
        return (
            self.bars * amounts.bars
            + self.ties * amounts.ties
            + self.concrete * amounts.concrete
            + self.strength * amounts.strength
            + self.formwork * amounts.formwork
            + self.bar * amounts.count
        )


@dataclass(frozen=True)
class Costs:
    """What a lift comes to.

    Attributes:
        mass: of its steel, kg.
        cost: money.
        carbon: kg of CO₂ equivalent.
        count: bars.
    """

    mass: float
    cost: float
    carbon: float
    count: int

    def __add__(self, other: Costs) -> Costs:
        """Return what both come to."""
        return Costs(
            self.mass + other.mass,
            self.cost + other.cost,
            self.carbon + other.carbon,
            self.count + other.count,
        )

    def __sub__(self, other: Costs) -> Costs:
        """Return by how much it is more."""
        return Costs(
            self.mass - other.mass,
            self.cost - other.cost,
            self.carbon - other.carbon,
            self.count - other.count,
        )


@dataclass(frozen=True)
class Objective:
    """What is to be small.

    Attributes:
        aim: which of them, or a mix.
        prices, carbon: rates.
        weights: of mass, cost and carbon in a mix, each as a share of the present lift's.
    """

    aim: Aim
    prices: Rates
    carbon: Rates
    weights: tuple[float, float, float] = (1.0, 1.0, 1.0)

    def costs(self, amounts: Amounts) -> Costs:
        """Return what amounts come to."""
        return Costs(amounts.steel, self.prices.of(amounts), self.carbon.of(amounts), amounts.count)

    def value(self, costs: Costs, beside: Costs) -> float:
        """Return what is compared; a mix as shares of what stands beside."""
        match self.aim:
            case "mass" | "fewest call-outs":
                return costs.mass
            case "cost":
                return costs.cost
            case "carbon":
                return costs.carbon
            case "fewest bars":
                # Among as many bars the lighter.
                return costs.count + 1e-6 * costs.mass
        shares = (
            costs.mass / beside.mass,
            costs.cost / beside.cost,
            costs.carbon / beside.carbon,
        )
        return sum(w * share for w, share in zip(self.weights, shares, strict=True))
