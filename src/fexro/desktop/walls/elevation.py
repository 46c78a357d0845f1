"""Qt view for a wall in elevation, its straight walls beside one another, to scale."""

from __future__ import annotations

import math
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from fexro.core.findings import State
from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import verdict_of
from fexro.core.quantities import format_number
from fexro.desktop.document import UNCHECKED, Document
from fexro.desktop.drawing import paint_glyph
from fexro.desktop.lengths import write_metres
from fexro.desktop.text import tip_text
from fexro.desktop.theme import Theme, current_theme, font, mixed
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.wall_layout import WallLayout
from fexro.project.wall_members import layout_in
from fexro.project.walls import Opening, Wall

__all__ = ["WallElevation"]

GAP = 0.9  # m between straight walls that are drawn beside one another
LEFT, TOP, RIGHT, BELOW = 64, 30, 14, 14  # px
NARROW, LOW = 46, 15  # px, below which no text stands in a member


@dataclass(frozen=True)
class _Piece:
    """A part of a member as it is drawn: of a panel its stretch of one straight wall."""

    key: LiftKey
    area: QRectF
    beam: bool


class WallElevation(QWidget):
    """The panels, coupling beams and openings of a wall; a click picks one, two open it."""

    picked = pyqtSignal(LiftKey)
    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._wall = ""
        self.chosen: LiftKey | None = None
        self.required: dict[LiftKey, str] = {}
        self._pieces: list[_Piece] = []
        self._openings: list[QRectF] = []
        self._laid: Project | None = None
        self._refused: tuple[Opening, ...] = ()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(320, 240)
        self.setAccessibleName("Wall in elevation")

    def show_wall(self, name: str, chosen: LiftKey | None) -> None:
        """Show another wall, one of its members chosen."""
        self._wall, self.chosen = name, chosen
        self._lay_out()
        self.update()

    def wall(self) -> Wall | None:
        """Return the wall that is shown."""
        project = self._document.project
        walls = () if project is None else project.walls
        return next((wall for wall in walls if wall.name == self._wall), None)

    def resizeEvent(self, event: object) -> None:
        """Fit the wall anew."""
        self._lay_out()

    def point_at(self, refused: tuple[Opening, ...]) -> None:
        """Point at openings that were refused, until the wall is laid out anew."""
        self._refused = refused
        self.update()

    def refused_areas(self) -> list[QRectF]:
        """Return where openings that were refused would be; in storeys and lines that there are."""
        project, wall = self._document.project, self.wall()
        if project is None or wall is None:
            return []
        starts, found = self._starts(wall), []
        for one in self._refused:
            storey = project.storey_by_name.get(one.storey)
            if storey is not None and one.line < len(starts):
                head = storey.level - storey.height + one.sill + one.height
                found.append(self._rect(starts[one.line] + one.at, head, one.width, one.height))
        return found

    def _follow(self) -> None:
        """Lay the wall out anew if the project is another, so that no old one is painted."""
        if self._laid is not self._document.project:
            self._lay_out()

    def _lay_out(self) -> None:
        self._pieces, self._openings = [], []
        project, wall = self._document.project, self.wall()
        if self._laid is not project:
            self._refused = ()
        self._laid = project
        if project is None or wall is None:
            return
        layout = layout_in(project, wall)
        starts = self._starts(wall)
        storeys = [project.storey_by_name[name] for name in wall.storeys]
        top = storeys[0].level
        base = storeys[-1].level - storeys[-1].height
        wide = starts[-1] + wall.lines[-1].length
        across = max(self.width() - LEFT - RIGHT, 10) / wide
        down = max(self.height() - TOP - BELOW, 10) / (top - base)
        scale = min(across, down)
        x0 = LEFT + max((self.width() - LEFT - RIGHT - scale * wide) / 2, 0)
        y0 = TOP + max((self.height() - TOP - BELOW - scale * (top - base)) / 2, 0)
        self._scale, self._x, self._y, self._top = scale, x0, y0, top
        levels = {storey.name: (storey.level, storey.height) for storey in storeys}
        self._panels(layout, starts, levels)
        for beam in layout.beams:
            level, height = levels[beam.storey]
            left = starts[beam.line] + beam.start
            upper = level + beam.above
            area = self._rect(left, upper, beam.end - beam.start, beam.depth)
            self._pieces.append(_Piece(LiftKey(beam.mark, beam.storey), area, True))
            sill = level - height + beam.opening.sill
            head = sill + beam.opening.height
            self._openings.append(self._rect(left, head, beam.opening.width, beam.opening.height))

    def _panels(
        self,
        layout: WallLayout,
        starts: list[float],
        levels: dict[str, tuple[float, float]],
    ) -> None:
        for panel in layout.panels:
            level, height = levels[panel.storey]
            for stretch in panel.stretches:
                left = starts[stretch.line] + stretch.start
                area = self._rect(left, level, stretch.end - stretch.start, height)
                self._pieces.append(_Piece(LiftKey(panel.mark, panel.storey), area, False))

    @staticmethod
    def _starts(wall: Wall) -> list[float]:
        """Return where each straight wall begins beside those before it, m."""
        starts, at = [], 0.0
        for line in wall.lines:
            starts.append(at)
            at += line.length + GAP
        return starts

    def _rect(self, left: float, upper: float, width: float, height: float) -> QRectF:
        s = self._scale
        return QRectF(self._x + s * left, self._y + s * (self._top - upper), s * width, s * height)

    def members(self) -> list[LiftKey]:
        """Return the members of the wall, those of the highest storey first."""
        self._follow()
        return list(dict.fromkeys(piece.key for piece in self._pieces))

    def area_of(self, key: LiftKey) -> QRectF | None:
        """Return where a member is drawn: of a panel its widest stretch."""
        areas = [piece.area for piece in self._pieces if piece.key == key]
        return max(areas, key=lambda area: area.width(), default=None)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the wall, or say how one is made."""
        self._follow()
        painter, theme = QPainter(self), current_theme()
        painter.fillRect(self.rect(), QColor(theme.panel))
        project, wall = self._document.project, self.wall()
        if project is None or wall is None:
            painter.setPen(QColor(theme.secondary))
            painter.setFont(font(12))
            painter.drawText(
                self.rect(),
                Qt.AlignmentFlag.AlignCenter,
                "No wall here yet. Type its name and line above, as W1: 0 0, 5 0 / 300",
            )
            painter.end()
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._storeys(painter, theme, project, wall)
        for piece in self._pieces:
            self._concrete(painter, theme, piece)
        self._ends(painter, theme)
        for area in self._openings:
            painter.fillRect(area, QColor(theme.paper))
            painter.setPen(QPen(QColor(theme.hairline), 1))
            painter.drawRect(area)
            painter.drawLine(area.topLeft(), area.bottomRight())
            painter.drawLine(area.topRight(), area.bottomLeft())
        for key in self.members():
            widest = self.area_of(key)
            if widest is not None:
                self._told(painter, theme, project, key, widest)
        self._frame(painter, theme)
        painter.setPen(QPen(QColor(theme.exceeded), 2, Qt.PenStyle.DashLine))
        for area in self.refused_areas():
            painter.drawRect(area)
        painter.end()

    def _storeys(self, painter: QPainter, theme: Theme, project: Project, wall: Wall) -> None:
        system = project.basis.system
        painter.setFont(font(11))
        for name in wall.storeys:
            storey = project.storey_by_name[name]
            for level in (storey.level, storey.level - storey.height):
                y = self._y + self._scale * (self._top - level)
                painter.setPen(QPen(QColor(theme.hairline), 1))
                painter.drawLine(QPointF(6, y), QPointF(self.width() - 6, y))
            middle = self._y + self._scale * (self._top - storey.level + storey.height / 2)
            painter.setPen(QColor(theme.secondary))
            painter.drawText(QRectF(8, middle - 9, LEFT - 14, 18), 0x84, name)
        painter.setFont(font(10))
        for number, (start, line) in enumerate(zip(self._starts(wall), wall.lines, strict=True), 1):
            area = self._rect(start, self._top, line.length, 0.0)
            told = f"{number} · {write_metres(line.length, system, 2)}"
            room = QRectF(area.left() - 30, 6, area.width() + 60, 16)
            painter.drawText(room, Qt.AlignmentFlag.AlignCenter, told)

    def _concrete(self, painter: QPainter, theme: Theme, piece: _Piece) -> None:
        result = self._document.results.get(piece.key)
        colour = QColor(theme.concrete)
        if piece.beam:
            colour = mixed(theme.concrete, theme.secondary, 0.16)
        if result is not None and result.state is State.EXCEEDED:
            colour = mixed(theme.concrete, theme.exceeded, 0.22)
        painter.fillRect(piece.area, colour)
        painter.setPen(QPen(QColor(theme.secondary), 0.8))
        painter.drawRect(piece.area)

    def _ends(self, painter: QPainter, theme: Theme) -> None:
        """Shade the ends of panels that have bars with hoops of their own."""
        tint = QColor(theme.capacity)
        tint.setAlpha(46)
        for piece in self._pieces:
            result = self._document.results.get(piece.key)
            panel = None if result is None else result.lift.facts.panel
            if panel is None or panel.hoops is None or piece.beam:
                continue
            same = [one for one in self._pieces if one.key == piece.key]
            leg = same.index(piece)
            for end in panel.ends:
                if end.leg != leg:
                    continue
                width = min(self._scale * end.length / 1e3, piece.area.width())
                left = piece.area.right() - width if end.end else piece.area.left()
                painter.fillRect(QRectF(left, piece.area.top(), width, piece.area.height()), tint)

    def _told(
        self,
        painter: QPainter,
        theme: Theme,
        project: Project,
        key: LiftKey,
        area: QRectF,
    ) -> None:
        result = self._document.results.get(key)
        if area.height() < LOW or area.width() < 14:
            return
        middle = area.center()
        state = State.NOT_CHECKED if result is None else result.state
        if area.width() < NARROW:
            paint_glyph(painter, state, middle, 9, theme)
            return
        ratio = "" if result is None else _ratio(result)
        lines = self._lines(project, key, result, area)
        step = 13.0
        top = middle.y() - step * (1 + len(lines)) / 2
        width = 14 + 7 * len(ratio)
        left = middle.x() - width / 2
        paint_glyph(painter, state, QPointF(left + 5, top + step / 2), 9, theme)
        painter.setFont(font(11, 600))
        painter.setPen(theme.state(state) if state > State.SATISFIED else QColor(theme.ink))
        painter.drawText(QRectF(left + 13, top, width, step), 0x81, ratio)
        painter.setFont(font(9))
        painter.setPen(QColor(theme.secondary))
        for number, text in enumerate(lines, 1):
            room = area.width() - 6
            shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(room))
            painter.drawText(
                QRectF(area.left() + 3, top + step * number, room, step),
                Qt.AlignmentFlag.AlignCenter,
                shown,
            )

    def _lines(
        self, project: Project, key: LiftKey, result: LiftResult | None, area: QRectF
    ) -> list[str]:
        """Return what else stands in a member, as far as there is room."""
        lines = []
        if result is not None:
            lines.append(result.governing.short)
        section = project.by_key[key].section
        if section.diagonals is not None:
            lines.append(f"2 × {section.diagonals.bars}")
        lines += section.bars.replace(" each face", " EF").replace(" each end", " EE").split(" + ")
        lines.append(section.ties)
        if key in self.required:
            lines.insert(0, self.required[key])
        room = int((area.height() - 16) // 13)
        return lines[: max(room, 0)] if area.width() > 70 else lines[: min(max(room, 0), 1)]

    def _frame(self, painter: QPainter, theme: Theme) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(theme.capacity), 2.2))
        for piece in self._pieces:
            if piece.key == self.chosen:
                painter.drawRect(piece.area)

    def _at(self, place: QPointF) -> LiftKey | None:
        self._follow()
        # Beams lie over the panels that they reach into.
        found = [piece.key for piece in self._pieces if piece.area.contains(place)]
        return found[-1] if found else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Tell the verdict of what is under the pointer."""
        assert event is not None
        key, project = self._at(event.position()), self._document.project
        if key is None or project is None:
            self.setToolTip("")
            self.unsetCursor()
            return
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        result = self._document.results.get(key)
        told = UNCHECKED[self._document.busy]
        if result is not None:
            told = verdict_of(result, project.basis.system)
        self.setToolTip(tip_text(f"{key}\n{told}"))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Pick what is clicked."""
        assert event is not None
        key = self._at(event.position())
        if key is not None:
            self.choose(key)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Open what is clicked twice."""
        assert event is not None
        key = self._at(event.position())
        if key is not None:
            self.opened.emit(key)

    def choose(self, key: LiftKey) -> None:
        """Pick a member."""
        self.chosen = key
        self.update()
        self.picked.emit(key)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Go to the next member by the arrows; Return opens it."""
        assert event is not None
        steps = {
            Qt.Key.Key_Left: (-1, 0),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Up: (0, -1),
            Qt.Key.Key_Down: (0, 1),
        }
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.chosen is not None:
            self.opened.emit(self.chosen)
        elif event.key() in steps:
            self._step(*steps[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)

    def _step(self, across: int, down: int) -> None:
        members = self.members()
        if not members:
            return
        here = None if self.chosen is None else self.area_of(self.chosen)
        if here is None:
            self.choose(members[0])
            return

        def away(key: LiftKey) -> float:
            area = self.area_of(key)
            assert area is not None
            assert here is not None
            dx, dy = area.center().x() - here.center().x(), area.center().y() - here.center().y()
            ahead = dx * across + dy * down
            aside = abs(dx * down) + abs(dy * across)
            return ahead + 3 * aside if ahead > 2 else math.inf

        nearest = min(members, key=away)
        if math.isfinite(away(nearest)):
            self.choose(nearest)


def _ratio(result: LiftResult) -> str:
    value = result.shown_ratio
    return "" if math.isnan(value) else format_number(value, 2)
