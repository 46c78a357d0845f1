"""Qt view for the Mx–My diagram: the contour at an axial force, demands, the plane of bending."""

from __future__ import annotations

import math

import numpy as np
import pyqtgraph as pg
from PyQt6.QtGui import QColor

from fexro.core.quantities import Dimension, format_quantity, unit_of
from fexro.desktop.bench.pictures.picture import Control
from fexro.desktop.bench.pictures.plot import DemandSpots, Plot, pen
from fexro.desktop.bench.pictures.shown import Shown
from fexro.desktop.theme import current_theme, font
from fexro.exchange.curves import Table, contour_table

__all__ = ["BiaxialBendingView"]


class BiaxialBendingView(Plot):
    """The Mx–My diagram; click a demand to select it, drag the line of the plane to turn it."""

    name = "Mx–My"
    controls = frozenset({Control.LEVEL, Control.PIN, Control.FIT, Control.FIT_DEMANDS})

    def __init__(self) -> None:
        super().__init__("Interaction diagram of both moments")
        self._contour = pg.PlotCurveItem(fillLevel="enclosed")
        self._beyond = pg.TextItem(anchor=(0.5, 0.5))
        self.addItem(self._contour, ignoreBounds=True)
        self.addItem(self._beyond, ignoreBounds=True)
        # As an angle is measured from Mx, which is drawn to the right.
        self._plane = pg.InfiniteLine((0, 0), movable=False)
        self._handle = pg.TargetItem(size=12, movable=True, symbol="o")
        self.addItem(self._plane, ignoreBounds=True)
        self._spots = DemandSpots(self, self.picked.emit)
        self.addItem(self._handle, ignoreBounds=True)
        self._handle.sigPositionChanged.connect(self._drag)
        self._quiet = False
        self._shown: Shown | None = None
        self.hovered.connect(self._read_off)

    def show_shown(self, shown: Shown, *, refit: bool) -> None:
        """Show an axial force; `refit` shows all of it, unless the scale was set by hand."""
        before, self._shown = self._shown, shown
        another = before is None or before.result.lift.name != shown.result.lift.name
        if another or before is None or before.system is not shown.system:
            self.restyle()
        path = shown.contour / shown.moment
        self._contour.setVisible(bool(len(path)))
        self._beyond.setVisible(not len(path))
        if len(path):
            self._contour.setData(*path.T)
        if another or (refit and not self._zoomed):
            self._fit(steady=not another)
        self._spots.show(shown, shown.demands[:, 1:] / shown.moment, ~shown.at_level)
        self._plane.setAngle(math.degrees(shown.angle))
        self._quiet = True
        reach = self._reach(shown)
        self._handle.setPos(*(reach * shown.unit))
        self._quiet = False

    def caption(self, shown: Shown) -> str:
        """Return the axial force, and how many demands are near it."""
        count = int(shown.at_level.sum())
        demands = "1 demand" if count == 1 else f"{count} demands"
        return (
            f"Moments carried at N = {shown.axial_text()}. {demands} of {len(shown.demands)}"
            " near it; others faint. Drag the circle to turn the plane."
        )

    def table(self, shown: Shown) -> Table:
        """Return the numbers of the curve."""
        return contour_table(shown.result.lift, shown.axial, shown.system)

    def _read_off(self, moment_x: float, moment_y: float) -> None:
        """Tell what is under the pointer."""
        shown = self._shown
        if shown is None:
            return
        mx, my = moment_x * shown.moment, moment_y * shown.moment
        self.read.emit(
            f"Mx {format_quantity(mx, Dimension.MOMENT, shown.system)}"
            f"    My {format_quantity(my, Dimension.MOMENT, shown.system)}"
            f"    at {math.degrees(math.atan2(my, mx)):.1f}°"
        )

    def restyle(self) -> None:
        """Take the colours of the theme and the units of the lift."""
        if self._shown is None:
            return
        theme = current_theme()
        symbol = unit_of(Dimension.MOMENT, self._shown.system).symbol
        self.style({"left": f"My, {symbol}", "bottom": f"Mx, {symbol}"})
        self._contour.setPen(pen(theme.capacity, 2))
        self._contour.setBrush(QColor(theme.capacity_fill))
        self._plane.setPen(pen(theme.capacity, dashed=True))
        self._handle.setPen(pen(theme.capacity, 1.5))
        self._handle.setBrush(QColor(theme.panel))
        self._beyond.setText("No moment can be carried at this axial force.", QColor(theme.ink))
        self._beyond.setFont(font(12))
        self._spots.style()

    def fit(self) -> None:
        """Show all of the curve and the demands."""
        self._fit()

    def _fit(self, *, steady: bool = False) -> None:
        if self._shown is not None:
            self._zoomed = False
            shown = self._shown
            handle = np.array([self._reach(shown) * shown.unit, [0.0, 0.0]])
            demands = shown.demands[:, 1:] / shown.moment
            self.fit_to([shown.contour / shown.moment, demands, handle], steady=steady)

    def fit_demands(self) -> None:
        """Bring up the corner in which the demands lie."""
        if self._shown is not None and len(self._shown.demands):
            self._zoomed = True
            self.fit_to([self._shown.demands[:, 1:] / self._shown.moment, np.zeros((1, 2))])

    def _reach(self, shown: Shown) -> float:
        """Return how far out the handle of the plane lies: where it does not hide the curve."""
        if len(shown.contour):
            along = shown.contour @ shown.unit
            return float(1.12 * along.max() / shown.moment)
        return float(shown.strength.mesh.scale[1:].max() / shown.moment / 2)

    def _drag(self) -> None:
        at = self._handle.pos()
        if not self._quiet and (at.x() or at.y()):
            self.turned.emit(math.atan2(at.y(), at.x()))
