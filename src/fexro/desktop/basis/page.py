"""Qt view for the basis stage: its sections in two columns."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from fexro.desktop.basis.bars import BarsSection
from fexro.desktop.basis.differences import DifferencesSection
from fexro.desktop.basis.materials import MaterialsSection
from fexro.desktop.basis.values import CodeSection, DirectionsSection, ValuesSection
from fexro.desktop.document import Document
from fexro.desktop.text import Label
from fexro.project.column import LiftKey

__all__ = ["BasisPage"]

LEFT = 430  # px, of the first column


class BasisPage(QWidget):
    """What the whole project rests on."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("page")
        self._document = document
        self.code, self.values = CodeSection(document), ValuesSection(document)
        self.directions = DirectionsSection(document)
        self.concretes = MaterialsSection(document, "concrete")
        self.steels = MaterialsSection(document, "steel")
        self.bars, self.differences = BarsSection(document), DifferencesSection(document)
        self.differences.opened.connect(self.opened)
        content = QWidget()
        content.setObjectName("content")
        left, right = QVBoxLayout(), QVBoxLayout()
        left_sections: tuple[tuple[str, QWidget], ...] = (
            ("Project and design code", self.code),
            ("Every lift, unless it differs", self.values),
            ("Directions of the building", self.directions),
            ("Where lifts differ", self.differences),
        )
        for title, section in left_sections:
            left.addWidget(_framed(title, section))
        right_sections: tuple[tuple[str, QWidget], ...] = (
            ("Concretes", self.concretes),
            ("Steels of bars", self.steels),
            ("Bar sizes on offer", self.bars),
        )
        for title, section in right_sections:
            right.addWidget(_framed(title, section))
        row = QHBoxLayout(content)
        row.setContentsMargins(24, 18, 24, 18)
        row.setSpacing(18)
        for column in (left, right):
            column.setSpacing(14)
            column.addStretch(1)
        first = QWidget()
        first.setFixedWidth(LEFT)
        left.setContentsMargins(0, 0, 0, 0)
        first.setLayout(left)
        row.addWidget(first)
        row.addLayout(right, 1)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setWidget(content)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.area)
        document.opened.connect(self.refresh)
        document.edited.connect(lambda _: self.refresh())

    def refresh(self) -> None:
        """Show the basis as it is; nothing is done while the page is hidden."""
        project = self._document.project
        if project is not None and self.isVisible():
            for section in (
                *(self.code, self.values, self.directions, self.differences),
                *(self.concretes, self.steels, self.bars),
            ):
                section.show_project(project)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Show what happened while it was hidden."""
        super().showEvent(event)
        self.refresh()


def _framed(title: str, section: QWidget) -> QFrame:
    frame = QFrame()
    frame.setObjectName("card")
    heading = Label(title)
    heading.setProperty("role", "heading")
    column = QVBoxLayout(frame)
    column.setContentsMargins(16, 12, 16, 14)
    column.setSpacing(8)
    column.addWidget(heading)
    column.addWidget(section)
    return frame
