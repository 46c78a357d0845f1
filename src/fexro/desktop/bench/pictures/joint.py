"""Qt view for the joint above a lift: its columns against the beams framing in."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPainterPath, QPen, QPolygonF

from fexro.core.findings import State
from fexro.core.joints import JointVerdict, Settling
from fexro.core.quantities import (
    Dimension,
    UnitSystem,
    format_number,
    format_quantity,
    format_significant,
    unit_of,
)
from fexro.desktop.bench.pictures.drawn import DrawnPicture
from fexro.desktop.bench.pictures.shown import Shown
from fexro.desktop.drawing import paint_glyph
from fexro.desktop.theme import Theme, current_theme, font
from fexro.exchange.curves import Table

__all__ = ["JointView"]

FLAGS = Qt.AlignmentFlag
COLUMN, BEAM = 34.0, 30.0  # px, of the stubs
REACH = 118.0  # px, of the stubs from the middle, at most
ARC, HEAD = 30.0, 7.0  # px, of a moment and its arrow head
NOTHING = (
    "Columns are set against beams in frames of more than low ductility,\n"
    "where the beams framing in have bars or moments (Stability, Beams framing in)."
)


class JointView(DrawnPicture):
    """The joint above the lift in the worse sense of each direction, with the moments on it."""

    name = "Joint"

    def __init__(self) -> None:
        super().__init__("Joint above the lift with its moments", 0.0, 0.0)
        self._verdicts: tuple[JointVerdict, ...] = ()
        self._settled: dict[int, Settling] = {}
        self._moment, self._system = 1.0, UnitSystem.SI

    def show_shown(self, shown: Shown, *, refit: bool) -> None:
        """Show the joint above a lift."""
        self._moment, self._system = shown.moment, shown.system
        lift = shown.result.lift
        self._verdicts = tuple(lift.code.joints(lift.facts, shown.result.prepared.context))
        self._settled = {}
        self.update()

    @property
    def worst(self) -> list[JointVerdict]:
        """The worse sense of each direction that is known."""
        axes = sorted({one.joint.axis for one in self._verdicts})
        return [
            min((v for v in self._verdicts if v.joint.axis == axis), key=lambda v: v.joint.ratio)
            for axis in axes
        ]

    def caption(self, shown: Shown) -> str:
        """Return how it stands in each direction."""
        parts = [
            f"sway to {v.joint.name}: columns {format_significant(v.joint.ratio, 3)} of the beams,"
            f" {v.required:g} {'required' if not v.exempt else 'not asked for here'}"
            for v in self.worst
        ]
        if not parts:
            return ""
        text = "; ".join(parts)
        return f"{text[0].upper()}{text[1:]}. Least moments of the columns over their axial forces."

    def table(self, shown: Shown) -> Table | None:
        """Return the moments of all members in each direction and sense."""
        if not self._verdicts:
            return None
        unit = unit_of(Dimension.MOMENT, shown.system).symbol
        rows = [
            (v.joint.name, name, f"{moment / self._moment:.6g}", f"{v.joint.ratio:.6g}")
            for v in self._verdicts
            for name, moment in _members(v)
        ]
        return Table(("sway to", "member", f"moment, {unit}", "columns over beams"), tuple(rows))

    def missing(self) -> str:
        """Return why nothing can be painted; empty where it can."""
        return "" if self._verdicts else NOTHING

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Leave it: all numbers stand in the picture."""

    def draw(self, painter: QPainter, area: QRectF) -> None:
        """Paint each direction beside the other."""
        shown = self.worst
        width = area.width() / len(shown)
        for number, verdict in enumerate(shown):
            left = area.left() + number * width
            self._draw_joint(painter, QRectF(left, area.top(), width, area.height()), verdict)

    def _draw_joint(self, painter: QPainter, area: QRectF, verdict: JointVerdict) -> None:
        theme, joint = current_theme(), verdict.joint
        self._draw_head(painter, area, verdict, theme)
        middle = QPointF(area.center().x(), area.top() + 66 + (area.height() - 150) / 2)
        reach = min(REACH, area.width() / 2 - 74, (area.height() - 190) / 2)
        above = len(joint.columns) > 1
        outline = QPen(QColor(theme.secondary), 1.2)
        painter.setPen(outline)
        painter.setBrush(QColor(theme.concrete))
        top = -reach if above else -BEAM / 2
        painter.drawRect(QRectF(middle.x() - COLUMN / 2, middle.y() + top, COLUMN, reach - top))
        for side in joint.sides:
            far = middle.x() + side * (COLUMN / 2 + reach)
            near = middle.x() + side * COLUMN / 2
            painter.drawRect(QRectF(near, middle.y() - BEAM / 2, far - near, BEAM).normalized())
        # Sway to the right turns the joint clockwise: columns are turned against the beams.
        clockwise = joint.sense > 0
        moments = [value / self._moment for value in joint.columns]
        places = [QPointF(0, reach * 0.62), QPointF(0, -reach * 0.62)]
        for moment, place in zip(moments, places, strict=False):
            at, ink = middle + place, QColor(theme.capacity)
            _arc(painter, at, ARC * 0.62, ink, clockwise=clockwise)
            box = QRectF(at.x() + COLUMN / 2 + 8, at.y() - 9, 96, 18)
            self._number(painter, box, moment, ink, FLAGS.AlignLeft)
        for side, moment in zip(joint.sides, joint.beams, strict=True):
            at = middle + QPointF(side * (COLUMN / 2 + reach * 0.55), 0)
            ink = QColor(theme.ink)
            _arc(painter, at, ARC * 0.62, ink, clockwise=not clockwise)
            box = QRectF(at.x() - 60, at.y() + BEAM / 2 + 8, 120, 18)
            self._number(painter, box, moment / self._moment, ink, FLAGS.AlignHCenter)
            bending = "sagging" if side == joint.sense else "hogging"
            painter.setFont(font(10))
            painter.setPen(QColor(theme.secondary))
            painter.drawText(box.translated(0, 15), FLAGS.AlignHCenter, bending)
        self._draw_sums(painter, area, verdict, theme)

    def _number(
        self, painter: QPainter, box: QRectF, value: float, ink: QColor, flag: FLAGS
    ) -> None:
        painter.setFont(font(12, 600))
        painter.setPen(ink)
        painter.drawText(box, flag | FLAGS.AlignVCenter, _written(value))

    def _draw_head(
        self, painter: QPainter, area: QRectF, verdict: JointVerdict, theme: Theme
    ) -> None:
        joint, axis = verdict.joint, "xy"[verdict.joint.axis]
        state = State.SATISFIED if verdict.met else State.EXCEEDED
        left = area.left() + 16
        paint_glyph(painter, state, QPointF(left + 6, area.top() + 20), 10, theme)
        painter.setFont(font(12, 600))
        painter.setPen(QColor(theme.ink))
        line = QRectF(left + 20, area.top() + 11, area.width() - 32, 18)
        painter.drawText(line, FLAGS.AlignLeft, f"Frame along {axis}, sway to {joint.name}")
        others = [
            f"{v.joint.name} {v.joint.ratio:.2f}"
            for v in self._verdicts
            if v.joint.axis == joint.axis and v is not verdict
        ]
        painter.setFont(font(11))
        painter.setPen(QColor(theme.secondary))
        unit = unit_of(Dimension.MOMENT, self._system).symbol
        told = f"{unit} · {verdict.clause} · to {', '.join(others)}"
        painter.drawText(line.translated(0, 17), FLAGS.AlignLeft, told)
        _sway(painter, QPointF(area.center().x(), area.top() + 58), joint.sense, theme)

    def _draw_sums(
        self, painter: QPainter, area: QRectF, verdict: JointVerdict, theme: Theme
    ) -> None:
        """Write the sums, their ratio, and what would settle it."""
        joint = verdict.joint
        columns, beams = (_written(sum(v) / self._moment) for v in (joint.columns, joint.beams))
        line = QRectF(area.left() + 12, area.bottom() - 74, area.width() - 24, 18)
        painter.setFont(font(12, 600))
        painter.setPen(QColor(theme.ink))
        sign = "≥" if joint.ratio >= verdict.required else "<"
        text = f"{columns} / {beams} = {joint.ratio:.2f} {sign} {verdict.required:g}"
        painter.drawText(line, FLAGS.AlignHCenter, text)
        painter.setFont(font(11))
        painter.setPen(QColor(theme.secondary))
        below = QRectF(line.left(), line.bottom() + 2, line.width(), 50)
        told = self._told(verdict)
        painter.drawText(below, int(FLAGS.AlignHCenter) | int(Qt.TextFlag.TextWordWrap), told)

    def _told(self, verdict: JointVerdict) -> str:
        if verdict.exempt:
            return verdict.exempt
        if verdict.met:
            return "The columns are strong enough."
        axis = verdict.joint.axis
        if axis not in self._settled:
            self._settled[axis] = verdict.settle()
        found, ways = self._settled[axis], []
        if found.bar_area is not None:
            area = format_quantity(found.bar_area, Dimension.AREA, self._system)
            ways.append(f"with {area} of bars in this lift")
        if found.depth is not None:
            depth = format_quantity(found.depth, Dimension.LENGTH, self._system)
            ways.append(f"with this lift {depth} deep along {'xy'[axis]}")
        if not ways:
            return "Neither more bars nor a deeper section of this lift alone settle it."
        return f"Settled {', or '.join(ways)}."


