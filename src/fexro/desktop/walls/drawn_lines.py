"""Qt view for drawing the centre lines of a new wall in plan."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF

from fexro.core.quantities import UnitSystem
from fexro.desktop.document import Document
from fexro.desktop.lengths import FOOT, write_metres
from fexro.desktop.plan import Plan
from fexro.desktop.theme import current_theme, font
from fexro.project.project import Project
from fexro.project.walls import WallLine

__all__ = ["DrawnLines", "snapped"]

NEAR = 12  # px within which a place is taken
STEPS = {UnitSystem.SI: 0.1, UnitSystem.IN_LB: 0.5 * FOOT}  # m, to which places are rounded
SAME = 1e-9  # m
LEAST = 12.0  # m that are shown at least
TOLD = (
    "Click where the centre lines begin, turn and end; Return or a double click makes the wall."
    " Backspace takes the last place back, Esc leaves."
)

Place = tuple[float, float]


def snapped(project: Project, at: Place, last: Place | None, reach: float) -> Place:
    """Return the place that is meant: an end, a column, a crossing of the grid, or square to there.

    Args:
        project: the project.
        at: where the pointer is, m.
        last: the place before, to which the line may be square.
        reach: up to which another place is near, m.
    """
    near = [one for one in _places(project) if math.dist(one, at) <= reach]
    if near:
        return min(near, key=lambda one: math.dist(one, at))
    x, y = (
        _coordinate(project, at[axis], None if last is None else last[axis], axis, reach)
        for axis in (0, 1)
    )
    return x, y


def _places(project: Project) -> Iterator[Place]:
    for wall in project.walls:
        for line in wall.lines:
            yield line.x1, line.y1
            yield line.x2, line.y2
    yield from (mark.place for mark in project.marks if mark.place is not None)
    across = [line.at for line in project.grid if line.axis == "x"]
    yield from ((x, line.at) for line in project.grid if line.axis == "y" for x in across)


def _coordinate(
    project: Project, value: float, last: float | None, axis: int, reach: float
) -> float:
    lines = [line.at for line in project.grid if line.axis == "xy"[axis]]
    near = [one for one in ([] if last is None else [last]) + lines if abs(one - value) <= reach]
    if near:
        return near[0]
    step = STEPS[project.basis.system]
    return round(round(value / step) * step, 6)


class DrawnLines(Plan):
    """The plan of the lowest storey, on which lines of a wall are drawn place by place."""

    ended = pyqtSignal(list)
    left = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__(document)
        self.places: list[Place] = []
        self._pointer: Place | None = None
        self.setAccessibleName("Lines of a new wall in plan")
        self.setCursor(Qt.CursorShape.CrossCursor)

    def start(self) -> None:
        """Begin anew, over the lowest storey."""
        project = self._document.project
        self.places, self._pointer = [], None
        if project is not None and project.storeys:
            self.storey = project.storeys[-1].name
        self.fit()
        self.setFocus()

    def _bounds(self) -> tuple[float, float, float, float]:
        x0, y0, x1, y1 = super()._bounds()
        project = self._document.project
        walls = () if project is None else project.walls
        ends = [end for wall in walls for line in wall.lines for end in _ends(line)]
        xs, ys = [x0, x1, *(x for x, _ in ends)], [y0, y1, *(y for _, y in ends)]
        wide, high = (max(max(one) - min(one), LEAST) / 2 for one in (xs, ys))
        x, y = ((min(one) + max(one)) / 2 for one in (xs, ys))
        return x - wide, y - high, x + wide, y + high

    def _meant(self, at: QPointF) -> Place | None:
        project = self._document.project
        if project is None:
            return None
        fit = self._fit()
        last = self.places[-1] if self.places else None
        return snapped(project, fit.place(at), last, NEAR / fit.scale)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the plan, the walls that are there, and what is drawn."""
        super().paintEvent(event)
        project, theme = self._document.project, current_theme()
        if project is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        fit = self._fit()
        for wall in project.walls:
            for line in wall.lines:
                a, b = (fit.point(*end) for end in _ends(line))
                wide = max(line.thickness / 1e3 * fit.scale, 1.5)
                painter.setPen(QPen(QColor(theme.axis), wide, cap=Qt.PenCapStyle.SquareCap))
                painter.drawLine(a, b)
        drawn = [fit.point(*place) for place in self.places]
        painter.setPen(QPen(QColor(theme.capacity), 2))
        painter.drawPolyline(QPolygonF(drawn))
        for at in drawn:
            painter.drawEllipse(at, 3, 3)
        painter.setFont(font(11))
        if self._pointer is not None:
            there = fit.point(*self._pointer)
            if drawn:
                painter.setPen(QPen(QColor(theme.capacity), 1.4, Qt.PenStyle.DashLine))
                painter.drawLine(drawn[-1], there)
            painter.setPen(QPen(QColor(theme.ink), 1))
            painter.drawEllipse(there, 4, 4)
            painter.drawText(there + QPointF(8, -8), self._written(project, self._pointer))
        painter.setPen(QColor(theme.secondary))
        box = QRectF(self.rect()).adjusted(12, 0, -12, -8)
        wrapped = Qt.AlignmentFlag.AlignBottom | Qt.TextFlag.TextWordWrap
        painter.drawText(box, wrapped, TOLD)
        painter.end()

    def _written(self, project: Project, place: Place) -> str:
        system = project.basis.system
        told = f"{write_metres(place[0], system)}, {write_metres(place[1], system)}"
        if not self.places:
            return told
        return f"{told} · {write_metres(math.dist(self.places[-1], place), system)} long"

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Put a place down."""
        assert event is not None
        place = self._meant(event.position())
        if place is None or event.button() != Qt.MouseButton.LeftButton:
            return
        if not self.places or math.dist(self.places[-1], place) > SAME:
            self.places.append(place)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Show where a click would put a place."""
        assert event is not None
        self._pointer = self._meant(event.position())
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Nothing is dragged here."""

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """End the lines where the click before put a place."""
        self._end()

    def event(self, event: QEvent | None) -> bool:
        """Keep Esc to itself, which elsewhere leads back."""
        if (
            isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.ShortcutOverride
            and event.key() == Qt.Key.Key_Escape
        ):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """End by Return, take back by Backspace, leave by Esc."""
        assert event is not None
        match event.key():
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self._end()
            case Qt.Key.Key_Backspace:
                del self.places[-1:]
                self.update()
            case Qt.Key.Key_Escape:
                self.left.emit()
            case _:
                super().keyPressEvent(event)

    def _end(self) -> None:
        if len(self.places) > 1:
            self.ended.emit(list(self.places))


def _ends(line: WallLine) -> Sequence[Place]:
    return (line.x1, line.y1), (line.x2, line.y2)
