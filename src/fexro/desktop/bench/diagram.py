"""Qt view for the interaction diagram: N–M in the plane of the selected combination's moment."""

from __future__ import annotations

import math

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QPainterPath
from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from fexro.core.codes import State, state_of_ratio
from fexro.core.members.lift import LiftResult, strength_of
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.core.section.outline import FloatArray
from fexro.core.strength.slices import Marks, Meridian, meridian
from fexro.core.strength.surface import Strength
from fexro.desktop.theme import current_theme, font

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
        self.caption = QLabel()
        self.caption.setProperty("role", "quiet")
        self.caption.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 10, 12, 4)
        layout.setSpacing(4)
        layout.addWidget(self.caption)
        layout.addWidget(self._plot, 1)
        self._shown: tuple[str, float] | None = None

    def show_demand(self, result: LiftResult, demand: int, selected: str | None) -> None:
        """Show the plane of a demand's moment with all demands of the lift."""
        demands = result.lift.demands.reshape(-1, 3)
        angle = plane_angle(*demands[demand, 1:]) if len(demands) else 0.0
        strength = strength_of(result.lift.code, result.lift.column)
        system = result.lift.column.units
        self._draw(result, strength, angle, demand, system)
        self._caption(result, angle, demand, selected)

    def fit(self) -> None:
        """Show all of the diagram."""
        self._plot.getPlotItem().autoRange(padding=0.04)

    def _caption(self, result: LiftResult, angle: float, demand: int, selected: str | None) -> None:
        degrees = math.degrees(angle)
        words = result.lift.code.vocabulary
        text = (
            f"Moment at {format_number(degrees, 1)}° from {words.moment_x} towards {words.moment_y}"
        )
        if selected is not None:
            ratio = result.proportional.ratio[demand]
            held = result.constant_axial.ratio[demand]
            text += f", as in {selected}. Along the ray {ratio:.3f}"
            text += f", at constant N {held:.3f}." if math.isfinite(held) else "."
        self.caption.setText(text)

    def _draw(
        self, result: LiftResult, strength: Strength, angle: float, demand: int, system: UnitSystem
    ) -> None:
        theme, plot = current_theme(), self._plot.getPlotItem()
        plot.clear()
        self._plot.setBackground(QColor(theme.paper))
        force, moment = (
            unit_of(dimension, system) for dimension in (Dimension.FORCE, Dimension.MOMENT)
        )
        self._axes(force.symbol, moment.symbol)
        curve = meridian(strength, angle, _marks(result, strength))
        paths = curve.nominal, curve.design
        if strength.body.symmetric:
            # Both halves are alike: the right one says it all.
            paths = _closed(curve.nominal_right), _closed(curve.design_right)
        nominal, design = ((path[:, 1] / moment.size, path[:, 0] / force.size) for path in paths)
        plot.addItem(pg.PlotCurveItem(*nominal, pen=pg.mkPen(theme.secondary, width=1)))
        plot.addItem(
            pg.PlotCurveItem(
                *design,
                pen=pg.mkPen(theme.capacity, width=2),
                brush=QColor(theme.capacity_fill),
                fillLevel="enclosed",
            )
        )
        self._name_curve("nominal", nominal, theme.secondary, 0.8, (-0.15, 0.9))
        self._name_curve("design", design, theme.capacity, -0.4, (1.25, 0.7))
        plot.addItem(pg.InfiniteLine(0, angle=0, pen=pg.mkPen(theme.hairline, width=1)))
        plot.addItem(pg.InfiniteLine(0, angle=90, pen=pg.mkPen(theme.hairline, width=1)))
        self._key_points(result, strength, curve, force.size, moment.size)
        self._demands(result, angle, demand, force.size, moment.size)
        # The scale stays while a lift is edited, so that the curve is seen to move.
        shown = result.lift.name, angle
        if shown != self._shown:
            self.fit()
            self._shown = shown

    def _name_curve(
        self,
        name: str,
        path: tuple[FloatArray, FloatArray],
        colour: str,
        share: float,
        anchor: tuple[float, float],
    ) -> None:
        """Write the name of a curve beside its right half, at a share of its force where demands
        are rare: positive of the largest compression, negative of the largest tension."""
        moment, force = path
        level = share * (force.max() if share > 0 else -force.min())
        near = np.where(moment > 0.1 * moment.max(), np.abs(force - level), np.inf)
        place = int(near.argmin())
        label = pg.TextItem(name, color=QColor(colour), anchor=anchor)
        label.setFont(font(10))
        label.setPos(float(moment[place]), float(force[place]))
        self._plot.getPlotItem().addItem(label)

    def _axes(self, force: str, moment: str) -> None:
        theme, plot = current_theme(), self._plot.getPlotItem()
        style: QFont = font(10)
        for side, label in (("left", f"N, {force}"), ("bottom", f"M, {moment}")):
            axis = plot.getAxis(side)
            axis.setStyle(tickFont=style, tickLength=-4, tickTextOffset=5)
            axis.setPen(QColor(theme.hairline))
            axis.setTextPen(QColor(theme.secondary))
            axis.enableAutoSIPrefix(False)
            axis.setLabel(label, **{"font-size": "11px", "color": theme.secondary})
        plot.showGrid(x=True, y=True, alpha=0.12)

    def _key_points(
        self, result: LiftResult, strength: Strength, curve: Meridian, force: float, moment: float
    ) -> None:
        theme, plot = current_theme(), self._plot.getPlotItem()
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
        plot.addItem(
            pg.ScatterPlotItem(
                [m / moment for _, m, _ in named],
                [n / force for n, _, _ in named],
                size=6,
                pen=pg.mkPen(theme.capacity, width=1.2),
                brush=QColor(theme.panel),
                hoverable=True,
                tip=lambda x, y, data: data,
                data=[name for _, _, name in named],
            )
        )

    def _demands(
        self, result: LiftResult, angle: float, demand: int, force: float, moment: float
    ) -> None:
        theme, plot = current_theme(), self._plot.getPlotItem()
        demands = result.lift.demands.reshape(-1, 3)
        if not len(demands):
            return
        unit = np.array([math.cos(angle), math.sin(angle)])
        along = demands[:, 1:] @ unit
        across = demands[:, 1:] @ np.array([-unit[1], unit[0]])
        if strength_symmetric(result):
            along = np.abs(along)
        in_plane = np.abs(across) <= IN_PLANE * np.hypot(*demands[:, 1:].T) + 1e-9
        spots, hollow = [], QColor(0, 0, 0, 0)
        pens = {
            (state, alike): pg.mkPen(_faded(theme.state(state), alike), width=1.3)
            for state in State
            for alike in (True, False)
        }
        for i, ratio in enumerate(result.proportional.ratio):
            state = state_of_ratio(float(ratio))
            pen = pens[state, bool(in_plane[i])]
            spots.append(
                {
                    "pos": (along[i] / moment, demands[i, 0] / force),
                    "symbol": _SYMBOLS[state],
                    "size": 11 if i == demand else 8,
                    "pen": pen,
                    "brush": pen.color() if i == demand else hollow,
                    "data": result.lift.combinations[i // 2],
                }
            )
        scatter = pg.ScatterPlotItem(spots=spots, hoverable=True, tip=None)
        scatter.sigClicked.connect(self._pick)
        state = state_of_ratio(float(result.proportional.ratio[demand]))
        colour = theme.state(state)
        capacity = result.proportional.capacity[demand]
        reach = max(1.0, 1.0 / max(float(result.proportional.ratio[demand]), 1e-9))
        end = (along[demand] / moment, demands[demand, 0] / force)
        if result.proportional.ratio[demand] > 0 and math.isfinite(reach):
            plot.addItem(
                pg.PlotCurveItem(
                    [0.0, end[0] * reach],
                    [0.0, end[1] * reach],
                    pen=pg.mkPen(colour, width=1, style=Qt.PenStyle.DashLine),
                )
            )
            met = (
                abs(float(capacity[1:] @ unit))
                if strength_symmetric(result)
                else float(capacity[1:] @ unit)
            )
            plot.addItem(
                pg.ScatterPlotItem(
                    [met / moment],
                    [float(capacity[0]) / force],
                    size=9,
                    pen=pg.mkPen(colour, width=1.4),
                    brush=QColor(theme.paper),
                )
            )
        plot.addItem(scatter)
        label = pg.TextItem(
            f"{result.lift.combinations[demand // 2]} {result.proportional.ratio[demand]:.2f}",
            color=QColor(theme.ink),
            anchor=(-0.12, 0.5),
            fill=pg.mkBrush(theme.paper),
        )
        label.setFont(font(11, 600))
        label.setPos(*end)
        plot.addItem(label)

    def _pick(self, _: object, spots: list[pg.SpotItem]) -> None:
        if len(spots):
            self.picked.emit(spots[0].data())


def _faded(colour: QColor, in_plane: bool) -> QColor:
    """Return the colour of a demand: fainter where its moment points out of the plane."""
    colour.setAlphaF(1.0 if in_plane else 0.6)
    return colour


_SYMBOLS = {state: _glyph(state) for state in State}


def _marks(result: LiftResult, strength: Strength) -> Marks:
    """Return the key points of the code as marks of the curve."""
    code = result.lift.code
    keys = code.key_points(result.lift.column)

    strains = np.array([key.strain for key in keys])
    return Marks(
        len(keys), lambda angle, mark: code.fraction_of_strain(strength, angle, strains[mark])
    )


def strength_symmetric(result: LiftResult) -> bool:
    """Tell whether both halves of a lift's diagram are alike."""
    return strength_of(result.lift.code, result.lift.column).body.symmetric


def _closed(path: FloatArray) -> FloatArray:
    """Close the right half of a curve along the axis."""
    return np.concatenate([path, [[path[-1, 0], 0.0], [path[0, 0], 0.0]], path[:1]])
