"""What may be chosen where ACI 318-19 leaves room."""

from __future__ import annotations

from dataclasses import dataclass

from fexro.core.codes.aci318_19.cover import CoverOptions
from fexro.core.codes.aci318_19.second_order import SecondOrderOptions

__all__ = ["OptionsACI"]


@dataclass(frozen=True)
class OptionsACI(CoverOptions, SecondOrderOptions):
    """All choices: of second order, then of cover and fire."""
