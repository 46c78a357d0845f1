"""Curves beside the lift's own, computed away from the interface thread."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from threading import Event

import numpy as np
from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from fexro.core.members.lift import Lift, strength_of
from fexro.core.strength.slices import meridian
from fexro.core.strength.utilisation import proportional
from fexro.desktop.bench.axial_bending import BesideCurve

__all__ = ["BesideCurves", "Candidate"]


@dataclass(frozen=True, eq=False)
class Candidate:
    """A lift to be drawn beside another: its name, and what a click on it chooses."""

    label: str
    lift: Lift
    choice: str | None = None


class _Signals(QObject):
    arrived = pyqtSignal(int, list)


class _Task(QRunnable):
    def __init__(self, run: int, candidates: Sequence[Candidate], angle: float) -> None:
        super().__init__()
        self.signals, self.stopped = _Signals(), Event()
        self._run, self._candidates, self._angle = run, candidates, angle

    def run(self) -> None:
        curves = []
        for candidate in self._candidates:
            if self.stopped.is_set():
                return
            curves.append(_curve(candidate, self._angle))
        self.signals.arrived.emit(self._run, curves)


def _curve(candidate: Candidate, angle: float) -> BesideCurve:
    lift = candidate.lift
    strength = strength_of(lift.code, lift.column)
    demands = lift.demands.values.reshape(-1, 3)
    ratio = float(proportional(strength, demands).ratio.max(initial=0.0))
    curve = meridian(strength, angle)
    path = curve.design
    if strength.body.symmetric:
        # The right half stands for both; its cap runs on to the axis.
        end = np.array([[curve.design_right[-1, 0], 0.0]])
        path = np.concatenate([curve.design_right, end])
    return BesideCurve(candidate.label, path, ratio, candidate.choice)


class BesideCurves(QObject):
    """Computes the curves asked for last; an answer to an older question is dropped."""

    arrived = pyqtSignal(list)

    def __init__(self) -> None:
        super().__init__()
        self._run = 0
        self._task: _Task | None = None

    def request(self, candidates: Sequence[Candidate], angle: float) -> None:
        """Ask for the curves of some lifts in the plane of a moment direction."""
        self.cancel()
        if not candidates:
            self.arrived.emit([])
            return
        self._task = _Task(self._run, tuple(candidates), angle)
        self._task.signals.arrived.connect(self._take)
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(self._task)

    def cancel(self) -> None:
        """Ask for nothing any more."""
        self._run += 1
        if self._task is not None:
            self._task.stopped.set()
            self._task = None

    def _take(self, run: int, curves: list[BesideCurve]) -> None:
        if run == self._run:
            self.arrived.emit(curves)
