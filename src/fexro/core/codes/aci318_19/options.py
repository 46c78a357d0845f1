"""What may be chosen where ACI 318-19 leaves room."""

from __future__ import annotations

from dataclasses import dataclass

from fexro.core.codes.aci318_19.cover import CoverOptions
from fexro.core.codes.aci318_19.ductile_rules import DuctileOptions
from fexro.core.codes.aci318_19.second_order import SecondOrderOptions
from fexro.core.codes.aci318_19.wall_rules import WallOptions
from fexro.core.codes.offset_checks import OffsetOptions

__all__ = ["OptionsACI"]


@dataclass(frozen=True)
class OptionsACI(CoverOptions, OffsetOptions, WallOptions, DuctileOptions, SecondOrderOptions):
    """All choices: of second order, then of ductile frames, walls, offset bars, cover, fire."""
