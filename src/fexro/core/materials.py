"""Materials as data; what a code makes of them lives with the code."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from fexro.core.records import Name, Number, Record

__all__ = ["Concrete", "ReinforcingSteel"]


class Concrete(Record):
    """A concrete grade; strength is f'c (ACI) or fck (EN), MPa."""

    name: Name
    strength: Annotated[Number, Field(ge=5, le=200, description="MPa")]


class ReinforcingSteel(Record):
    """A grade of reinforcing bar: yield strength and modulus, MPa."""

    name: Name
    yield_strength: Annotated[Number, Field(ge=100, le=1200, description="MPa")]
    modulus: Annotated[Number, Field(ge=100_000, le=250_000, description="MPa")] = 200_000.0
