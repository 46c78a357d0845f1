"""Qt view for a diagram with axes in units: what N–M and Mx–My have alike."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen
from PyQt6.QtWidgets import QGraphicsItem, QWidget

from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.findings import State, state_of_ratio
from fexro.core.quantities import format_number
from fexro.desktop.bench.pictures.shown import Shown
from fexro.desktop.theme import current_theme, font, mixed

__all__ = ["DemandSpots", "Plot", "pen"]

pg.setConfigOptions(antialias=True)

RATE = 60  # readings a second while the pointer moves
FADED = 0.5
BEHIND = -1000  # of the axes, whose grid lies under the curves
BREATH = 0.04  # share of the picture left free around what is fitted
FILLED = 0.8  # share of the picture that is filled well


def pen(colour: str | QColor, width: float = 1.0, *, dashed: bool = False) -> QPen:
    """Return a pen of a width in px, whatever the scale of the diagram."""
    style = Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine
    made: QPen = pg.mkPen(QColor(colour), width=width, style=style)
    return made


_Line = tuple[QPen, QPointF, QPointF]


class _Axis(pg.AxisItem):
    """An axis whose numbers are written as everywhere else."""

    def tickStrings(self, values: list[float], scale: float, spacing: float) -> list[str]:
        places = max(0, -math.floor(math.log10(spacing * scale) + 1e-9))
        return [format_number(value * scale, places) for value in values]

    def drawPicture(
        self, painter: QPainter, axis: _Line, ticks: list[_Line], texts: list[object]
    ) -> None:
        # Painting a line that can be seen through takes four times as long as one that cannot.
        paper = current_theme().paper
        solid = {
            rgba: pen(mixed(paper, colour := QColor.fromRgba(rgba), colour.alphaF()))
            for rgba in {line.color().rgba() for line, _, _ in ticks}
        }
        ticks = [(solid[line.color().rgba()], start, end) for line, start, end in ticks]
        super().drawPicture(painter, axis, ticks, texts)


class Plot(pg.PlotWidget):
    """A diagram that is zoomed by the wheel and panned by dragging.

    Signals:
        hovered: the pointer is at a place, in the units of the axes.
        picked, read, turned, chosen: those of a picture.
    """

    sharpness = 2.0
    hovered = pyqtSignal(float, float)
    picked = pyqtSignal(int)
    read = pyqtSignal(str)
    turned = pyqtSignal(float)
    chosen = pyqtSignal(str)

    def __init__(self, name: str) -> None:
        super().__init__(axisItems={side: _Axis(side) for side in ("left", "bottom")})
        self.setAccessibleName(name)
        self.setMenuEnabled(False)
        self.hideButtons()
        self.disableAutoRange()
        self.showGrid(x=True, y=True, alpha=0.12)
        self.setMinimumSize(200, 150)
        for side in ("left", "bottom"):
            # Axes and grid stay the same from edit to edit; drawing their text anew takes long.
            axis = self.getPlotItem().getAxis(side)
            axis.setCacheMode(QGraphicsItem.CacheMode.DeviceCoordinateCache)
            axis.setZValue(BEHIND)
        self._zero = pg.InfiniteLine(0, angle=0), pg.InfiniteLine(0, angle=90)
        for line in self._zero:
            self.addItem(line, ignoreBounds=True)
        self._zoomed = False
        self.getPlotItem().getViewBox().sigRangeChangedManually.connect(self._zoom_by_hand)
        self._moves = pg.SignalProxy(self.scene().sigMouseMoved, rateLimit=RATE, slot=self._move)

    def style(self, labels: dict[str, str]) -> None:
        """Set the colours of the theme and the names of the axes with their units."""
        theme = current_theme()
        self.setBackground(QColor(theme.paper))
        for side, label in labels.items():
            axis = self.getPlotItem().getAxis(side)
            axis.setStyle(tickFont=font(10), tickLength=-4, tickTextOffset=5)
            axis.setPen(QColor(theme.hairline))
            axis.setTextPen(QColor(theme.secondary))
            axis.enableAutoSIPrefix(False)
            axis.setLabel(label, **{"font-size": "11px", "color": theme.secondary})
        for line in self._zero:
            line.setPen(pen(theme.axis))

    def fit_to(self, paths: Sequence[FloatArray], *, steady: bool = False) -> None:
        """Show all points (P, 2) of some paths.

        Steady, the scale stays where all of them are in view and fill it well: axes that stay are
        not drawn anew, and curves can be seen to move.
        """
        points = np.concatenate([path for path in paths if len(path)] or [np.zeros((1, 2))])
        (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
        width, height = max(x1 - x0, 1e-6), max(y1 - y0, 1e-6)
        view = self.getPlotItem().getViewBox().viewRect()
        filled = width > FILLED * view.width() and height > FILLED * view.height()
        if steady and filled and view.contains(QRectF(x0, y0, width, height)):
            return
        room = QRectF(x0, y0, width, height).adjusted(
            -BREATH * width, -BREATH * height, BREATH * width, BREATH * height
        )
        self.setRange(room, padding=0)

    def pixels(self, places: FloatArray) -> FloatArray:
        """Return places (P, 2) of the diagram in px of the view, (P, 2)."""
        room = self.getPlotItem().getViewBox().viewRect()
        inside = self.inside()
        share = (places - [room.left(), room.top()]) / [room.width(), room.height()]
        # Upwards in the diagram is downwards on the screen.
        share[:, 1] = 1 - share[:, 1]
        found: FloatArray = share * [inside.width(), inside.height()]
        found += [inside.left(), inside.top()]
        return found

    def place(self, x: float, y: float) -> QPointF:
        """Return a place on the screen, px of the view, in the diagram."""
        scene = self.mapToScene(QPointF(x, y).toPoint())
        return QPointF(self.getPlotItem().getViewBox().mapSceneToView(scene))

    def inside(self) -> QRectF:
        """Return the place of the diagram inside its axes, px of the view."""
        view = self.getPlotItem().getViewBox()
        return QRectF(self.mapFromScene(view.sceneBoundingRect()).boundingRect())

    def leaveEvent(self, event: QEvent | None) -> None:
        super().leaveEvent(event)
        self.read.emit("")

    @property
    def widget(self) -> QWidget:
        """The widget that it is."""
        return self

    def missing(self) -> str:
        """Return nothing: lines can always be painted."""
        return ""

    def paint(self, painter: QPainter, area: QRectF) -> bool:
        """Paint the diagram in lines, without what is cached as pixels for the screen."""
        none = QGraphicsItem.CacheMode.NoCache
        cached = [item for item in self.scene().items() if item.cacheMode() != none]
        modes = [item.cacheMode() for item in cached]
        for item in cached:
            item.setCacheMode(none)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(area, self.backgroundBrush())
        self.render(painter, area, self.viewport().rect())
        for item, mode in zip(cached, modes, strict=True):
            item.setCacheMode(mode)
        return True

    def _zoom_by_hand(self) -> None:
        self._zoomed = True

    def _move(self, arguments: tuple[QPointF]) -> None:
        if self.sceneBoundingRect().contains(arguments[0]):
            at = self.getPlotItem().getViewBox().mapSceneToView(arguments[0])
            self.hovered.emit(at.x(), at.y())


class DemandSpots:
    """The demands of a lift in a diagram, each with the glyph of its state.

    Demands that are only projected into the diagram are drawn fainter. A class of demands is one
    item, so that many are drawn at once.

    Args:
        plot: where they are drawn.
        pick: called with the index of a demand that is clicked.
    """

    def __init__(self, plot: Plot, pick: Callable[[int], None]) -> None:
        self._items: dict[tuple[State, bool], pg.ScatterPlotItem] = {}
        self._drawn: dict[tuple[State, bool], FloatArray] = {}
        for faint in (True, False):
            for state in (State.SATISFIED, State.ATTENTION, State.EXCEEDED):
                item = pg.ScatterPlotItem(
                    symbol=_SYMBOLS[state], size=9, brush=None, hoverable=True, tip=None
                )
                item.sigClicked.connect(lambda _, spots: pick(int(spots[0].data())))
                self._items[state, faint] = item
                plot.addItem(item, ignoreBounds=True)
        self._chosen = pg.ScatterPlotItem(size=12)
        plot.addItem(self._chosen, ignoreBounds=True)

    def style(self) -> None:
        """Take the colours of the theme."""
        theme = current_theme()
        for (state, faint), item in self._items.items():
            colour = theme.state(state)
            colour.setAlphaF(FADED if faint else 1.0)
            item.setPen(pen(colour, 1.3))

    def show(self, shown: Shown, places: FloatArray, faint: BoolArray) -> None:
        """Show demands at places (R, 2), some of them fainter."""
        states = np.array([state_of_ratio(float(ratio)) for ratio in shown.ratios])
        if shown.along is not None and shown.demand is not None:
            states[shown.demand] = state_of_ratio(float(shown.along.ratio[0]))
        for (state, faintly), item in self._items.items():
            which = np.flatnonzero((states == state) & (faint == faintly))
            if not len(which) and not item.isVisible():
                continue
            item.setVisible(bool(len(which)))
            # Handing over spots takes long; most stay where they are while a section changes.
            spots = np.column_stack([places[which], which])
            before = self._drawn.get((state, faintly))
            if before is None or not np.array_equal(spots, before):
                self._drawn[state, faintly] = spots
                item.setData(places[which, 0], places[which, 1], data=which)
        self._chosen.setVisible(shown.demand is not None)
        if shown.demand is not None:
            state = states[shown.demand]
            colour = current_theme().state(state)
            self._chosen.setData(
                *places[[shown.demand]].T,
                symbol=_SYMBOLS[state],
                pen=pen(colour, 1.3),
                brush=colour,
            )


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


_SYMBOLS = {state: _glyph(state) for state in State}
