"""Structural steel inside a section as the file has it. Lengths in mm."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal, Self, TypeAlias

from pydantic import FailFast, Field, model_validator

from fexro.core.errors import InputError
from fexro.core.materials import StructuralSteel
from fexro.core.section import profiles
from fexro.core.section.areas import EmbeddedSteel
from fexro.project.records import Name, Number, Record

__all__ = [
    "GRADES",
    "PROFILE_SIZES",
    "ChannelProfile",
    "HollowProfile",
    "IProfile",
    "Plate",
    "Profile",
    "SteelPart",
    "SteelParts",
    "Tube",
    "profile_model",
    "steel_of",
]

Side = Annotated[Number, Field(ge=10, le=3_000, description="mm")]
Wall = Annotated[Number, Field(ge=2, le=1_000, description="mm")]
Root = Annotated[Number, Field(ge=0, le=200, description="mm")]
Coordinate = Annotated[Number, Field(ge=-100_000, le=100_000, description="mm")]
# What sizes are called, in the order in which they are asked for.
PROFILE_SIZES = {
    "depth": "Depth",
    "width": "Width",
    "diameter": "Diameter",
    "wall": "Wall",
    "web": "Web",
    "flange": "Flange",
    "root": "Root radius",
}
# Yield strength and modulus of grades of standards, MPa.
GRADES: dict[str, tuple[float, float]] = {
    "S235": (235.0, 210_000.0),
    "S275": (275.0, 210_000.0),
    "S355": (355.0, 210_000.0),
    "S420": (420.0, 210_000.0),
    "S460": (460.0, 210_000.0),
    "Fy 36 ksi": (248.2, 199_948.0),
    "Fy 50 ksi": (344.7, 199_948.0),
}


class _Profile(Record):
    """A profile; its sizes are those of the profile that the core knows by the same name."""

    core: ClassVar[type[Any]]

    def geometry(self) -> profiles.Profile:
        """Return the profile the core computes with.

        Raises:
            InputError: if its sizes do not fit together.
        """
        found: profiles.Profile = self.core(
            **{name: value for name, value in self if name != "kind"}
        )
        return found

    @model_validator(mode="after")
    def _possible(self) -> Self:
        """Refuse sizes that do not fit together."""
        try:
            self.geometry()
        except InputError as error:
            raise ValueError(f"{error.where} {error.allowed}") from None
        return self


class IProfile(_Profile):
    """An I-section, upright, with fillets of a root radius."""

    core = profiles.IProfile
    kind: Literal["I"] = "I"
    depth: Side
    width: Side
    web: Wall
    flange: Wall
    root: Root = 0.0


class ChannelProfile(_Profile):
    """A channel, its web at the left, with fillets of a root radius."""

    core = profiles.ChannelProfile
    kind: Literal["channel"] = "channel"
    depth: Side
    width: Side
    web: Wall
    flange: Wall
    root: Root = 0.0


class HollowProfile(_Profile):
    """A rectangular hollow section."""

    core = profiles.HollowProfile
    kind: Literal["hollow"] = "hollow"
    depth: Side
    width: Side
    wall: Wall


class Tube(_Profile):
    """A round hollow section."""

    core = profiles.Tube
    kind: Literal["tube"] = "tube"
    diameter: Side
    wall: Wall


class Plate(_Profile):
    """A solid rectangle of steel."""

    core = profiles.Plate
    kind: Literal["plate"] = "plate"
    depth: Annotated[Number, Field(ge=2, le=3_000, description="mm")]
    width: Annotated[Number, Field(ge=2, le=3_000, description="mm")]


Profile: TypeAlias = Annotated[
    IProfile | ChannelProfile | HollowProfile | Tube | Plate, Field(discriminator="kind")
]


_MODELS: dict[type[Any], type[_Profile]] = {
    model.core: model for model in (IProfile, ChannelProfile, HollowProfile, Tube, Plate)
}


def profile_model(profile: profiles.Profile) -> Profile:
    """Return a profile of the core as the file has it."""
    found: Profile = _MODELS[type(profile)](**vars(profile))  # type: ignore[assignment]
    return found


class SteelPart(Record):
    """A profile in its place.

    Attributes:
        profile: what it is.
        grade: what its steel is called.
        yield_strength, modulus: of its steel, MPa.
        x, y: of the middle of its bounding box.
        angle: degrees, anticlockwise.
        mirrored: whether left and right change places, before it is turned.
    """

    profile: Profile
    grade: Name = "S355"
    yield_strength: Annotated[Number, Field(ge=150, le=1000, description="MPa")] = 355.0
    modulus: Annotated[Number, Field(ge=150_000, le=250_000, description="MPa")] = 210_000.0
    x: Coordinate = 0.0
    y: Coordinate = 0.0
    angle: Annotated[Number, Field(ge=-360, le=360, description="°")] = 0.0
    mirrored: bool = False

    def part(self) -> EmbeddedSteel:
        """Return the steel the core computes with."""
        material = StructuralSteel(self.grade, self.yield_strength, self.modulus)
        return EmbeddedSteel(
            self.profile.geometry(), material, self.x, self.y, self.angle, self.mirrored
        )


SteelParts = Annotated[tuple[SteelPart, ...], Field(max_length=20), FailFast()]


def steel_of(parts: tuple[SteelPart, ...]) -> tuple[EmbeddedSteel, ...]:
    """Return the steel the core computes with."""
    return tuple(part.part() for part in parts)
