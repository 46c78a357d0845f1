"""Qt view for the walls that a level cuts, to scale, with the columns beside them."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from fexro.core.findings import State
from fexro.desktop.document import Document
from fexro.desktop.drawing import Fit, paint_glyph
from fexro.desktop.theme import current_theme, font, mixed
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.section import section_of
from fexro.project.wall_members import panels_of
from fexro.project.walls import WallLine

__all__ = ["LevelPlan"]

MARGIN = 18  # px
LEAST = 1_000.0  # mm that are shown at least


class LevelPlan(QWidget):
    """What a section through a storey cuts of its walls; a click picks a panel."""

    picked = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.storey, self.wall = "", ""
        self.chosen: LiftKey | None = None
        self.refused: tuple[WallLine, ...] = ()
        self._paths: list[tuple[LiftKey, QPainterPath]] = []
        self.setMinimumSize(180, 150)
        self.setAccessibleName("Walls in plan")

    def show_level(self, storey: str, wall: str, chosen: LiftKey | None) -> None:
        """Show another storey or wall."""
        self.storey, self.wall, self.chosen = storey, wall, chosen
        self.update()

    def point_at(self, lines: Sequence[WallLine]) -> None:
        """Show lines that were refused, with their numbers, where they would be; or none."""
        self.refused = tuple(lines)
        self.update()

    def cut(self, project: Project) -> list[tuple[LiftKey, list[list[tuple[float, float]]]]]:
        """Return the rings of each panel that the storey cuts, mm in plan."""
        found = []
        for key, (wall, _) in panels_of(project).items():
            if key.storey != self.storey or (self.wall and wall.name != self.wall):
                continue
            first = wall.lines[0]
            section = section_of(project.by_key[key].section, project.basis.bars.own)
            rings = [
                [(1e3 * first.x1 + float(x), 1e3 * first.y1 + float(y)) for x, y in ring]
                for ring in section.outline.rings
            ]
            found.append((key, rings))
        return found

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint what is cut, each panel with its state."""
        painter, theme = QPainter(self), current_theme()
        painter.fillRect(self.rect(), QColor(theme.panel))
        project = self._document.project
        self._paths = []
        panels = [] if project is None else self.cut(project)
        painter.setFont(font(11))
        if project is None or not (panels or self.refused):
            painter.setPen(QColor(theme.secondary))
            told = f"The wall does not stand in {self.storey}." if self.storey else ""
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, told)
            painter.end()
            return
        points = [point for _, rings in panels for ring in rings for point in ring]
        points += [end for line in self.refused for end in _ends(line)]
        xs, ys = zip(*points, strict=True)
        x, y = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
        wide = max((max(xs) - min(xs)) / 2, LEAST / 2)
        high = max((max(ys) - min(ys)) / 2, LEAST / 2)
        room = QRectF(self.rect()).adjusted(MARGIN, MARGIN + 8, -MARGIN, -MARGIN)
        fit = Fit((x - wide, y - high, x + wide, y + high), room)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for key, rings in panels:
            path = QPainterPath()
            path.setFillRule(Qt.FillRule.OddEvenFill)
            for ring in rings:
                path.addPolygon(QPolygonF([fit.point(*point) for point in ring]))
                path.closeSubpath()
            self._paths.append((key, path))
            result = self._document.results.get(key)
            state = State.NOT_CHECKED if result is None else result.state
            fill = QColor(theme.concrete)
            if state is State.EXCEEDED:
                fill = mixed(theme.concrete, theme.exceeded, 0.22)
            painter.setBrush(fill)
            chosen = key == self.chosen
            painter.setPen(
                QPen(QColor(theme.capacity if chosen else theme.secondary), 2.2 if chosen else 1)
            )
            painter.drawPath(path)
            box = path.boundingRect()
            place = box.center()
            if path.contains(place):
                # A straight wall has its name beside it.
                beside = box.width() < box.height()
                place = QPointF(
                    box.right() + 22 if beside else place.x(),
                    place.y() if beside else box.top() - 12,
                )
            paint_glyph(painter, state, QPointF(place.x() - 16, place.y()), 9, theme)
            painter.setPen(QColor(theme.ink))
            painter.setFont(font(10))
            painter.drawText(QPointF(place.x() - 8, place.y() + 4), key.mark)
        for number, line in enumerate(self.refused, 1):
            a, b = (fit.point(*end) for end in _ends(line))
            painter.setPen(QPen(QColor(theme.exceeded), 1.6, Qt.PenStyle.DashLine))
            painter.drawLine(a, b)
            painter.drawText((a + b) / 2 + QPointF(4, -4), f"line {number}")
        painter.setPen(QColor(theme.secondary))
        painter.setFont(font(10))
        told = "Refused" if self.refused else f"Section through {self.storey}"
        painter.drawText(QPointF(8, 15), told)
        painter.end()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Pick the panel that is clicked."""
        assert event is not None
        for key, path in self._paths:
            if path.boundingRect().contains(event.position()):
                self.picked.emit(key)
                return


def _ends(line: WallLine) -> tuple[tuple[float, float], tuple[float, float]]:
    """Return the ends of a line, mm in plan."""
    return (1e3 * line.x1, 1e3 * line.y1), (1e3 * line.x2, 1e3 * line.y2)