def _members(verdict: JointVerdict) -> list[tuple[str, float]]:
    joint, axis = verdict.joint, "xy"[verdict.joint.axis]
    rows = list(zip(("this lift", "the lift above"), joint.columns, strict=False))
    for side, moment in zip(joint.sides, joint.beams, strict=True):
        rows.append((f"beam {'+' if side > 0 else '−'}{axis}", moment))
    return rows


def _written(value: float) -> str:
    return format_number(value, 0) if abs(value) >= 100 else format_significant(value, 3)


def _arc(painter: QPainter, at: QPointF, radius: float, ink: QColor, *, clockwise: bool) -> None:
    """Draw a moment as three quarters of a circle with a head."""
    box = QRectF(at.x() - radius, at.y() - radius, 2 * radius, 2 * radius)
    path = QPainterPath()
    # Angles of Qt are anticlockwise from the right.
    start, sweep = (225.0, -270.0) if clockwise else (-45.0, 270.0)
    path.arcMoveTo(box, start)
    path.arcTo(box, start, sweep)
    painter.setPen(QPen(ink, 2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)
    end = math.radians(start + sweep)
    tip = QPointF(at.x() + radius * math.cos(end), at.y() - radius * math.sin(end))
    turn = end + (-math.pi / 2 if clockwise else math.pi / 2)
    _head(painter, tip, turn, ink)


def _head(painter: QPainter, tip: QPointF, direction: float, ink: QColor) -> None:
    """Draw the head of an arrow; its direction is in radians anticlockwise from the right."""
    along = QPointF(math.cos(direction), -math.sin(direction))
    across = QPointF(-along.y(), along.x())
    points: Sequence[QPointF] = (
        tip + along * HEAD,
        tip + across * HEAD * 0.6,
        tip - across * HEAD * 0.6,
    )
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(ink)
    painter.drawPolygon(QPolygonF(points))


def _sway(painter: QPainter, at: QPointF, sense: int, theme: Theme) -> None:
    """Draw which way the frame sways."""
    ink, half = QColor(theme.secondary), 22.0
    painter.setPen(QPen(ink, 1.6))
    painter.drawLine(QPointF(at.x() - half, at.y()), QPointF(at.x() + half, at.y()))
    _head(painter, QPointF(at.x() + sense * half, at.y()), 0.0 if sense > 0 else math.pi, ink)
