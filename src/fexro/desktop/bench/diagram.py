"""Qt view for the interaction diagram: N–M in the plane of the selected combination's moment."""

from __future__ import annotations

import math
from functools import partial

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainterPath
from PyQt6.QtWidgets import QGraphicsItem, QLabel, QVBoxLayout, QWidget

from fexro.core.codes import State, state_of_ratio
from fexro.core.members.lift import LiftResult, strength_of
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.core.section.outline import FloatArray
from fexro.core.strength.slices import Meridian, meridian
from fexro.core.strength.surface import Strength
from fexro.desktop.theme import Theme, current_theme, font

__all__ = ["Diagram", "plane_angle"]

IN_PLANE = 0.05  # share of a moment across the plane up to which it counts as in it


def plane_angle(moment_x: float, moment_y: float) -> float:
    """Return the direction of a moment, radians from Mx towards My; Mx where there is none."""
    return math.atan2(moment_y, moment_x) if moment_x or moment_y else 0.0


def _glyph(state: State) -> QPainterPath:
    """Return the shape of a state for a scatter plot, one unit across."""
    path = QPainterPath()
    if state is State.SATISFIED:
        path.addEllipse(QPointF(0, 0), 0.36, 0.36)
    elif state is State.ATTENTION:
        path.moveTo(0, -0.48)
        for x, y in ((0.48, 0), (0, 0.48), (-0.48, 0), (0, -0.48)):
            path.lineTo(x, y)
    else:
        path.addRect(-0.42, -0.42, 0.84, 0.84)
        path.moveTo(-0.42, 0.42)
        path.lineTo(0.42, -0.42)
    return path


pg.setConfigOptions(antialias=True)


class _Axis(pg.AxisItem):
    """An axis whose numbers are written as everywhere else."""

    def tickStrings(self, values: list[float], scale: float, spacing: float) -> list[str]:
        places = max(0, -math.floor(math.log10(spacing * scale) + 1e-9))
        return [format_number(value * scale, places) for value in values]


