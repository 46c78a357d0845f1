"""Materials as data; what a code makes of them lives with the code."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

__all__ = ["Concrete", "ReinforcingSteel"]

Name = Annotated[str, Field(min_length=1, max_length=40)]


class Concrete(BaseModel):
    """A concrete grade; strength is f'c (ACI) or fck (EN), MPa."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    name: Name
    strength: Annotated[float, Field(ge=5, le=200, description="MPa")]


class ReinforcingSteel(BaseModel):
    """A grade of reinforcing bar: yield strength and modulus, MPa."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    name: Name
    yield_strength: Annotated[float, Field(ge=100, le=1200, description="MPa")]
    modulus: Annotated[float, Field(ge=100_000, le=250_000, description="MPa")] = 200_000.0
