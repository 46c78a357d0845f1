"""What the calculation of a window has in it."""

from __future__ import annotations

from fexro.documents.calculation import CalculationOptions

__all__ = ["ChosenOptions"]


class ChosenOptions:
    """The options of the calculation as they are chosen."""

    def __init__(self) -> None:
        self.value = CalculationOptions()
