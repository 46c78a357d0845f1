"""Edits of structural steel inside a section."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from pydantic import TypeAdapter, ValidationError

from fexro.core.errors import InputError
from fexro.project.bars import OwnBar
from fexro.project.edits.free_room import free_room, shrunk
from fexro.project.edits.verified import invalid
from fexro.project.profiles import (
    GRADES,
    ChannelProfile,
    HollowProfile,
    IProfile,
    Plate,
    Profile,
    SteelPart,
    Tube,
)
from fexro.project.section import SectionModel
from fexro.project.shapes import shape_of

__all__ = ["add_profile", "as_profile", "change_profile", "remove_profile", "with_profile"]

SHARE, STEP = 0.45, 10.0  # of the shorter side that a new profile takes; mm it is rounded to
LEAST = 50.0  # mm
_PROFILE: TypeAdapter[Profile] = TypeAdapter(Profile)


def as_profile(kind: str, depth: float, width: float) -> Profile:
    """Return a profile of a kind that fills a box, its thicknesses proposed, mm."""
    thin = max(round(0.05 * min(depth, width)), 5.0)
    match kind:
        case "I":
            return IProfile(depth=depth, width=width, web=thin, flange=1.5 * thin)
        case "channel":
            return ChannelProfile(depth=depth, width=width / 2, web=thin, flange=1.5 * thin)
        case "hollow":
            return HollowProfile(depth=depth, width=width, wall=thin)
        case "tube":
            return Tube(diameter=min(depth, width), wall=thin)
        case _:
            return Plate(depth=depth, width=max(thin, 10.0))


def add_profile(
    section: SectionModel, profile: Profile | None = None, own: Sequence[OwnBar] = ()
) -> SectionModel:
    """Return a section with a profile more, where its concrete has room: an I if none is given.

    It is of the grade of the others.
    """
    import shapely

    x0, y0, x1, y1 = shape_of(section.shape).outline().bounds
    side = max(round(SHARE * min(x1 - x0, y1 - y0) / STEP) * STEP, LEAST)
    half = side / 2
    x, y, share = free_room(section, shapely.box(-half, -half, half, half), own)
    side = shrunk(side, share, STEP, LEAST)
    like: dict[str, Any] = {}
    if section.profiles:
        last = section.profiles[-1]
        like = {name: getattr(last, name) for name in ("grade", "yield_strength", "modulus")}
    part = SteelPart(profile=profile or as_profile("I", side, side), x=x, y=y, **like)
    return section.model_copy(update={"profiles": (*section.profiles, part)})


def with_profile(section: SectionModel, number: int, part: SteelPart) -> SectionModel:
    """Return a section with another profile in the place of one, by number from 0."""
    parts = (*section.profiles[:number], part, *section.profiles[number + 1 :])
    return section.model_copy(update={"profiles": parts})


def change_profile(section: SectionModel, number: int, **changed: Any) -> SectionModel:
    """Return a section with a profile of another kind, size, grade or place.

    Args:
        section: the section.
        number: of the profile, from 0.
        changed: `kind`, sizes of the profile, `grade` by its name or its yield strength, or fields
            of its place.

    Raises:
        InputError: where it cannot be so.
    """
    held, where = section.profiles[number], f"steel {number + 1}"
    for name, value in changed.items():
        if isinstance(value, float) and not math.isfinite(value):
            raise InputError(f"{where}, {name}", str(value), "a finite number")
    if "kind" in changed:
        x0, y0, x1, y1 = held.profile.geometry().outline().bounds
        profile = as_profile(changed.pop("kind"), round(y1 - y0, 1), round(x1 - x0, 1))
        changed["profile"] = profile
    sizes = {name: changed.pop(name) for name in list(changed) if hasattr(held.profile, name)}
    if "grade" in changed and changed["grade"] in GRADES:
        changed["yield_strength"], changed["modulus"] = GRADES[changed["grade"]]
    try:
        if sizes:
            changed["profile"] = _PROFILE.validate_python({**held.profile.model_dump(), **sizes})
        data = {name: getattr(held, name) for name in SteelPart.model_fields}
        part = SteelPart.model_validate({**data, **changed})
    except ValidationError as error:
        raise invalid(where, error) from None
    return with_profile(section, number, part)


def remove_profile(section: SectionModel, number: int) -> SectionModel:
    """Return a section without a profile, by number from 0."""
    parts = section.profiles[:number] + section.profiles[number + 1 :]
    return section.model_copy(update={"profiles": parts})