class Diagram(QWidget):
    """The curve, the demands, the ray to the selected one; click a demand to select it."""

    picked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._plot = pg.PlotWidget(axisItems={side: _Axis(side) for side in ("left", "bottom")})
        self._plot.setAccessibleName("Interaction diagram")
        self._plot.setMenuEnabled(False)
        self._plot.hideButtons()
        self._plot.disableAutoRange()
        self._plot.showGrid(x=True, y=True, alpha=0.12)
        for side in ("left", "bottom"):
            # Axes and grid stay the same from edit to edit; drawing their text anew takes long.
            axis = self._plot.getPlotItem().getAxis(side)
            axis.setCacheMode(QGraphicsItem.CacheMode.DeviceCoordinateCache)
        self.caption = QLabel()
        self.caption.setProperty("role", "quiet")
        self.caption.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 10, 12, 4)
        layout.setSpacing(4)
        layout.addWidget(self.caption)
        layout.addWidget(self._plot, 1)
        self._make_items()
        self._shown: tuple[str, float] | None = None
        self._styled: tuple[Theme, UnitSystem] | None = None

    def _make_items(self) -> None:
        """Make what is drawn, from back to front; it is kept and given new data."""
        self._axis_lines = pg.InfiniteLine(0, angle=0), pg.InfiniteLine(0, angle=90)
        self._nominal = pg.PlotCurveItem()
        self._design = pg.PlotCurveItem(fillLevel="enclosed")
        self._names = pg.TextItem(anchor=(-0.15, 0.9)), pg.TextItem(anchor=(1.25, 0.7))
        self._keys = pg.ScatterPlotItem(size=6, hoverable=True, tip=lambda x, y, data: data)
        self._ray = pg.PlotCurveItem()
        self._met = pg.ScatterPlotItem(size=9)
        self._spots = pg.ScatterPlotItem(hoverable=True, tip=None)
        self._spots.sigClicked.connect(self._pick)
        self._label = pg.TextItem(anchor=(-0.12, 0.5))
        self._label.setFont(font(11, 600))
        plot = self._plot.getPlotItem()
        for item in (
            self._nominal,
            self._design,
            *self._axis_lines,
            *self._names,
            self._keys,
            self._ray,
            self._met,
            self._spots,
            self._label,
        ):
            plot.addItem(item, ignoreBounds=item is self._label)

    def show_demand(self, result: LiftResult, demand: int, selected: str | None) -> None:
        """Show the plane of a demand's moment with all demands of the lift."""
        demands = result.demands
        angle = plane_angle(*demands[demand, 1:]) if len(demands) else 0.0
        strength = strength_of(result.lift.code, result.lift.column)
        system = result.lift.column.units
        self._style(system)
        force, moment = (
            unit_of(dimension, system).size for dimension in (Dimension.FORCE, Dimension.MOMENT)
        )
        curve = meridian(
            strength,
            angle,
            [
                partial(key.fraction, strength)
                for key in result.lift.code.key_points(result.lift.column)
            ],
        )
        self._show_curve(strength, curve, force, moment)
        self._show_keys(result, strength, curve, force, moment)
        for item in (self._spots, self._ray, self._met, self._label):
            item.setVisible(bool(len(demands)))
        if len(demands):
            self._show_demands(result, strength, angle, demand, force, moment)
        self._caption(result, angle, demand, selected)
        # The scale stays while a lift is edited, so that the curve is seen to move.
        shown = result.lift.name, angle
        if shown != self._shown:
            self.fit()
            self._shown = shown

    def fit(self) -> None:
        """Show all of the diagram."""
        self._plot.getPlotItem().autoRange(padding=0.04)

    def _caption(self, result: LiftResult, angle: float, demand: int, selected: str | None) -> None:
        words, degrees = result.lift.code.vocabulary, format_number(math.degrees(angle), 1)
        text = f"Moment at {degrees}° from {words.moment_x} towards {words.moment_y}"
        if selected is not None:
            ratio = result.proportional.ratio[demand]
            held = result.constant_axial.ratio[demand]
            text += f", as in {selected}. Along the ray {ratio:.3f}"
            text += f", at constant N {held:.3f}." if math.isfinite(held) else "."
        self.caption.setText(text)

    def _style(self, system: UnitSystem) -> None:
        """Set colours and the names of the axes, once for a theme and its units."""
        theme = current_theme()
        if self._styled == (theme, system):
            return
        self._styled = theme, system
        self._plot.setBackground(QColor(theme.paper))
        plot = self._plot.getPlotItem()
        for side, letter, dimension in (
            ("left", "N", Dimension.FORCE),
            ("bottom", "M", Dimension.MOMENT),
        ):
            axis = plot.getAxis(side)
            axis.setStyle(tickFont=font(10), tickLength=-4, tickTextOffset=5)
            axis.setPen(QColor(theme.hairline))
            axis.setTextPen(QColor(theme.secondary))
            axis.enableAutoSIPrefix(False)
            label = f"{letter}, {unit_of(dimension, system).symbol}"
            axis.setLabel(label, **{"font-size": "11px", "color": theme.secondary})
        for line in self._axis_lines:
            line.setPen(pg.mkPen(theme.hairline, width=1))
        self._nominal.setPen(pg.mkPen(theme.secondary, width=1))
        self._design.setPen(pg.mkPen(theme.capacity, width=2))
        self._design.setBrush(QColor(theme.capacity_fill))
        self._keys.setPen(pg.mkPen(theme.capacity, width=1.2))
        self._keys.setBrush(QColor(theme.panel))
        self._met.setBrush(QColor(theme.paper))
        for item, name, colour in zip(
            self._names, ("nominal", "design"), (theme.secondary, theme.capacity), strict=True
        ):
            item.setText(name, QColor(colour))
            item.setFont(font(10))
        self._label.fill = pg.mkBrush(theme.paper)

    def _show_curve(self, strength: Strength, curve: Meridian, force: float, moment: float) -> None:
        paths = curve.nominal, curve.design
        if strength.body.symmetric:
            # Both halves are alike: the right one says it all.
            paths = _closed(curve.nominal_right), _closed(curve.design_right)
        for path, item, name, share in zip(
            paths, (self._nominal, self._design), self._names, (0.8, -0.4), strict=True
        ):
            m, n = path[:, 1] / moment, path[:, 0] / force
            item.setData(m, n)
            # Names stand beside the right half where demands are rare: high up, or in tension.
            level = share * (n.max() if share > 0 else -n.min())
            near = np.where(m > 0.1 * m.max(), np.abs(n - level), np.inf)
            place = int(near.argmin())
            name.setPos(float(m[place]), float(n[place]))
        # Where no factor sets them apart, one curve is both.
        apart = not np.array_equal(curve.nominal_right, curve.design_right)
        for item in (self._nominal, self._names[0]):
            item.setVisible(apart)

    def _show_keys(
        self, result: LiftResult, strength: Strength, curve: Meridian, force: float, moment: float
    ) -> None:
        unit = np.array([math.cos(curve.angle), math.sin(curve.angle)])
        keys = result.lift.code.key_points(result.lift.column)
        named = [
            (n * factor, m * factor, key.name)
            for key, (n, m, factor) in zip(keys, curve.marks, strict=True)
            if n * factor <= strength.max_axial
        ]
        named.append((*curve.design_right[-1], "largest axial force"))
        named.append((0.0, curve.bending, "pure bending"))
        tension = strength.mesh.points.design[0, 0]
        named.append((float(tension[0]), float(tension[1:] @ unit), "pure tension"))
        self._keys.setData(
            [m / moment for _, m, _ in named],
            [n / force for n, _, _ in named],
            data=[name for _, _, name in named],
        )

    def _show_demands(
        self,
        result: LiftResult,
        strength: Strength,
        angle: float,
        demand: int,
        force: float,
        moment: float,
    ) -> None:
        theme = current_theme()
        demands, ratios = result.demands, result.proportional.ratio
        unit = np.array([math.cos(angle), math.sin(angle)])
        across = demands[:, 1:] @ np.array([-unit[1], unit[0]])
        in_plane = np.abs(across) <= IN_PLANE * np.hypot(*demands[:, 1:].T) + 1e-9
        shown = np.concatenate([demands, result.proportional.capacity[[demand]]])
        along = shown[:, 1:] @ unit / moment
        if strength.body.symmetric:
            along = np.abs(along)
        axial = shown[:, 0] / force
        states = [state_of_ratio(float(ratio)) for ratio in ratios]
        pens = {
            (state, alike): pg.mkPen(_faded(theme.state(state), alike), width=1.3)
            for state in set(states)
            for alike in (True, False)
        }
        used = [pens[state, bool(alike)] for state, alike in zip(states, in_plane, strict=True)]
        hollow, chosen = QColor(0, 0, 0, 0), theme.state(states[demand])
        self._spots.setData(
            along[:-1],
            axial[:-1],
            symbol=[_SYMBOLS[state] for state in states],
            size=[11 if i == demand else 8 for i in range(len(states))],
            pen=used,
            brush=[chosen if i == demand else hollow for i in range(len(states))],
            data=[result.combination_of(i) for i in range(len(states))],
        )
        loaded = bool(ratios[demand] > 0)
        for item in (self._ray, self._met):
            item.setVisible(loaded)
        if loaded:
            further = max(1.0, 1.0 / float(ratios[demand]))
            ray = along[demand] * further, axial[demand] * further
            self._ray.setData([0.0, ray[0]], [0.0, ray[1]])
            self._ray.setPen(pg.mkPen(chosen, width=1, style=Qt.PenStyle.DashLine))
            self._met.setData(along[-1:], axial[-1:])
            self._met.setPen(pg.mkPen(chosen, width=1.4))
        name = result.combination_of(demand)
        self._label.setText(f"{name} {ratios[demand]:.2f}", QColor(theme.ink))
        self._label.setPos(along[demand], axial[demand])
        # Beside the demand on the side where there is room.
        widest = float(self._design.getData()[0].max())
        self._label.setAnchor((1.12, 0.5) if along[demand] > 0.85 * widest else (-0.12, 0.5))

    def _pick(self, _: object, spots: list[pg.SpotItem]) -> None:
        if len(spots):
            self.picked.emit(spots[0].data())


def _faded(colour: QColor, in_plane: bool) -> QColor:
    """Return the colour of a demand: fainter where its moment points out of the plane."""
    colour.setAlphaF(1.0 if in_plane else 0.6)
    return colour


_SYMBOLS = {state: _glyph(state) for state in State}


def _closed(path: FloatArray) -> FloatArray:
    """Close the right half of a curve along the axis."""
    return np.concatenate([path, [[path[-1, 0], 0.0], [path[0, 0], 0.0]], path[:1]])
