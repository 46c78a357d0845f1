"""What a whole project rests on: code, units, materials."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from fexro.core.codes import DesignCode
from fexro.core.codes.registry import design_code
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.quantities import UnitSystem
from fexro.project.bars import BarsOnOffer
from fexro.project.cases import CombinationRules
from fexro.project.framing import BracingModel
from fexro.project.records import Name, Number, Record
from fexro.project.sizing_rules import SizingRules
from fexro.project.values import Values

__all__ = ["Basis", "ConcreteGrade", "SteelGrade"]


class ConcreteGrade(Record):
    """A concrete grade; strength is f'c (ACI) or fck (EN), MPa.

    Attributes:
        density: kg/m³; nothing for concrete of normal weight.
    """

    name: Name
    strength: Annotated[Number, Field(ge=5, le=200, description="MPa")]
    density: Annotated[Number, Field(ge=800, le=3200, description="kg/m³")] | None = None

    def material(self, share: float = 1.0) -> Concrete:
        """Return the material the core computes with, of a share of its strength."""
        return Concrete(self.name, share * self.strength, self.density)


class SteelGrade(Record):
    """A grade of reinforcing bar: yield strength and modulus, MPa."""

    name: Name
    yield_strength: Annotated[Number, Field(ge=100, le=1200, description="MPa")]
    modulus: Annotated[Number, Field(ge=100_000, le=250_000, description="MPa")] = 200_000.0

    def material(self, share: float = 1.0) -> ReinforcingSteel:
        """Return the material the core computes with, of a share of its strength."""
        return ReinforcingSteel(self.name, share * self.yield_strength, self.modulus)


class Basis(Record):
    """What the whole project rests on.

    Attributes:
        code, annex: of the design code.
        units: those people see; for some codes also its edition.
        values: what every lift has that nothing nearer to it says otherwise.
        bars: sizes on offer.
        combining: rules by which combinations are made; those of the code where there are none.
        sizing: which bars and ties are proposed.
        bracing_x, bracing_y: walls that brace the building, where they are given.
    """

    code: Annotated[Name, Field(description="key of a design code on offer")]
    annex: Annotated[Name, Field(description="one that the code has")]
    units: Literal["SI", "in-lb"]
    values: Values
    bars: BarsOnOffer = BarsOnOffer()
    combining: CombinationRules | None = None
    sizing: SizingRules = SizingRules()
    bracing_x: BracingModel | None = None
    bracing_y: BracingModel | None = None

    @property
    def rules(self) -> CombinationRules:
        """The rules by which combinations are made."""
        return self.combining or CombinationRules.of_code(self.design_code)

    @property
    def system(self) -> UnitSystem:
        """The units people see, and the edition of the code."""
        return UnitSystem(self.units)

    @property
    def design_code(self) -> DesignCode:
        """The design code.

        Raises:
            InputError: if there is no such code or annex.
        """
        return design_code(self.code, self.system, self.annex)
