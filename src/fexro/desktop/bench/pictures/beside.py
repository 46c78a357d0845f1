"""Curves beside the lift's own, computed away from the interface thread."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from threading import Event

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from fexro.core.members.check import prepare
from fexro.core.members.lift import Lift
from fexro.core.strength.slices import meridian
from fexro.core.strength.utilisation import proportional
from fexro.desktop.background import Background
from fexro.desktop.bench.pictures.axial_bending import BesideCurve

__all__ = ["BesideCurves", "Candidate"]


@dataclass(frozen=True, eq=False)
class Candidate:
    """A lift to be drawn beside another: its name, and what a click on it chooses."""

    label: str
    lift: Lift
    choice: str | None = None


class BesideCurves(QObject):
    """Computes the curves asked for last; an answer to an older question is dropped."""

    arrived = pyqtSignal(list)

    def __init__(self) -> None:
        super().__init__()
        self._work: Background[list[BesideCurve]] = Background(self.arrived.emit, self)

    def request(self, candidates: Sequence[Candidate], angle: float) -> None:
        """Ask for the curves of some lifts in the plane of a moment direction."""
        if candidates:
            self._work.start(partial(_curves, tuple(candidates), angle))
        else:
            self._work.cancel()
            self.arrived.emit([])


def _curves(
    candidates: Sequence[Candidate], angle: float, stopped: Event
) -> Iterator[list[BesideCurve]]:
    found = []
    for candidate in candidates:
        if stopped.is_set():
            return
        found.append(_curve(candidate, angle))
    yield found


def _curve(candidate: Candidate, angle: float) -> BesideCurve:
    lift = candidate.lift
    strength = lift.strength
    (prepared,) = prepare([lift])
    ratio = float(proportional(strength, prepared.demands.rows).ratio.max(initial=0.0))
    curve = meridian(strength, angle)
    path = curve.design
    if strength.body.symmetry.point:
        # The right half stands for both; its cap runs on to the axis.
        end = np.array([[curve.design_right[-1, 0], 0.0]])
        path = np.concatenate([curve.design_right, end])
    return BesideCurve(candidate.label, path, ratio, candidate.choice)
