"""Qt view for the corners of a free outline: typed, pasted, added and taken out."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QHeaderView, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, parse_quantity, unit_of
from fexro.desktop.drawing import write_length
from fexro.desktop.form import command_row
from fexro.desktop.text import Label
from fexro.exchange.coordinates import outline_text, read_outline
from fexro.project.edits.outlines import add_corner, move_corner, remove_corner, with_outline
from fexro.project.section import SectionModel
from fexro.project.shapes import PolygonShape

__all__ = ["OutlinePanel"]

COMMANDS = (("add", "Add"), ("remove", "Remove"), ("paste", "Paste"), ("copy", "Copy"))
FIELDS = ("x", "y", "rise")
ROW = 23  # px


class _Corners(QTableWidget):
    """The table of corners; what a spreadsheet has put on the clipboard can be pasted."""

    pasted = pyqtSignal()
    copied = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.matches(QKeySequence.StandardKey.Paste):
            self.pasted.emit()
        elif event is not None and event.matches(QKeySequence.StandardKey.Copy):
            self.copied.emit()
        else:
            super().keyPressEvent(event)


class OutlinePanel(QWidget):
    """Corners of the outer edge, with the rise of the arc to the next one.

    Args:
        take: takes a section, with what was done, or refuses it.
    """

    refused = pyqtSignal(str)

    def __init__(self, take: Callable[[SectionModel, str], None]) -> None:
        super().__init__()
        self._take = take
        self._section: SectionModel | None = None
        self._system = UnitSystem.SI
        self.corners = _Corners(0, 3)
        self.corners.setAccessibleName("Corners of the outline")
        self.corners.setShowGrid(False)
        rows, head = self.corners.verticalHeader(), self.corners.horizontalHeader()
        assert rows is not None
        assert head is not None
        rows.setDefaultSectionSize(ROW)
        head.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.corners.cellChanged.connect(self._edit)
        self.corners.pasted.connect(lambda: self.run("paste"))
        self.corners.copied.connect(lambda: self.run("copy"))
        note = Label(
            "An arc bulges outwards by its rise. Pasted are x and y a line, rings apart by an"
            " empty one: the outline, then openings."
        )
        note.setProperty("role", "quiet")
        note.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.corners, 1)
        layout.addLayout(command_row(COMMANDS, self.run))
        layout.addWidget(note)

    def show_section(self, section: SectionModel, system: UnitSystem) -> None:
        """Show the corners of a free outline."""
        self._section, self._system = section, system
        shape = section.shape
        if not isinstance(shape, PolygonShape):
            return
        table = self.corners
        unit = unit_of(Dimension.LENGTH, system).symbol
        table.blockSignals(True)
        table.setHorizontalHeaderLabels([f"x, {unit}", f"y, {unit}", f"arc, {unit}"])
        table.setRowCount(len(shape.outer))
        for i, (x, y) in enumerate(shape.outer):
            u, v = shape.outer[(i + 1) % len(shape.outer)]
            bulge = shape.bulges[i] if shape.bulges else 0.0
            rise = bulge * ((u - x) ** 2 + (v - y) ** 2) ** 0.5 / 2
            texts = (write_length(x, system), write_length(y, system))
            for column, text in enumerate((*texts, write_length(rise, system) if bulge else "")):
                item = QTableWidgetItem(text)
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                table.setItem(i, column, item)
        table.blockSignals(False)

    def run(self, command: str) -> None:
        """Do something with the corners."""
        section, row = self._section, max(self.corners.currentRow(), 0)
        if section is None or not isinstance(section.shape, PolygonShape):
            return
        clipboard = QGuiApplication.clipboard()
        assert clipboard is not None
        try:
            match command:
                case "add":
                    (x, y), outer = section.shape.outer[row], section.shape.outer
                    u, v = outer[(row + 1) % len(outer)]
                    self._take(add_corner(section, row, (x + u) / 2, (y + v) / 2), "Corner")
                    self.corners.setCurrentCell(row + 1, 0)
                case "remove":
                    self._take(remove_corner(section, row), "Corner taken out")
                case "paste":
                    rings = read_outline(clipboard.text(), self._system)
                    self._take(with_outline(section, rings), "Outline pasted")
                case "copy":
                    clipboard.setText(outline_text(section.shape, self._system))
        except InputError as error:
            self.refused.emit(str(error))

    def _edit(self, row: int, column: int) -> None:
        section, item = self._section, self.corners.item(row, column)
        if section is None or item is None:
            return
        field = FIELDS[column]
        try:
            text = item.text().replace("−", "-") or "0"
            value = parse_quantity(text, Dimension.LENGTH, self._system, f"corner {row + 1}")
            self._take(move_corner(section, row, **{field: value}), "Corner")
        except InputError as error:
            self.show_section(section, self._system)
            self.refused.emit(str(error))
