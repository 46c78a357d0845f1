"""What a ductile building to EN 1998-1 rests on."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from fexro.core.codes.options import choice, number

__all__ = ["SeismicOptions"]


@dataclass(frozen=True)
class SeismicOptions:
    """Behaviour of the building in an earthquake.

    Attributes:
        q0: basic value of the behaviour factor, as it enters μφ (5.2.3.4(3)).
        q: behaviour factor.
        T1: fundamental period, s.
        TC: upper corner of the plateau of the spectrum, s.
        TD: period from which displacements of the spectrum are constant, s.
        steel_class: ductility class of the bars (EN 1992-1-1, Annex C).
        dual: whether frames resist with the walls.
    """

    TITLE: ClassVar[str] = "Earthquake"

    q0: float = number("q0 in an earthquake", 3.0, 1.0, 8.0)
    q: float = number("q in an earthquake", 3.0, 1.0, 8.0)
    T1: float = number("T1, s", 0.5, 0.05, 10.0)
    TC: float = number("TC, s", 0.5, 0.05, 3.0)
    TD: float = number("TD, s", 2.0, 0.5, 10.0)
    steel_class: str = choice("Class of the bars", "C", "B")
    dual: str = choice("Frames resist with the walls", "no", "yes")
