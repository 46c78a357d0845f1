"""EN 1992-1-1:2004+A1, with the data of its national annexes."""

from __future__ import annotations

from fexro.core.codes import DesignCode
from fexro.core.codes.registry import Offer, register
from fexro.core.quantities import UnitSystem


def _make(units: UnitSystem, annex: str) -> DesignCode:
    # Its modules are imported when the code is used.
    from fexro.core.codes.en1992_1_1.annex import ANNEXES
    from fexro.core.codes.en1992_1_1.code import code_en

    return code_en(units, ANNEXES[annex])


register(Offer("EN 1992-1-1", ("recommended", "UK"), _make))
