"""What bars and ties may be proposed, and what is to be small: for the project, and for lifts."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, SerializerFunctionWrapHandler, model_serializer

from fexro.core.sizing.objective import Rates
from fexro.project.records import Name, Number, Record, Title

__all__ = ["OwnSizing", "RatesModel", "SizingRules"]

Spacing = Annotated[Number, Field(ge=20, le=1000, description="mm")]
Spacings = Annotated[tuple[Spacing, ...], Field(min_length=1, max_length=20)]
Sizes = Annotated[tuple[Name, ...], Field(max_length=30)]
Count = Annotated[int, Field(ge=3, le=200)]
Share = Annotated[Number, Field(ge=0, le=0.2)]
Largest = Annotated[Number, Field(ge=0.3, le=1)]
Rate = Annotated[Number, Field(ge=0, le=1e6)]
Aim = Literal["mass", "cost", "carbon", "fewest bars", "fewest call-outs", "mix"]
Stack = Literal["free", "decreasing", "constant"]


class RatesModel(Record):
    """Prices, or carbon in kg of CO₂ equivalent, of what a lift takes.

    Attributes:
        bars, ties: per kg.
        concrete: per m³.
        formwork: per m².
        bar: for each bar that is placed.
        strength: per m³ and MPa of the concrete, beside what each m³ comes to.
        source: where the numbers are from.
    """

    bars: Rate
    ties: Rate
    concrete: Rate
    formwork: Rate
    bar: Rate = 0.0
    strength: Rate = 0.0
    source: Title = "indicative"

    def rates(self) -> Rates:
        """Return what the core computes with."""
        return Rates(self.bars, self.ties, self.concrete, self.formwork, self.bar, self.strength)


class SizingRules(Record):
    """Which bars and ties are proposed.

    Attributes:
        sizes, ties: names of sizes; all on offer where there are none.
        spacings: of ties, mm.
        mixed: whether corners may have larger bars than faces.
        faces: whether faces along x and along y may have different numbers of bars.
        symmetric: whether opposite faces have the same bars.
        least_bars, most_bars: number of bars.
        least_ratio, most_ratio: area of bars over that of concrete.
        aim: largest utilisation.
        stack: whether bars change freely from lift to lift, only decrease upwards, or stay.
        objective: what is to be small.
        weights: of mass, cost and carbon in a mix.
    """

    sizes: Sizes = ()
    ties: Sizes = ()
    spacings: Spacings = (300.0, 250.0, 200.0, 175.0, 150.0, 125.0, 100.0, 75.0)
    mixed: bool = True
    faces: bool = True
    symmetric: bool = True
    least_bars: Count = 4
    most_bars: Count = 24
    least_ratio: Share = 0.0
    most_ratio: Share = 0.06
    aim: Largest = 0.95
    stack: Stack = "free"
    objective: Aim = "mass"
    weights: tuple[Rate, Rate, Rate] = (1.0, 1.0, 1.0)
    prices: RatesModel = RatesModel(
        bars=1.6, ties=2.0, concrete=115.0, formwork=55.0, bar=4.0, strength=1.2
    )
    carbon: RatesModel = RatesModel(bars=1.0, ties=1.0, concrete=170.0, formwork=5.0, strength=4.0)

    def over(self, own: OwnSizing | None) -> SizingRules:
        """Return the rules with those that are given in their place."""
        return self if own is None else self.model_copy(update=own.given)


class OwnSizing(Record):
    """Rules of a lift that differ from those of the project."""

    sizes: Sizes | None = None
    ties: Sizes | None = None
    mixed: bool | None = None
    faces: bool | None = None
    symmetric: bool | None = None
    least_bars: Count | None = None
    most_bars: Count | None = None
    least_ratio: Share | None = None
    most_ratio: Share | None = None
    aim: Largest | None = None

    @property
    def given(self) -> dict[str, Any]:
        """The rules that differ, by name."""
        found = {name: getattr(self, name) for name in type(self).model_fields}
        return {name: value for name, value in found.items() if value is not None}

    @model_serializer(mode="wrap")
    def _written(self, write: SerializerFunctionWrapHandler) -> dict[str, Any]:
        return {name: value for name, value in write(self).items() if value is not None}
