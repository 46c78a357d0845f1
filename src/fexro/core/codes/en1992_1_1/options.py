"""What may be chosen where EN 1992-1-1 and EN 1998-1 leave room."""

from __future__ import annotations

from dataclasses import dataclass

from fexro.core.codes.en1992_1_1.cover import CoverOptions
from fexro.core.codes.en1992_1_1.second_order import SecondOrderOptions
from fexro.core.codes.en1992_1_1.shear import ShearOptions
from fexro.core.codes.en1992_1_1.wall_rules import WallOptions
from fexro.core.codes.en1998_1.options import SeismicOptions
from fexro.core.codes.offset_checks import OffsetOptions

__all__ = ["OptionsEN"]


@dataclass(frozen=True)
class OptionsEN(
    CoverOptions, OffsetOptions, WallOptions, SeismicOptions, ShearOptions, SecondOrderOptions
):
    """All choices: of second order, shear, earthquake, walls, offset bars, cover and fire."""
