"""Qt view for beams and slab strips that frame into stacks, floor by floor."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from fexro.core.errors import InputError
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension, UnitSystem, format_quantity, parse_quantity
from fexro.core.section.call_out import canonical
from fexro.desktop.cells import CHOICES, EditingModel, EditingView, aligned
from fexro.desktop.derivation_view import DerivationView
from fexro.desktop.document import Document
from fexro.desktop.layouts import clear_layout
from fexro.desktop.lengths import read_metres, write_metres
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme, font
from fexro.project.bars import sizes_by_name
from fexro.project.column import LiftKey
from fexro.project.edits.stability import add_beams, change_beams, copy_beams, remove_beams
from fexro.project.framing import FramingBeam
from fexro.project.project import Project

__all__ = ["BeamsModel", "BeamsPage"]

HEADS = (
    *("Side", "Kind", "Width", "Depth", "Span", "Far end", "Cracked", "Concrete"),
    *("Top", "Bottom"),
)
FIELDS = (
    *("side", "kind", "width", "depth", "span", "far_end", "cracked", "concrete"),
    *("top", "bottom"),
)
RESISTS = "Bars next to the column, such as 4 D25 + 2 D20, or the moment with tension {}"
SIDES = ("+x", "-x", "+y", "-y")
TIPS = {
    6: "Share of the gross stiffness that stays; empty takes the code's",
    7: "Empty takes the concrete of the lift below",
    8: RESISTS.format("at the top"),
    9: RESISTS.format("at the bottom"),
}
LIKE_LIFT = "as the lift"


class BeamsModel(EditingModel):
    """Rows are the beams at the floor above one lift."""

    def __init__(self, document: Document) -> None:
        self.key: LiftKey | None = None
        self.rows: list[tuple[int, FramingBeam]] = []
        super().__init__(document)

    def load(self) -> None:
        """Take the beams at the top of the lift."""
        project = self.document.project
        every = () if project is None else project.beams
        self.rows = [(i, beam) for i, beam in enumerate(every) if beam.key == self.key]

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Number of beams."""
        return 0 if parent and parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of columns."""
        return 0 if parent and parent.isValid() else len(HEADS)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return the heading of a column."""
        if orientation == Qt.Orientation.Vertical:
            return None
        if role == Qt.ItemDataRole.ToolTipRole:
            return TIPS.get(section)
        return HEADS[section] if role == Qt.ItemDataRole.DisplayRole else None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return what a cell holds."""
        project = self.document.project
        if not index.isValid() or project is None:
            return None
        beam, field = self.rows[index.row()][1], FIELDS[index.column()]
        if role == CHOICES:
            return {
                "side": list(SIDES),
                "kind": ["beam", "slab"],
                "far_end": ["fixed", "pinned"],
                "concrete": [LIKE_LIFT, *project.concrete_by_name],
            }.get(field)
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(field in ("width", "depth", "span", "cracked"))
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return None
        return _text(beam, field, project.basis.system)

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Let every cell be changed."""
        return super().flags(index) | Qt.ItemFlag.ItemIsEditable

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take what was typed or chosen."""
        project = self.document.project
        assert project is not None
        number, beam = self.rows[index.row()]
        field, text = FIELDS[index.column()], str(value).strip()
        if text == _text(beam, field, project.basis.system):
            return False
        try:
            found = _value(field, text, project)
        except InputError as error:
            self.refused.emit(str(error))
            return False
        label = f"{HEADS[index.column()]} of beam {beam.side} at {beam.key}"
        return self.edit(label, partial(change_beams, numbers=[number], **{field: found}))

    def remove(self, rows: list[int]) -> None:
        """Remove beams."""
        numbers = [self.rows[row][0] for row in rows]
        self.edit(f"Remove beams at {self.key}", partial(remove_beams, numbers=numbers))

    def add(self) -> bool:
        """Add a beam on the next side that has none, like the last."""
        if self.key is None:
            return False
        taken = {beam.side for _, beam in self.rows}
        side = next((side for side in SIDES if side not in taken), SIDES[0])
        fields: dict[str, Any] = {"width": 300.0, "depth": 500.0, "span": 7.0}
        if self.rows:
            last = self.rows[-1][1]
            fields = last.model_dump(include={"width", "depth", "span", "top", "bottom"})
        beam = FramingBeam.model_validate({**self.key._asdict(), "side": side, **fields})
        return self.edit(f"Beam {side} at {self.key}", partial(add_beams, beams=[beam]))


def _text(beam: FramingBeam, field: str, system: UnitSystem) -> str:
    value = getattr(beam, field)
    if field in ("width", "depth"):
        return format_quantity(value, Dimension.LENGTH, system)
    if field == "span":
        return write_metres(value, system)
    if field == "cracked":
        return "" if value is None else f"{value:g}"
    if field == "concrete":
        return value or LIKE_LIFT
    if field in ("top", "bottom"):
        if value is None or isinstance(value, str):
            return value or ""
        return f"{format_quantity(1e6 * value, Dimension.MOMENT, system)}"
    return str(value)


def _value(field: str, text: str, project: Project) -> Any:
    system = project.basis.system
    if field in ("width", "depth"):
        return parse_quantity(text, Dimension.LENGTH, system, field)
    if field == "span":
        return read_metres(text, system, field)
    if field == "cracked":
        if not text:
            return None
        return parse_quantity(text, Dimension.RATIO, system, "cracked share")
    if field == "concrete":
        return None if text in ("", LIKE_LIFT) else text
    if field in ("top", "bottom"):
        return _resists(field, text, project)
    return text


def _resists(field: str, text: str, project: Project) -> str | float | None:
    """Return what a beam resists: bars as a call-out, or a moment, kN·m."""
    if not text:
        return None
    try:
        return 1e-6 * parse_quantity(text, Dimension.MOMENT, project.basis.system, field)
    except InputError:
        pass
    try:
        return canonical(text, field, sizes_by_name(project.basis.bars.own))
    except InputError:
        allowed = "bars such as 4 D25 + 2 D20, or a moment such as 320 kN·m"
        raise InputError(field, f"“{text}”", allowed) from None


class Joint(QWidget):
    """The floor above a lift in plan: the column and what frames into it."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Beams framing in, in plan")
        self.setMinimumSize(QSize(240, 220))
        self._beams: list[FramingBeam] = []
        self._system = UnitSystem.SI

    def show_beams(self, beams: list[FramingBeam], system: UnitSystem) -> None:
        """Show beams."""
        self._beams, self._system = beams, system
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the joint."""
        theme, painter = current_theme(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = QPointF(self.width() / 2, self.height() / 2)
        reach = min(self.width(), self.height()) / 2 - 26
        ways = {"+x": (1, 0), "-x": (-1, 0), "+y": (0, -1), "-y": (0, 1)}
        painter.setFont(font(10))
        for beam in self._beams:
            dx, dy = ways[beam.side]
            half = 7 if beam.kind == "beam" else 16
            far = QPointF(middle.x() + dx * reach, middle.y() + dy * reach)
            across = QPointF(abs(dy) * half, abs(dx) * half)
            painter.setPen(QPen(QColor(theme.secondary), 1))
            painter.setBrush(QColor(theme.track))
            painter.drawPolygon(
                QPolygonF([middle + across, far + across, far - across, middle - across])
            )
            painter.setPen(QPen(QColor(theme.ink), 1.4))
            painter.setBrush(QColor(theme.paper))
            if beam.far_end == "pinned":
                painter.drawEllipse(far, 4, 4)
            else:
                painter.drawLine(far + across * 1.6, far - across * 1.6)
            painter.setPen(QColor(theme.ink))
            size = f"{beam.width:g} × {beam.depth:g}"
            if self._system is UnitSystem.IN_LB:
                size = f"{beam.width / 25.4:.4g} × {beam.depth / 25.4:.4g}"
            told = f"{size}\n{write_metres(beam.span, self._system)}"
            place = QPointF(middle.x() + dx * reach * 0.62, middle.y() + dy * reach * 0.62)
            box = QRectF(place.x() - 50, place.y() - (42 if dx else 15), 100, 30)
            if dy:
                box.translate(58, 0)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, told)
        painter.setPen(QPen(QColor(theme.satisfied), 1.4))
        painter.setBrush(QColor(theme.concrete))
        painter.drawRect(QRectF(middle.x() - 15, middle.y() - 15, 30, 30))
        painter.setPen(QColor(theme.secondary))
        for text, x, y in (("x", reach + 14, 0.0), ("y", 0.0, -reach - 14)):
            box = QRectF(middle.x() + x - 10, middle.y() + y - 8, 20, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
        if not self._beams:
            area = QRectF(self.rect()).adjusted(0, 0, 0, -8)
            flags = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom
            painter.drawText(area, flags, "No beams are given here.")
        painter.end()


class BeamsPage(QWidget):
    """The beams at the floor above one lift, copied from there along a stack or a storey."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.model = BeamsModel(document)
        self.view = EditingView(self.model, "Beams framing in")
        self.view.removed.connect(self.model.remove)
        self.joint, self.lift = Joint(), QComboBox()
        self.lift.setAccessibleName("Floor above the lift")
        self.lift.activated.connect(lambda i: self._show(self.lift.itemData(i)))
        self.add = QPushButton("Add a beam")
        self.along_stack = QPushButton("Copy to the whole stack")
        self.along_storey = QPushButton("Copy to the whole storey")
        self.add.clicked.connect(lambda: self.model.add())
        self.along_stack.clicked.connect(lambda: self._copy(stack=True))
        self.along_storey.clicked.connect(lambda: self._copy(stack=False))
        self.told, self.ends, self.error = Label(), Label(), Label()
        self.told.setProperty("role", "quiet")
        self.told.setWordWrap(True)
        self.told.setText(
            "Beams are at the floor above the lift; they hold its top and the foot of the lift on"
            " it. A flat slab frames in as a strip: choose slab, and its width. Without any given"
            " here an end is not known. Bars at top and bottom, those of the slab within the flange"
            " among them, let the joint be checked in ductile frames."
        )
        self.error.setProperty("role", "error")
        self.error.setWordWrap(True)
        self.error.hide()
        self.model.refused.connect(self._refuse)
        row, below = QHBoxLayout(), QHBoxLayout()
        row.addWidget(self.lift)
        for button in (self.add, self.along_stack, self.along_storey):
            row.addWidget(button)
        row.addStretch(1)
        self._calculation = QVBoxLayout()
        holder, content, left = QScrollArea(), QWidget(), QVBoxLayout()
        content.setObjectName("content")
        content.setLayout(self._calculation)
        holder.setWidgetResizable(True)
        holder.setWidget(content)
        left.addWidget(self.view, 2)
        left.addWidget(holder, 3)
        below.addLayout(left, 3)
        below.addWidget(self.joint, 2)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 4, 16, 10)
        layout.addLayout(row)
        layout.addWidget(self.told)
        layout.addWidget(self.ends)
        layout.addWidget(self.error)
        layout.addLayout(below, 1)

    def refresh(self) -> None:
        """Show the beams of the selected lift as they are."""
        project = self._document.project
        if project is None:
            return
        keys = list(project.by_key)
        if [self.lift.itemData(i) for i in range(self.lift.count())] != keys:
            self.lift.clear()
            for key in keys:
                self.lift.addItem(str(key), key)
        chosen = self._document.selection.lift
        if chosen in project.by_key:
            self.model.key = chosen
        elif self.model.key not in project.by_key:
            self.model.key = keys[0] if keys else None
        self._draw(project)

    def _draw(self, project: Project) -> None:
        key = self.model.key
        keys = [self.lift.itemData(i) for i in range(self.lift.count())]
        self.lift.setCurrentIndex(keys.index(key) if key in keys else 0)
        before = self.model.rowCount()
        self.model.refresh()
        if self.model.rowCount() != before:
            self.view.fit(150)
        self.ends.setText(self._ends(key))
        self._explain(project, key)
        self.joint.show_beams([beam for _, beam in self.model.rows], project.basis.system)
        for button in (self.add, self.along_stack, self.along_storey):
            button.setEnabled(key is not None)

    def _ends(self, key: LiftKey | None) -> str:
        """Return what the ends of the lift come to, as far as they are known."""
        result = None if key is None else self._document.results.get(key)
        if result is None:
            return ""
        parts = []
        for name, axis in zip(("x", "y"), result.second_order.axes, strict=True):
            if axis.missing:
                parts.append(f"about {name} not known")
                continue
            symbol = "ψ" if "psi_top" in axis.values else "k"
            stem = "psi" if symbol == "ψ" else "k"
            ends = [axis.values.get(f"{stem}_{end}") for end in ("top", "bottom")]
            told = " and ".join("–" if end is None else f"{end:.2f}" for end in ends)
            parts.append(
                f"about {name}: {symbol} {told} at top and foot,"
                f" effective length {axis.judged:.2f} of the clear one"
            )
        return f"{key} bends {'; '.join(parts)}."

    def _explain(self, project: Project, key: LiftKey | None) -> None:
        """Show how the effective lengths of the lift follow from what holds its ends."""
        clear_layout(self._calculation)
        result = None if key is None else self._document.results.get(key)
        if result is None:
            return
        stability = project.basis.design_code.stability
        for name, (number, axis) in zip(
            ("x", "y"), enumerate(result.second_order.axes), strict=True
        ):
            heading, record = Label(f"{key}, bending about {name}"), Derivation()
            heading.setProperty("role", "heading")
            stability.explain_length(record, result.lift.facts, number, braced=axis.braced)
            self._calculation.addWidget(heading)
            self._calculation.addWidget(DerivationView(record, project.basis.system))
        self._calculation.addStretch(1)

    def _show(self, key: LiftKey) -> None:
        self.error.hide()
        self.model.key = key
        self._document.selection.select_lift(key)
        self.refresh()

    def _copy(self, *, stack: bool) -> None:
        project, key = self._document.project, self.model.key
        if project is None or key is None:
            return
        alike = 0 if stack else 1
        targets = [other for other in project.by_key if other[alike] == key[alike]]
        where = f"stack {key.mark}" if stack else f"storey {key.storey}"
        edit = partial(copy_beams, source=key, targets=targets)
        self.model.edit(f"Beams of {key} to {where}", edit)

    def _refuse(self, sentence: str) -> None:
        self.error.setText(sentence)
        self.error.show()
