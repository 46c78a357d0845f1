"""Storeys of a building. Levels and heights in m."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from fexro.project.records import Name, Number, Record

__all__ = ["Storey"]


class Storey(Record):
    """The space below a floor: its name, the floor's level (m) and its height (m)."""

    name: Name
    level: Annotated[Number, Field(ge=-1000, le=10_000, description="m")]
    height: Annotated[Number, Field(gt=0.2, le=100, description="m")]
